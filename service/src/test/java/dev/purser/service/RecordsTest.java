package dev.purser.service;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.definition.Kind;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.job.Where;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.Action;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.service.action.Actions;
import dev.purser.service.action.Refused;
import dev.purser.service.action.Start;
import dev.purser.service.agent.HostRecords;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.definition.DefinitionRecords;
import dev.purser.service.output.OutputStore;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.service.publish.Publisher;
import dev.purser.service.publish.Withdrawing;
import dev.purser.service.run.RunRecords;
import dev.purser.service.run.RunRow;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CompletionException;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.jdbc.core.JdbcTemplate;

/** The service's own rooms on a real database; hosts are played by events. */
class RecordsTest extends OnDatabase {
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");

  @Autowired private Engine engine;
  @Autowired private Publisher publisher;
  @Autowired private Withdrawing withdrawing;
  @Autowired private PlanKeeper plan;
  @Autowired private RunRecords runs;
  @Autowired private DefinitionRecords definitions;
  @Autowired private Actions actions;
  @Autowired private OutputStore outputs;
  @Autowired private AuditTrail audit;
  @Autowired private HostRecords hosts;
  @Autowired private JdbcTemplate database;

  private Publisher.Outcome publish(String... texts) {
    List<SourceFile> files = new ArrayList<>();
    for (String text : texts) {
      files.add(new SourceFile("test.yaml", text));
    }
    return publisher.publish(files, Optional.empty(), IDA, "test");
  }

  private static String stream(String name, String at, String jobs) {
    return "host: pier\n---\nstream: "
        + name
        + "\n"
        + (at.isEmpty()
            ? ""
            : "paused: no\nschedule: { days: every day, at: \"" + at + "\", zone: UTC }\n")
        + "jobs:\n"
        + jobs.indent(2);
  }

  private List<RunRow> of(String stream) {
    return runs.list(
        new RunRecords.Filter(null, null, stream, "", List.of(), "", "", "", ""), "", 1_000);
  }

  @Test
  void publishingPlansTomorrowAndReplansOnlyWhatHasChanged() {
    LocalDate tomorrow = plan.today().plusDays(1);
    publish(
        stream("plan/a", "12:00", "one: { host: pier, run: x }\n"), "capacity: slots\nunits: 1\n");
    long before =
        of("plan/a").stream()
            .filter(r -> r.businessDate.equals(tomorrow))
            .findFirst()
            .orElseThrow()
            .id;
    publish("capacity: slots\nunits: 2\n");
    assertThat(of("plan/a")).anyMatch(run -> run.id == before);
    Publisher.Outcome moved = publish(stream("plan/a", "12:30", "one: { host: pier, run: x }\n"));
    assertThat(moved.replanned().changed()).isPositive();
    assertThat(of("plan/a")).noneMatch(run -> run.id == before);
    assertThat(of("plan/a"))
        .filteredOn(run -> run.businessDate.equals(tomorrow))
        .singleElement()
        .satisfies(
            run ->
                assertThat(run.due).isEqualTo(tomorrow.atTime(12, 30).toInstant(ZoneOffset.UTC)));
    assertThat(withdrawing.withdraw(Kind.STREAM, "plan/a", IDA, "sold")).isEmpty();
    assertThat(of("plan/a")).allMatch(run -> !run.state.equals("planned"));
  }

  @Test
  void aStartTimeThatIsPastWhenItIsPublishedIsLeftAlone() {
    publish(
        stream(
            "plan/past", LocalTime.MIN.plusSeconds(1).toString(), "one: { host: pier, run: x }\n"));
    assertThat(of("plan/past"))
        .extracting(run -> run.businessDate)
        .containsExactly(plan.today().plusDays(1));
  }

  @Test
  void everyRevisionOfADefinitionStaysReadable() {
    publish(stream("old/a", "", "one: { host: pier, run: first }\n"));
    long first = engine.revision();
    publish(stream("old/a", "", "one: { host: pier, run: second }\n"));
    assertThat(definitions.at(first).job("old/a/one").orElseThrow().work().toString())
        .contains("first");
    assertThat(definitions.at(engine.revision()).job("old/a/one").orElseThrow().work().toString())
        .contains("second");
    assertThat(publish(stream("old/a", "", "one: { host: pier, run: second }\n")).revision())
        .isZero();
  }

