package dev.purser.service;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.catchThrowable;

import dev.purser.core.board.Board;
import dev.purser.core.board.BoardView;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.forecast.Outlook;
import dev.purser.core.forecast.WhatIf;
import dev.purser.core.parameter.Parameters;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.Action;
import dev.purser.core.run.Ending;
import dev.purser.core.run.HoldScope;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunStatus;
import dev.purser.service.action.Actions;
import dev.purser.service.action.Asked;
import dev.purser.service.action.Hold;
import dev.purser.service.action.OnRuns;
import dev.purser.service.action.Refused;
import dev.purser.service.action.Release;
import dev.purser.service.action.Start;
import dev.purser.service.action.TakeBack;
import dev.purser.service.action.Units;
import dev.purser.service.action.Wish;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.service.publish.Publisher;
import dev.purser.service.publish.Withdrawing;
import dev.purser.service.run.RunRecords;
import dev.purser.service.run.RunRow;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CompletionException;
import java.util.concurrent.CopyOnWriteArrayList;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.boot.test.context.TestConfiguration;
import org.springframework.context.event.EventListener;
import org.springframework.test.context.DynamicPropertyRegistry;
import org.springframework.test.context.DynamicPropertySource;

/** What people do, on a real database; each time also after the service has started anew. */
class PeopleActTest extends OnDatabase {
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");

  @Autowired private Engine engine;
  @Autowired private Publisher publisher;
  @Autowired private Withdrawing withdrawing;
  @Autowired private PlanKeeper plan;
  @Autowired private RunRecords runs;
  @Autowired private Actions actions;
  @Autowired private AuditTrail audit;
  @Autowired private Recorder recorder;

  /** Takes down what the board is told and what it says. */
  @TestConfiguration
  static class Recorder {
    final List<BoardEvent> events = new CopyOnWriteArrayList<>();
    final List<Instruction> instructions = new CopyOnWriteArrayList<>();

    @EventListener
    void committed(Engine.Committed committed) {
      events.addAll(committed.events());
      instructions.addAll(committed.instructions());
    }
  }

  @DynamicPropertySource
  static void environment(DynamicPropertyRegistry registry) {
    registry.add("purser.environment", () -> "test");
  }

  @BeforeEach
  void connect() {
    engine.tell(now -> new BoardEvent.HostSeen(now, "pier", Set.of())).join();
  }

  @AfterEach
  void letAllGo() {
    engine
        .look(board -> List.copyOf(board.holds().keySet()))
        .forEach(scope -> actions.act(new Release(scope), IDA, ""));
  }

  private void publish(String... texts) {
    List<SourceFile> files = new ArrayList<>();
    files.add(new SourceFile("host.yaml", "host: pier\n"));
    for (String text : texts) {
      files.add(new SourceFile("test.yaml", text));
    }
    Publisher.Outcome outcome = publisher.publish(files, Optional.empty(), IDA, "test");
    assertThat(outcome.sound()).as(outcome.problems().toString()).isTrue();
  }

  /** As after a kill: whatever was known only in memory is gone. */
  private void startAnew() {
    engine.stop();
    engine.start();
    connect();
  }

  private List<Long> start(String stream) {
    return actions.start(
        Start.of(stream, Optional.empty(), plan.today()), Optional.empty(), IDA, "");
  }

  private RunRow row(long id) {
    return runs.byId(id).orElseThrow();
  }

  private List<RunRow> of(String stream) {
    return runs.ofStream(stream, plan.today(), plan.today());
  }

  private RunStatus status(long id) {
    return engine.look(board -> board.status(id).orElseThrow());
  }

  private void end(long id, int code, Map<String, String> values) {
    int attempt = status(id).attempts();
    engine.tell(now -> new BoardEvent.AttemptBegan(now, id, attempt)).join();
    engine
        .tell(
            now -> new BoardEvent.AttemptEnded(now, id, attempt, Ending.exited(code), now, values))
        .join();
  }

  /** A kind of wish of its own, in one class and in no file of the service: it skips a stream. */
  private record SkipAll(String stream) implements Wish {
    @Override
    public String action() {
      return "skip all";
    }

    @Override
    public String about() {
      return stream;
    }

    @Override
    public void check(Asked asked) {
      if (events(asked).isEmpty()) {
        throw new dev.purser.core.problem.NotUnderstood("nothing of " + stream + " is planned");
      }
    }

