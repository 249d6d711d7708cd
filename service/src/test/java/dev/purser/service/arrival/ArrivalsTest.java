package dev.purser.service.arrival;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.arrival.Finding;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.Ending;
import dev.purser.service.OnDatabase;
import dev.purser.service.action.Actions;
import dev.purser.service.action.Start;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.service.publish.Publisher;
import dev.purser.wire.agent.FromAgent;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;

/** What becomes of files, by the service's own records, on a real database. */
class ArrivalsTest extends OnDatabase {
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");
  private static int worlds;

  @Autowired private Engine engine;
  @Autowired private Publisher publisher;
  @Autowired private Actions actions;
  @Autowired private PlanKeeper plan;
  @Autowired private Lookouts lookouts;
  @Autowired private ArrivalDesk desk;
  @Autowired private ArrivalRecords records;
  @Autowired private ArrivalActions decisions;
  @Autowired private FileDay day;
  private final String world = "w" + ++worlds;
  private final String host = "host-" + world;
  private final String feed = "feed-" + world;
  private long clock = 1_000_000;

  @BeforeEach
  void publishHost() {
    publish("host: " + host + "\n");
  }

  @AfterEach
  void withdraw() {
    publish("stream: " + world + "/files\njobs:\n  none: { host: " + host + ", run: x }\n");
  }

  private void publish(String text) {
    publisher.publish(
        List.of(
            new SourceFile(
                "t.yaml", text.replace("@H", host).replace("@F", feed).replace("@W", world))),
        Optional.empty(),
        IDA,
        "test");
    lookouts.refresh();
  }

  private void watch(String more) {
    publish("file-watch: @F\nhost: @H\npath: /in/*.csv\n" + more);
  }

  private void starter(String more) {
    publish(
        "stream: @W/files\npaused: false\nstarts-on: { file: @F"
            + more
            + " }\njobs:\n  load: { host: with the file, run: \"load ${file.path}\" }\n"
            + "  check: { host: @H, run: check, waits-for: load succeeded }\n");
  }

  private static final String NAMELESS =
      "its name is not valid UTF-8 and cannot be handed on; rename it";

  private FromAgent.File file(String name, String state, long size, String checksum) {
    return new FromAgent.File(
        feed, "/in", "*.csv", name, size, clock, "k" + clock, state, "", checksum);
  }

  private List<String> found(FromAgent.File... files) {
    return lookouts.found(host, new FromAgent.Found(1, List.of(files))).join().done().stream()
        .map(done -> done.name())
        .toList();
  }

  private List<String> ready(String... names) {
    List<String> done = new ArrayList<>();
    for (String name : names) {
      clock++;
      done.addAll(found(file(name, "ready", 10, name + clock)));
    }
    return done;
  }

  private Map<String, String> states() {
    ArrivalRecords.Filter filter = ArrivalRecords.Filter.ofWatch(feed);
    return records.list(filter, 100).stream()
        .collect(
            Collectors.toMap(
                row -> row.arrival().name(), row -> row.state, (newest, older) -> newest));
  }

  private ArrivalRow row(String name) {
    ArrivalRecords.Filter filter = ArrivalRecords.Filter.ofWatch(feed).with("/" + name);
    return records.list(filter, 1).get(0);
  }

  private List<Long> runsOf(String job) {
    return engine.look(
        board ->
            board.runs().stream()
                .filter(run -> run.run().reference().path().equals(world + "/files/" + job))
                .map(run -> run.id())
                .toList());
  }

  private String state(long run) {
    return engine.look(board -> board.state(run)).orElseThrow().word();
  }

  /** Plays the host: a run's attempt ends. */
  private void end(long run, int code) {
    seeHost(); // who may start is decided when that turn ends
    engine
        .hear(
            turn -> {
              int attempt = turn.board().status(run).orElseThrow().attempts();
              return turn.apply(
                  new BoardEvent.AttemptEnded(
                      turn.now(), run, attempt, Ending.exited(code), turn.now(), Map.of()));
            })
        .join();
  }

  private void seeHost() {
    engine
        .hear(turn -> turn.apply(new BoardEvent.HostSeen(turn.now(), host, java.util.Set.of())))
        .join();
  }