  @Test
  void aPublishThatWasPreparedOnAnOlderRevisionIsRefusedAndChangesNothing() {
    long seen = engine.revision();
    publish("capacity: berths" + seen + "\nunits: 1\n");
    List<SourceFile> late = List.of(new SourceFile("late.yaml", "capacity: late\nunits: 1\n"));
    assertThatThrownBy(() -> publisher.publish(late, Optional.of(seen), IDA, ""))
        .isInstanceOf(CompletionException.class)
        .hasCauseInstanceOf(Publisher.Outdated.class);
    assertThat(engine.definitions().names(Kind.CAPACITY)).doesNotContain("late");
  }

  @Test
  void startsByHandAreNumberedAndTheSameKeyStartsOnce() {
    publish(
        stream(
            "hand/a",
            "",
            "one: { host: pier, run: x }\ntwo: { host: pier, run: x, waits-for: one succeeded }\n"));
    LocalDate date = LocalDate.of(2027, 3, 4);
    List<Long> first =
        actions.start(Start.of("hand/a", Optional.empty(), date), Optional.of("k"), IDA, "");
    assertThat(actions.start(Start.of("hand/a", Optional.empty(), date), Optional.of("k"), IDA, ""))
        .isEqualTo(first);
    List<Long> second =
        actions.start(Start.of("hand/a", Optional.of("two"), date), Optional.empty(), IDA, "");
    assertThat(runs.byId(second.get(0)).orElseThrow().reference())
        .isEqualTo("hand/a/two@2027-03-04#2");
    assertThat(runs.byReference("two@2027-03-04#2").orElseThrow().run().id)
        .isEqualTo(second.get(0));
    assertThat(runs.byReference("a/two@2027-03-04#2")).isPresent();
    assertThatThrownBy(
            () ->
                actions.start(
                    Start.of("hand/b", Optional.empty(), date), Optional.empty(), IDA, ""))
        .hasMessageContaining("there is no stream \"hand/b\"");
  }

  @Test
  void withdrawingWhatIsOpenSaysSoFirst() {
    publish(stream("open/a", "", "one: { host: pier, run: x }\n"));
    LocalDate date = LocalDate.of(2027, 3, 7);
    long run =
        actions.start(Start.of("open/a", Optional.empty(), date), Optional.empty(), IDA, "").get(0);
    assertThatThrownBy(() -> withdrawing.withdraw(Kind.STREAM, "open/a", false, IDA, "sold"))
        .hasMessageContaining(
            "open/a/one@2027-03-07#1 is open and would go on as planned, without a definition;"
                + " cancel it first, or withdraw it anyway");
    assertThat(engine.definitions().stream("open/a")).isPresent();
    actions.act(run, Action.CANCEL, 0, IDA, "");
    assertThat(withdrawing.withdraw(Kind.STREAM, "open/a", false, IDA, "sold")).isEmpty();
  }

  @Test
  void aReferenceThatMeansSeveralRunsIsNotGuessed() {
    publish(stream("twin/a/x", "", "same: { host: pier, run: x }\n"));
    publish(stream("twin/b/x", "", "same: { host: pier, run: x }\n"));
    LocalDate date = LocalDate.of(2027, 3, 5);
    actions.start(Start.of("twin/a/x", Optional.empty(), date), Optional.empty(), IDA, "");
    actions.start(Start.of("twin/b/x", Optional.empty(), date), Optional.empty(), IDA, "");
    assertThatThrownBy(() -> runs.byReference("x/same@2027-03-05"))
        .hasMessageContaining("twin/a/x/same@2027-03-05#1, twin/b/x/same@2027-03-05#1");
    assertThatThrownBy(() -> runs.byReference("nonsense"))
        .hasMessageContaining("is not a run; expected one such as");
  }