    @Override
    public List<BoardEvent> events(Asked asked) {
      return asked.board().runs().stream()
          .filter(run -> run.run().reference().stream().equals(stream))
          .<BoardEvent>map(
              run ->
                  new BoardEvent.PersonActed(
                      asked.now(), run.id(), Action.SKIP, asked.actor().name(), asked.reason()))
          .toList();
    }
  }

  @Test
  void aWishOfItsOwnIsDoneAndLookedAheadAtLikeAnyOther() {
    publish("stream: people/wish\njobs: { a: { host: gone, run: x } }\n---\nhost: gone\n");
    long id = start("people/wish").get(0);
    assertThat(actions.whatIf(new SkipAll("people/wish"), IDA).sentences().get(0))
        .contains("goes from waiting to skipped");
    actions.act(new SkipAll("people/wish"), IDA, "storm");
    assertThat(status(id).state().word()).isEqualTo("skipped");
    assertThat(audit.list("people/wish", Long.MAX_VALUE, 5))
        .anySatisfy(row -> assertThat(row.what).isEqualTo("skip all"));
  }

  /** What cannot be done cannot be looked ahead at either, and for the same reason. */
  @Test
  void doingAndLookingAheadRefuseAlike() {
    HoldScope unknown = new HoldScope(HoldScope.Kind.STREAM, "people/nowhere");
    for (Wish wish :
        List.of(
            new Hold(unknown),
            new Release(new HoldScope(HoldScope.Kind.STREAM, "people/never-held")),
            new Units("no-such-capacity", 3),
            new TakeBack("pier"),
            new SkipAll("people/nowhere"))) {
      Throwable ahead = catchThrowable(() -> actions.whatIf(wish, IDA));
      Throwable done = catchThrowable(() -> actions.act(wish, IDA, ""));
      assertThat(ahead).as(wish.toString()).isNotNull();
      assertThat(done.getCause()).hasSameClassAs(ahead).hasMessage(ahead.getMessage());
    }
  }

  @Test
  void aStreamIsHeldUntilItIsReleasedEvenOverANewStart() {
    publish("stream: people/held\njobs: { a: { host: pier, run: x } }\n");
    HoldScope scope = new HoldScope(HoldScope.Kind.STREAM, "people/held");
    actions.act(new Hold(scope), IDA, "works on the quay");
    long id = start("people/held").get(0);
    startAnew();
    assertThat(status(id).state().word()).isEqualTo("waiting");
    assertThat(engine.<String>look(board -> board.heldBy(id)))
        .isEqualTo("held with the stream people/held, which was held by ida: works on the quay");
    assertThatThrownBy(() -> actions.act(new Hold(scope), IDA, ""))
        .hasCauseInstanceOf(Refused.class)
        .hasMessageContaining("already held by ida");
    assertThatThrownBy(
            () ->
                actions.act(new Hold(new HoldScope(HoldScope.Kind.STREAM, "people/hold")), IDA, ""))
        .isInstanceOf(CompletionException.class)
        .hasMessageContaining("did you mean \"people/held\"");
    actions.act(new Release(scope), IDA, "done");
    assertThat(status(id).state().word()).isEqualTo("starting");
    assertThat(audit.list("stream people/held", Long.MAX_VALUE, 10))
        .extracting(entry -> entry.what + ": " + entry.reason)
        .contains("release: done", "hold: works on the quay");
  }

  @Test
  void unitsThatAPersonSetStayOverANewStart() {
    publish(
        "capacity: berths\nunits: 1\n",
        "stream: people/berths\njobs:\n  a: { host: pier, run: x, takes: { berths: 1 } }\n"
            + "  b: { host: pier, run: x, takes: { berths: 1 } }\n");
    List<Long> ids = start("people/berths");
    assertThat(status(ids.get(1)).state().word()).isEqualTo("waiting");
    actions.act(new Units("berths", 0), IDA, "storm");
    end(ids.get(0), 0, Map.of());
    startAnew();
    assertThat(status(ids.get(1)).state().word()).isEqualTo("waiting");
    assertThat(engine.look(board -> board.capacity("berths")).set()).contains(0);
    actions.act(new Units("berths", -1), IDA, "calm");
    assertThat(status(ids.get(1)).state().word()).isEqualTo("starting");
  }