  // ---- starting

  @Test
  void eachFileStartsAStreamOnceOneAfterTheOther() {
    watch("");
    starter("");
    seeHost();
    ready("a.csv", "b.csv", "c.csv");
    assertThat(states()).containsEntry("a.csv", "taken").containsEntry("b.csv", "ready");
    clock -= 2;
    assertThat(found(file("a.csv", "ready", 10, "a.csv" + clock))).containsExactly("a.csv");
    clock += 2; // told again after a cut, it is the same
    assertThat(runsOf("load")).hasSize(1);
    long load = runsOf("load").get(0);
    assertThat(engine.look(board -> board.run(load)).orElseThrow().run().parameters().values())
        .containsEntry("file.path", "/in/a.csv")
        .containsEntry("file.host", host);
    assertThat(engine.look(board -> board.status(load)).orElseThrow().where().word())
        .isEqualTo(host);
    end(load, 0);
    assertThat(row("a.csv").note).isEmpty();
    assertThat(states()).containsEntry("a.csv", "taken"); // the check is still to come
    end(runsOf("check").get(0), 0);
    assertThat(states()).containsEntry("a.csv", "used").containsEntry("b.csv", "taken");
    assertThat(runsOf("load")).hasSize(2);
  }

  @Test
  void severalAtATimeAndInTheOrderOfNames() {
    watch("");
    publish(
        "stream: @W/files\npaused: true\nstarts-on: { file: @F, at-a-time: 2, in-order-of: name }\n"
            + "jobs:\n  load: { host: @H, run: x }\n");
    ready("c.csv", "b.csv", "a.csv");
    assertThat(states().values()).containsOnly("ready"); // it is paused
    publish(
        "stream: @W/files\npaused: false\nstarts-on: { file: @F, at-a-time: 2, in-order-of: name"
            + " }\njobs:\n  load: { host: @H, run: x }\n");
    engine.hear(turn -> true).join();
    assertThat(states())
        .containsEntry("a.csv", "taken")
        .containsEntry("b.csv", "taken")
        .containsEntry("c.csv", "ready");
  }

  @Test
  void aSetStartsOneRunWhenItIsComplete() {
    watch("set-of: 3\n");
    starter("");
    ready("a.csv", "b.csv");
    assertThat(runsOf("load")).isEmpty();
    ready("c.csv");
    assertThat(runsOf("load")).hasSize(1);
    assertThat(states().values()).containsOnly("taken");
    assertThat(
            engine
                .look(board -> board.run(runsOf("load").get(0)))
                .orElseThrow()
                .run()
                .parameters()
                .values())
        .containsEntry("file.count", "3")
        .containsEntry("file.paths", "/in/a.csv\n/in/b.csv\n/in/c.csv");
  }

  @Test
  void aFailureLeavesTheFileUnprocessedAndTryingAgainUsesIt() {
    watch("");
    starter(", after-failure: wait");
    seeHost();
    ready("a.csv", "b.csv");
    long load = runsOf("load").get(0);
    end(load, 3);
    assertThat(row("a.csv").state).isEqualTo("unprocessed");
    assertThat(row("a.csv").note).contains("exit code 3").contains("load@");
    assertThat(states()).containsEntry("b.csv", "ready"); // nothing overtakes it
    ArrivalActions.Result result =
        decisions
            .decide(List.of(row("a.csv").id), ArrivalActions.Decision.RETRY, IDA, "mended")
            .get(0);
    assertThat(result.refusal()).isEmpty();
    assertThat(state(load)).isEqualTo("starting");
    assertThat(states()).containsEntry("a.csv", "taken");
    end(load, 0);
    end(runsOf("check").get(0), 0);
    assertThat(states()).containsEntry("a.csv", "used").containsEntry("b.csv", "taken");
  }