  /** Without a number: the only one, else the open one, else the last; and it is said which. */
  @Test
  void aReferenceWithoutANumberMeansTheRunThatIsMeant() {
    publish(stream("meant/a", "", "one: { host: pier, run: x }\n"));
    LocalDate date = LocalDate.of(2027, 3, 6);
    List<Long> ids = new ArrayList<>();
    for (int i = 0; i < 3; i++) {
      ids.addAll(
          actions.start(Start.of("meant/a", Optional.empty(), date), Optional.empty(), IDA, ""));
      if (i == 0) {
        assertThat(meant()).isEqualTo(ids.get(0) + " ");
      }
    }
    assertThat(meant())
        .isEqualTo(
            ids.get(2) + " of 3 runs of that date 2027-03-06#3 is meant, the last that is due");
    actions.act(ids.get(0), Action.CANCEL, 0, IDA, "");
    actions.act(ids.get(2), Action.CANCEL, 0, IDA, "");
    assertThat(meant())
        .isEqualTo(
            ids.get(1)
                + " of 3 runs of that date 2027-03-06#2 is meant, the only one that is open");
    assertThat(runs.byReference("meant/a/one@2027-03-06#1").orElseThrow().run().id)
        .isEqualTo(ids.get(0));
    assertThat(runs.byReference("meant/a/one").orElseThrow().which())
        .isEqualTo("of 3 runs of the last dates 2027-03-06#2 is meant, the only one that is open");
    assertThat(runs.byReference("meant/a/none")).isEmpty();
  }

  private String meant() {
    RunRecords.Meant meant = runs.byReference("meant/a/one@2027-03-06").orElseThrow();
    return meant.run().id + " " + meant.which();
  }

  @Test
  void aListGoesByCursorThroughEveryRunOnce() {
    StringBuilder jobs = new StringBuilder();
    for (int i = 0; i < 23; i++) {
      jobs.append("j").append(i).append(": { host: pier, run: x }\n");
    }
    publish(stream("list/many", "", jobs.toString()));
    actions.start(
        Start.of("list/many", Optional.empty(), LocalDate.of(2027, 4, 1)),
        Optional.empty(),
        IDA,
        "");
    RunRecords.Filter filter =
        new RunRecords.Filter(null, null, "list/many", "", List.of(), "", "", "", "");
    List<Long> seen = new ArrayList<>();
    String cursor = "";
    List<RunRow> page;
    do {
      page = runs.list(filter, cursor, 5);
      page.forEach(run -> seen.add(run.id));
      cursor = page.isEmpty() ? "" : RunRecords.cursorAfter(page.get(page.size() - 1));
    } while (page.size() == 5);
    assertThat(seen).hasSize(23).doesNotHaveDuplicates();
    assertThat(runs.count(filter)).isEqualTo(23);
    assertThat(
            runs.list(
                new RunRecords.Filter(
                    null, null, "many", "", List.of("waiting"), "", "", "", "*j1*"),
                "",
                100))
        .hasSize(11);
    assertThatThrownBy(() -> runs.list(filter, "rubbish", 5))
        .hasMessageContaining("is not a cursor");
  }

  @Test
  void whatABoardKnowsOfARunIsWhatIsOnRecord() {
    publish(stream("record/a", "", "one: { host: pier, run: x, retry: { times: 1, wait: 1h } }\n"));
    long id =
        actions
            .start(Start.of("record/a", Optional.empty(), plan.today()), Optional.empty(), IDA, "")
            .get(0);
    engine.tell(now -> new BoardEvent.HostSeen(now, "pier", Set.of())).join();
    engine.tell(now -> new BoardEvent.AttemptBegan(now, id, 1)).join();
    engine
        .tell(now -> new BoardEvent.AttemptEnded(now, id, 1, dev.purser.core.run.Ending.exited(9)))
        .join();
    RunRow row = runs.byId(id).orElseThrow();
    assertThat(row.state).isEqualTo("waiting");
    assertThat(row.retryAt).isAfter(Instant.now());
    assertThat(row.exitCode).isEqualTo(9);
    assertThat(runs.attempts(id))
        .singleElement()
        .satisfies(a -> assertThat(a.note).isEqualTo("exit code 9"));
    assertThat(runs.moments(id))
        .extracting(m -> m.state)
        .containsSubsequence("waiting", "starting", "running", "waiting");
    actions.act(id, Action.HOLD, 0, IDA, "tanks are cold");
    assertThat(runs.byId(id).orElseThrow().hold).isEqualTo("held by ida: tanks are cold");
    assertThatThrownBy(() -> actions.act(id, Action.RERUN, 0, IDA, ""))
        .isInstanceOf(Refused.class)
        .hasMessageContaining("possible now: release, start, skip, cancel");
    assertThat(audit.list("record/a/one", Long.MAX_VALUE, 10))
        .extracting(entry -> entry.what)
        .containsExactly("hold");
    engine.stop();
    engine.start();
    RunSpec again = engine.look(board -> board.run(id)).orElseThrow();
    assertThat(again.run().reference()).hasToString(row.reference());
    assertThat(engine.look(board -> board.status(id)).orElseThrow().state())
        .isEqualTo(RunState.WAITING);
    assertThat(engine.look(board -> board.why(id)).sentence())
        .contains("held by ida: tanks are cold");
    engine.tell(now -> new BoardEvent.HostLost(now, "pier")).join();
  }