  @Test
  void whatIsDoneToARunStaysOverANewStart() {
    publish(
        "stream: people/run\njobs:\n  a: { host: pier, run: x }\n  b: { host: pier, run: x,"
            + " waits-for: a succeeded }\n  ask: { approve: Now?, answer: { lapses: 9h } }\n");
    List<Long> ids = start("people/run");
    Instant later =
        Instant.now().plusSeconds(7_200).truncatedTo(java.time.temporal.ChronoUnit.MILLIS);
    actions.act(ids.get(1), Action.START_AT, later.toEpochMilli(), IDA, "not yet");
    actions.act(ids.get(1), Action.PRIORITY, 80, IDA, "");
    end(ids.get(0), 4, Map.of("rows", "12", "kind", "diesel"));
    long asked = status(ids.get(2)).asked();
    startAnew();
    assertThat(status(ids.get(1)).due()).isEqualTo(later.toEpochMilli());
    assertThat(status(ids.get(1)).priority()).isEqualTo(80);
    assertThat(status(ids.get(0)).values()).isEqualTo(Map.of("rows", "12", "kind", "diesel"));
    assertThat(status(ids.get(2)).asked()).isEqualTo(asked);
    publish(
        "stream: people/run\ntitle: Changed\njobs:\n  a: { host: pier, run: x }\n  b: { host:"
            + " pier, run: x, waits-for: a succeeded }\n  ask: { approve: Now?, answer: { lapses:"
            + " 9h } }\n");
    assertThat(row(ids.get(1)).state)
        .as("what a person moved is not planned anew")
        .isEqualTo("planned");
    actions.act(ids.get(1), Action.START, 0, IDA, "now");
    assertThat(row(ids.get(1)).state).isEqualTo("starting");
    assertThat(row(ids.get(1)).startNow).isTrue();
  }

  @Test
  void aStreamInAStreamIsTakenUpAgainWithItsValues() {
    publish(
        "parameters-of: environment test\nvalues: { outbox: /srv/test }\n",
        "stream: people/inner\nasks-for: [port]\njobs:\n  x: { host: pier, run: \"x ${port}"
            + " ${outbox}\" }\n  y: { host: pier, run: x, waits-for: x succeeded }\n",
        "stream: people/outer\nparameters: { port: north }\njobs:\n  step: { stream: people/inner,"
            + " parameters: { port: \"${port}\" } }\n  last: { host: pier, run: x, waits-for: step"
            + " succeeded }\n");
    List<Long> ids =
        actions.start(
            new Start(
                "people/outer", Optional.empty(), false, plan.today(), Map.of("port", "skerry")),
            Optional.empty(),
            IDA,
            "");
    RunRow x = row(ids.get(1));
    assertThat(x.reference()).isEqualTo("people/outer/step/x@" + plan.today() + "#1");
    startAnew();
    RunSpec again = engine.look(board -> board.run(x.id).orElseThrow());
    assertThat(again.run().parameters().of("port"))
        .contains(new Parameters.Effective("skerry", Parameters.Origin.STEP));
    assertThat(again.run().parameters().of("outbox"))
        .contains(new Parameters.Effective("/srv/test", Parameters.Origin.ENVIRONMENT));
    end(x.id, 0, Map.of());
    end(ids.get(2), 3, Map.of());
    assertThat(row(ids.get(0)).state).isEqualTo("failed");
    actions.act(ids.get(2), Action.RERUN, 0, IDA, "");
    end(ids.get(2), 0, Map.of());
    assertThat(row(ids.get(0)).state).isEqualTo("succeeded");
    assertThat(row(ids.get(3)).state).isEqualTo("starting");
  }

  @Test
  void aStartWithoutAValueIsRefusedAndNamesIt() {
    publish(
        "stream: people/asks\nasks-for: [port]\njobs: { x: { host: pier, run: \"x ${port}\" } }\n");
    assertThatThrownBy(() -> start("people/asks"))
        .hasMessageContaining("people/asks asks for the parameter \"port\"");
    assertThatThrownBy(
            () ->
                actions.start(
                    new Start(
                        "people/asks", Optional.empty(), false, plan.today(), Map.of("prot", "a")),
                    Optional.empty(),
                    IDA,
                    ""))
        .hasMessageContaining("asks for the parameter \"port\"");
    assertThatThrownBy(
            () ->
                actions.start(
                    new Start(
                        "people/asks",
                        Optional.empty(),
                        false,
                        plan.today(),
                        Map.of("port", "a", "prot", "a")),
                    Optional.empty(),
                    IDA,
                    ""))
        .hasMessageContaining("has no parameter \"prot\"; did you mean \"port\"");
  }