  @Test
  void aFileIsPutAsideOrMarkedAsDoneWithAReason() {
    watch("");
    starter("");
    seeHost();
    ready("a.csv", "b.csv");
    end(runsOf("load").get(0), 1);
    List<Long> ids = List.of(row("a.csv").id, row("b.csv").id, 99_999_999L);
    List<ArrivalActions.Result> done = decisions.decide(ids, ArrivalActions.Decision.DONE, IDA, "");
    assertThat(done)
        .extracting(ArrivalActions.Result::refusal)
        .containsExactly(
            "say why it is done: a reason is needed",
            "it is taken and cannot be marked as done",
            "there is no arrival 99999999");
    assertThat(
            decisions
                .decide(ids.subList(0, 1), ArrivalActions.Decision.DONE, IDA, "typed in by hand")
                .get(0)
                .now())
        .isEqualTo("used");
    assertThat(row("a.csv").note).isEqualTo("marked as done by ida: typed in by hand");
    assertThat(
            decisions
                .decide(ids.subList(0, 1), ArrivalActions.Decision.RETRY, IDA, "")
                .get(0)
                .refusal())
        .contains("only what was not processed");
  }

  /** What becomes of the run, its alert and what waits for it is done and said. */
  @Test
  void whatIsDoneInAnotherWayLetsWhatWaitsGoOn() {
    watch("");
    starter("");
    seeHost();
    ready("a.csv");
    long load = runsOf("load").get(0);
    end(load, 1);
    assertThat(engine.look(board -> board.status(load)).orElseThrow().openAlerts()).isNotEmpty();
    ArrivalActions.Result done =
        decisions
            .decide(List.of(row("a.csv").id), ArrivalActions.Decision.DONE, IDA, "typed in")
            .get(0);
    assertThat(done.effect())
        .contains("load@", "is marked as succeeded, and what waits for that goes on");
    assertThat(state(load)).isEqualTo("succeeded");
    assertThat(engine.look(board -> board.status(load)).orElseThrow().openAlerts()).isEmpty();
    assertThat(state(runsOf("check").get(0))).isEqualTo("starting");
    assertThat(states()).containsEntry("a.csv", "used");
  }

  @Test
  void whatIsPutAsideTakesItsWholeStartAlong() {
    watch("");
    starter("");
    seeHost();
    ready("a.csv");
    long load = runsOf("load").get(0);
    end(load, 1);
    ArrivalActions.Result aside =
        decisions
            .decide(List.of(row("a.csv").id), ArrivalActions.Decision.PUT_ASIDE, IDA, "a mistake")
            .get(0);
    assertThat(aside.effect()).contains("load@", "check@", "are skipped with it");
    assertThat(state(load)).isEqualTo("skipped");
    assertThat(state(runsOf("check").get(0))).isEqualTo("skipped");
    assertThat(engine.look(board -> board.status(load)).orElseThrow().openAlerts()).isEmpty();
    assertThat(states()).containsEntry("a.csv", "ignored");
  }

  // ---- waiting

  private void waiters() {
    publish(
        "stream: @W/files\njobs:\n"
            + "  one: { host: @H, run: x, waits-for: file @F arrived }\n"
            + "  two: { host: @H, run: x, waits-for: file @F arrived }\n");
    actions.start(
        Start.of(world + "/files", Optional.empty(), plan.today()), Optional.empty(), IDA, "");
  }

  private String why(String job) {
    return engine.look(board -> board.why(runsOf(job).get(0))).reasons().toString();
  }

  @Test
  void oneOfTwoRunsGetsTheFileAndTheOtherSaysSo() {
    watch("");
    seeHost();
    waiters();
    assertThat(why("one")).contains("nothing has come yet");
    clock++;
    found(file("a.csv", "settling", 4, ""));
    assertThat(why("two")).contains("/in/a.csv is there but still changing");
    found(file("a.csv", "ready", 10, "sum"));
    assertThat(state(runsOf("one").get(0))).isEqualTo("starting");
    assertThat(state(runsOf("two").get(0))).isEqualTo("waiting");
    assertThat(why("two")).contains("another run has used it");
    ready("b.csv");
    assertThat(state(runsOf("two").get(0))).isEqualTo("starting");
    assertThat(row("a.csv").run).isEqualTo(runsOf("one").get(0));
    assertThat(row("a.csv").businessDate).isEqualTo(plan.today());
  }