  @Test
  void outputIsKeptOnceInOrderAndReadFromAnywhere() {
    publish(stream("out/a", "", "one: { host: dock, run: x }\n"), "host: dock\n");
    long id =
        actions
            .start(Start.of("out/a", Optional.empty(), plan.today()), Optional.empty(), IDA, "")
            .get(0);
    engine.tell(now -> new BoardEvent.HostSeen(now, "dock", Set.of())).join();
    assertThat(
            outputs.keep(
                Where.onHost("dock"),
                id,
                1,
                0,
                "hello ".getBytes(java.nio.charset.StandardCharsets.UTF_8),
                false,
                6))
        .isEqualTo(6);
    assertThat(
            outputs.keep(
                Where.onHost("dock"),
                id,
                1,
                0,
                "HELLO ".getBytes(java.nio.charset.StandardCharsets.UTF_8),
                false,
                6))
        .isEqualTo(6);
    assertThat(
            outputs.keep(
                Where.onHost("dock"),
                id,
                1,
                99,
                "gap".getBytes(java.nio.charset.StandardCharsets.UTF_8),
                false,
                102))
        .isEqualTo(6);
    assertThat(
            outputs.keep(
                Where.onHost("dock"),
                id,
                1,
                6,
                "world".getBytes(java.nio.charset.StandardCharsets.UTF_8),
                true,
                11))
        .isEqualTo(11);
    assertThat(
            new String(outputs.read(id, 1, 4, 4).data(), java.nio.charset.StandardCharsets.UTF_8))
        .isEqualTo("o wo");
    assertThat(outputs.read(id, 1, 0, 100).complete()).isTrue();
    assertThat(outputs.read(id, 7, 0, 100).data()).isEmpty();
    byte[] foreign = {'x'};
    assertThat(outputs.keep(Where.onHost("pier"), id, 1, 11, foreign, true, 12)).isEqualTo(12);
    assertThat(outputs.read(id, 1, 0, 100).kept()).as("nothing from another host").isEqualTo(11);
  }

  @Test
  void anEnrolmentTokenIsGoodOnceForItsHostOnly() {
    String token = hosts.newToken("berth").token();
    assertThatThrownBy(() -> hosts.enrol("other", token))
        .hasMessageContaining("not for host \"other\"");
    String key = hosts.enrol("berth", token);
    assertThat(hosts.refusal("berth", key)).isEmpty();
    assertThat(hosts.refusal("berth", "guess"))
        .contains("wrong key for host \"berth\"; enrol its agent again");
    assertThat(hosts.refusal("nowhere", key)).contains("host \"nowhere\" is not enrolled");
    assertThatThrownBy(() -> hosts.enrol("berth", token)).hasMessageContaining("was used at");
    String late = hosts.newToken("berth").token();
    database.update("update enrolment_token set expires = '2020-01-01' where used is null");
    assertThatThrownBy(() -> hosts.enrol("berth", late)).hasMessageContaining("ask for a new one");
    String fresh = hosts.enrol("berth", hosts.newToken("berth").token());
    assertThat(hosts.refusal("berth", key)).isPresent();
    assertThat(hosts.refusal("berth", fresh)).isEmpty();
  }
}