  @Test
  void aStartFromAJobOnTakesWhatFollowsAndTheRestAsDone() {
    publish(
        "stream: people/from\njobs:\n  a: { host: pier, run: x }\n  b: { host: pier, run: x,"
            + " waits-for: a succeeded }\n  c: { host: pier, run: x, waits-for: b succeeded and a"
            + " succeeded }\n  d: { host: pier, run: x }\n");
    List<Long> ids =
        actions.start(
            new Start("people/from", Optional.of("b"), true, LocalDate.of(2027, 3, 4), Map.of()),
            Optional.empty(),
            IDA,
            "");
    assertThat(ids).hasSize(2);
    startAnew();
    end(ids.get(0), 0, Map.of());
    assertThat(row(ids.get(1)).state).as("a counts as done").isEqualTo("starting");
  }

  @Test
  void whatIsNotDefinedAnyMoreCanStillBeRunAgain() {
    publish("stream: people/gone\njobs: { a: { host: pier, run: x } }\n");
    long id = start("people/gone").get(0);
    end(id, 3, Map.of());
    withdrawing.withdraw(dev.purser.core.definition.Kind.STREAM, "people/gone", IDA, "not needed");
    startAnew();
    actions.act(id, Action.RERUN, 0, IDA, "once more");
    assertThat(row(id).state).as("by the definition of its time").isEqualTo("starting");
    end(id, 0, Map.of());
    assertThat(row(id).state).isEqualTo("succeeded");
    assertThatThrownBy(() -> start("people/gone")).hasMessageContaining("there is no stream");
  }

  @Test
  void aDepartmentIsHeldWithAllItsStreams() {
    publish(
        "stream: people/dept\ndepartment: Catering of ida\njobs: { a: { host: pier, run: x } }\n");
    HoldScope scope = new HoldScope(HoldScope.Kind.DEPARTMENT, "Catering of ida");
    WhatIf.Effect before = actions.whatIf(new Hold(scope), IDA);
    assertThat(before.sentences()).containsExactly("It changes no run.");
    actions.act(new Hold(scope), IDA, "no cook");
    long id = start("people/dept").get(0);
    assertThat(row(id).state).isEqualTo("waiting");
    assertThat(String.join(" ", actions.whatIf(new Release(scope), IDA).sentences()))
        .contains("starts at once");
    actions.act(new Release(scope), IDA, "");
    assertThat(row(id).state).isEqualTo("starting");
  }

  @Test
  void aRunOfThePreviousBusinessDateIsFetchedFromTheRecords() {
    String days = "stream: people/days\nschedule: { days: every day, at: \"23:59\", zone: UTC }\n";
    publish(
        days
            + "jobs:\n  a: { host: pier, run: x }\n  b: { host: pier, run: x, waits-for: a succeeded"
            + " on the previous business date }\n");
    LocalDate date = LocalDate.of(2027, 3, 8);
    List<Long> friday =
        actions.start(
            Start.of("people/days", Optional.of("a"), LocalDate.of(2027, 3, 5)),
            Optional.empty(),
            IDA,
            "");
    end(friday.get(0), 0, Map.of());
    engine.tell(now -> new BoardEvent.DatesClosed(now, LocalDate.of(2099, 1, 1))).join();
    assertThat(engine.<Boolean>look(board -> board.run(friday.get(0)).isPresent())).isFalse();
    List<Long> monday =
        actions.start(Start.of("people/days", Optional.empty(), date), Optional.empty(), IDA, "");
    assertThat(row(monday.get(1)).state).as("Monday looks at Friday").isEqualTo("starting");
  }

  @Test
  void manyAtOnceAreEachToldWhatBecameOfThem() {
    publish("stream: people/many\njobs:\n  a: { host: pier, run: x }\n  b: { approve: Yes? }\n");
    List<Long> ids = start("people/many");
    List<Actions.Result> results =
        actions.act(
            new OnRuns(List.of(ids.get(0), ids.get(1), 999_999L), Action.SKIP, 0), IDA, "no");
    assertThat(results)
        .extracting(Actions.Result::refusal)
        .satisfiesExactly(
            first ->
                assertThat(first).contains("a run that is starting cannot be skipped", "cancel"),
            second -> assertThat(second).isEmpty(),
            third -> assertThat(third).contains("not on the board any more"));
    assertThat(row(ids.get(1)).state).isEqualTo("skipped");
    assertThatThrownBy(() -> actions.act(ids.get(1), Action.APPROVE, 0, IDA, ""))
        .as("somebody else was quicker")
        .hasMessageContaining("a run that is skipped cannot be approved");
  }