  @Test
  void aFileThatCameWhileNobodyLookedIsThereForTheRun() {
    watch("");
    seeHost();
    ready("a.csv");
    waiters();
    assertThat(state(runsOf("one").get(0))).isEqualTo("starting");
  }

  @Test
  void aFileOfAnotherDateIsNotTaken() {
    publish("file-watch: @F\nhost: @H\npath: /in/f-${date | yyyyMMdd}.csv\n");
    waiters();
    LocalDate other = plan.today().minusDays(2);
    String name = "f-" + other.toString().replace("-", "") + ".csv";
    lookouts
        .found(
            host,
            new FromAgent.Found(
                1,
                List.of(
                    new FromAgent.File(
                        feed, "/in", name, name, 5, 7, "k", "ready", "", "sum" + world))))
        .join();
    assertThat(row(name).state).isEqualTo("ready");
    assertThat(row(name).businessDate).isEqualTo(other);
    assertThat(state(runsOf("one").get(0))).isEqualTo("waiting");
    assertThat(day.of(engine.definitions(), other))
        .filteredOn(entry -> entry.watch().name().equals(feed))
        .extracting(entry -> entry.standing().word() + " " + entry.count())
        .containsExactly("came 1");
  }

  // ---- the same again

  @Test
  void theSameContentAgainIsAskedAboutAndTakenIfAPersonSaysSo() {
    watch("");
    starter(", at-a-time: 9");
    clock++;
    found(file("a.csv", "ready", 10, "sum-" + world));
    clock++;
    found(file("a.csv", "ready", 10, "sum-" + world));
    assertThat(row("a.csv").state).isEqualTo("unprocessed");
    assertThat(row("a.csv").note).contains("the same name and content as arrival");
    assertThat(runsOf("load")).hasSize(1);
    decisions.decide(List.of(row("a.csv").id), ArrivalActions.Decision.RETRY, IDA, "sent twice");
    assertThat(row("a.csv").state).isEqualTo("taken");
    assertThat(runsOf("load")).hasSize(2);
    clock++;
    found(file("a.csv", "ready", 10, "other-" + world)); // new content under the old name
    assertThat(runsOf("load")).hasSize(3);
  }

  @Test
  void aRepeatIsIgnoredOrTakenWhereTheWatchSaysSo() {
    for (String policy : List.of("ignore", "take")) {
      watch("repeats: " + policy + "\n");
      clock++;
      found(file(policy + ".csv", "ready", 10, "sum-" + policy + world));
      clock++;
      found(file(policy + ".csv", "ready", 10, "sum-" + policy + world));
    }
    assertThat(states()).containsEntry("ignore.csv", "ignored").containsEntry("take.csv", "ready");
    assertThat(row("take.csv").repeats).isPositive();
  }

  @Test
  void whatIsReplacedOrRemovedBeforeUseIsNeverGiven() {
    watch("");
    ready("a.csv", "b.csv");
    long first = row("a.csv").id;
    clock++;
    found(file("a.csv", "settling", 3, ""));
    found(file("b.csv", "gone", 10, ""));
    assertThat(records.byId(first).orElseThrow().note).isEqualTo("was replaced before use");
    assertThat(row("a.csv").state).isEqualTo("settling");
    assertThat(row("b.csv").note).isEqualTo("was removed before use");
    waiters();
    assertThat(state(runsOf("one").get(0))).isEqualTo("waiting");
    assertThat(
            decisions
                .decide(List.of(first), ArrivalActions.Decision.RETRY, IDA, "")
                .get(0)
                .refusal())
        .contains("was replaced");
  }