  @Test
  void whatIfSaysWhatHappensAndDoesNothing() {
    publish(
        "stream: people/what\njobs:\n  a: { host: pier, run: x, usually: 10m }\n  b: { host: pier,"
            + " run: x, usually: 5m, waits-for: a succeeded }\n");
    List<Long> ids = start("people/what");
    WhatIf.Effect cancel = actions.whatIf(new OnRuns(List.of(ids.get(0)), Action.CANCEL, 0), IDA);
    assertThat(cancel.sentences().get(0))
        .contains("people/what/a@" + plan.today() + "#1 is stopped while it is starting");
    assertThat(String.join(" ", cancel.sentences()))
        .contains("It blocks 1 run: they will wait for a person: people/what/b@");
    assertThat(row(ids.get(0)).state).isEqualTo("starting");
    WhatIf.Effect start =
        actions.whatIf(Start.of("people/what", Optional.empty(), plan.today()), IDA);
    assertThat(start.touched()).hasSize(2);
    assertThat(of("people/what")).hasSize(2);
  }

  @Test
  void aRecordedDayToldToAFreshBoardGivesTheSameInstructions() {
    publish(
        "stream: people/day\njobs:\n  a: { host: pier, run: x, retry: { times: 1, wait: 1s } }\n"
            + "  b: { host: pier, run: x, waits-for: a succeeded }\n  c: { approve: Yes? }\n");
    Board fresh = new Board();
    engine
        .ask(
            turn -> {
              recorder.events.clear();
              recorder.instructions.clear();
              takeOver(turn.board(), fresh, turn.now());
              return true;
            })
        .join();
    recorder.events.clear();
    recorder.instructions.clear();
    List<Long> ids = start("people/day");
    end(ids.get(0), 1, Map.of());
    actions.act(ids.get(1), Action.HOLD, 0, IDA, "");
    actions.act(ids.get(2), Action.APPROVE, 0, IDA, "");
    actions.act(ids.get(1), Action.START, 0, IDA, "");
    List<BoardEvent> events = List.copyOf(recorder.events);
    List<Instruction> again = new ArrayList<>();
    events.forEach(event -> again.addAll(fresh.apply(event)));
    assertThat(withoutWakes(again))
        .isEqualTo(withoutWakes(recorder.instructions).subList(0, withoutWakes(again).size()));
    assertThat(withoutWakes(again)).hasSizeGreaterThan(10);
  }

  private static List<Instruction> withoutWakes(List<Instruction> all) {
    return all.stream().filter(one -> !(one instanceof Instruction.WakeAt)).toList();
  }

  /** Brings a fresh board to where another one stands. */
  private void takeOver(BoardView from, Board to, long now) {
    to.apply(Outlook.site(engine.definitions(), now));
    to.apply(new BoardEvent.HostSeen(now, "pier", Set.of()));
    from.holds().forEach((scope, note) -> to.apply(new BoardEvent.HoldPlaced(now, scope, note)));
    for (var capacity : engine.definitions().capacities()) {
      from.capacity(capacity.name())
          .set()
          .ifPresent(many -> to.apply(new BoardEvent.CapacitySet(now, capacity.name(), many)));
    }
    to.apply(
        new BoardEvent.RunsRestored(
            now,
            from.runs().stream()
                .map(run -> new BoardEvent.Restored(run, from.status(run.id()).orElseThrow()))
                .toList()));
  }

  /** Ida may start the whole stream, where ola is asked; not what follows ola's answer alone. */
  @Test
  void aJobAfterSomebodyElsesQuestionIsNotStartedAlone() {
    publish(
        "stream: people/asked\njobs:\n  shall: { approve: Shall it?, answer: { by: [ola] } }\n"
            + "  go: { host: pier, run: x, waits-for: shall succeeded }\n");
    Start alone = Start.of("people/asked", Optional.of("go"), plan.today());
    assertThatThrownBy(() -> actions.start(alone, Optional.empty(), IDA, ""))
        .hasMessageContaining(
            "people/asked/go cannot be started alone: it follows the question people/asked/shall,"
                + " which only ola may decide");
    assertThatThrownBy(() -> actions.whatIf(alone, IDA)).hasMessageContaining("only ola");
    assertThat(of("people/asked")).isEmpty();
    assertThat(actions.start(alone, Optional.empty(), new AuditTrail.Actor("ola", "127.0.0.1"), ""))
        .hasSize(1);
    assertThat(start("people/asked")).hasSize(2);
  }
}