  @Test
  void aFileWhoseNameCannotBeHandedOnIsNeverGivenWhateverAPersonSays() {
    watch("");
    starter("");
    found(
        new FromAgent.File(
            feed,
            "/in",
            "*.csv",
            "caf\\xE9.csv",
            10,
            clock,
            "k" + clock,
            "rejected",
            NAMELESS,
            ""));
    long id = row("caf\\xE9.csv").id;
    decisions.decide(List.of(id), ArrivalActions.Decision.PUT_ASIDE, IDA, "not ours");
    assertThat(row("caf\\xE9.csv").note).isEqualTo(NAMELESS + "; put aside by ida: not ours");
    assertThat(decisions.decide(List.of(id), ArrivalActions.Decision.RETRY, IDA, ""))
        .singleElement()
        .satisfies(result -> assertThat(result.refusal()).isEqualTo(NAMELESS));
    assertThat(row("caf\\xE9.csv").state).isEqualTo("ignored");
    assertThat(runsOf("load")).isEmpty();
  }

  @Test
  void aReasonThatTalksOfRemovedFilesOrOfUtf8DoesNotKeepAFileFromBeingTriedAgain() {
    watch("");
    ready("a.csv");
    long id = row("a.csv").id;
    for (String reason : List.of("was removed before use", "its header is no UTF-8")) {
      decisions.decide(List.of(id), ArrivalActions.Decision.PUT_ASIDE, IDA, reason);
      assertThat(row("a.csv").state).isEqualTo("ignored");
      decisions.decide(List.of(id), ArrivalActions.Decision.RETRY, IDA, "");
      assertThat(row("a.csv").state).isEqualTo("ready");
    }
  }

  @Test
  void twoWatchesOfTheSameFileDoNotUseItTwice() {
    watch("");
    ready("a.csv");
    String first = feed;
    publish("file-watch: @F-2\nhost: @H\npath: /in/a.csv\n");
    List<Finding> done =
        lookouts
            .found(
                host,
                List.of(
                    new Finding(
                        first + "-2",
                        "/in",
                        "a.csv",
                        "a.csv",
                        10,
                        clock,
                        "k" + clock,
                        Finding.State.READY,
                        "",
                        "sum")))
            .join();
    assertThat(done).hasSize(1);
    ArrivalRecords.Filter filter = ArrivalRecords.Filter.ofWatch(first + "-2");
    assertThat(records.list(filter, 5))
        .extracting(row -> row.state + " " + row.note)
        .containsExactly("ignored file watch " + first + " has the same file");
  }

  // ---- restarts

  @Test
  void afterAnUpgradeFilesThatWereUsedBeforeAreKnown() {
    watch("");
    clock++;
    engine
        .hear(
            turn -> {
              turn.write(
                  "insert into arrival (id, identity, watch, place, path, size, modified,"
                      + " file_key, checksum, found, ready, state, since, run, repeats, note)"
                      + " values (?,?,?,?,'/in/old.csv',10,?,'','',?,null,'used',?,1,0,'')",
                  900_000_000L + worlds,
                  ArrivalRecords.identity(host, "/in/old.csv", 10, clock, ""),
                  feed,
                  host,
                  java.time.Instant.ofEpochMilli(clock),
                  java.time.Instant.now(),
                  java.time.Instant.now());
              return true;
            })
        .join();
    assertThat(found(file("old.csv", "ready", 10, "sum"))).containsExactly("old.csv");
    assertThat(states()).containsEntry("old.csv", "used");
  }

  @Test
  void takenUpAnewTheDeskKnowsAllThatIsNotOver() {
    watch("");
    starter("");
    seeHost();
    ready("a.csv", "b.csv");
    List<String> before = new ArrayList<>();
    desk.open().forEach(one -> before.add(one.toString()));
    engine.look(
        board -> {
          desk.takeUp(board, board.now());
          return true;
        });
    assertThat(desk.open().stream().map(Object::toString)).containsAll(before);
    end(runsOf("load").get(0), 0);
    end(runsOf("check").get(0), 0);
    assertThat(states()).containsEntry("a.csv", "used").containsEntry("b.csv", "taken");
  }

  @Test
  void aStartByHandMustSayWhichFile() {
    watch("");
    starter("");
    assertThatThrownBy(
            () ->
                actions.start(
                    Start.of(world + "/files", Optional.empty(), plan.today()),
                    Optional.empty(),
                    IDA,
                    ""))
        .hasRootCauseMessage(
            world
                + "/files starts on files of "
                + feed
                + "; to start it by hand, say which: give file.path and file.host with the start");
  }
}
