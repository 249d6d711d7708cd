package dev.purser.service.publish;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Named;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.Action;
import dev.purser.core.run.Ending;
import dev.purser.core.run.HoldScope;
import dev.purser.core.run.RunSpec;
import dev.purser.service.OnDatabase;
import dev.purser.service.action.Actions;
import dev.purser.service.action.Hold;
import dev.purser.service.action.OnRuns;
import dev.purser.service.action.Release;
import dev.purser.service.action.Start;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.definition.DefinitionRecords;
import dev.purser.service.definition.DefinitionRow;
import dev.purser.service.history.DurationHistory;
import dev.purser.service.plan.Holds;
import dev.purser.service.plan.Pauses;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.service.run.RunRecords;
import dev.purser.service.run.RunRow;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;

/** A definition gets another name, on a real database. */
class RenameTest extends OnDatabase {
  private static final AuditTrail.Actor ADA = new AuditTrail.Actor("ada", "127.0.0.1");
  private static int made;

  @Autowired private Engine engine;
  @Autowired private Publisher publisher;
  @Autowired private Withdrawing withdrawing;
  @Autowired private Rename rename;
  @Autowired private Reverting reverting;
  @Autowired private PlanKeeper plan;
  @Autowired private Pauses pauses;
  @Autowired private RunRecords runs;
  @Autowired private DefinitionRecords records;
  @Autowired private DurationHistory history;
  @Autowired private Actions actions;

  private String from;
  private String to;
  private String user;

  @BeforeEach
  void publishBoth() {
    String at = "rename/a" + ++made;
    from = at + "/old";
    to = at + "/new";
    user = at + "/user";
    engine.tell(now -> new BoardEvent.HostSeen(now, "rename-pier", Set.of())).join();
    publish(stream(from, "./one"));
    publish(
        "stream: "
            + user
            + "\npaused: no\nschedule: { days: every day, at: \"23:59\", zone: UTC }\njobs:\n"
            + "  go: { host: rename-pier, run: ./go, waits-for: "
            + from
            + "/one succeeded and "
            + from
            + "/sub/in succeeded } # after "
            + from
            + "/one\n");
  }

  private String stream(String name, String command) {
    return "stream: "
        + name
        + "\npaused: no\nschedule: { days: every day, at: \"23:59\", zone: UTC }\njobs:\n"
        + "  one: { host: rename-pier, run: "
        + command
        + " }\n  two: { host: rename-pier, run: ./two, waits-for: one succeeded }\n"
        + "  sub: { stream: rename/inner }\n";
  }

  private Publisher.Outcome publish(String yaml) {
    String inner =
        "stream: rename/inner\njobs: { in: { host: rename-pier, run: ./in } }\n---\n"
            + "host: rename-pier\n---\n";
    Publisher.Outcome done =
        publisher.publish(
            List.of(new SourceFile("a.yaml", inner + yaml)), Optional.empty(), ADA, "test");
    assertThat(done.sound()).as(done.problems().toString()).isTrue();
    return done;
  }

  private Rename.Outcome rename() {
    Rename.Outcome done = rename.rename(new Named(Kind.STREAM, from), to, ADA, "a better name");
    assertThat(done.isSound()).as(done.problems().toString()).isTrue();
    return done;
  }

  private RunSpec find(String stream, String job) {
    return engine
        .look(
            board ->
                board.runs().stream()
                    .filter(run -> run.run().reference().path().equals(stream + "/" + job))
                    .findFirst())
        .orElseThrow();
  }

  private RunRow row(long id) {
    return runs.byId(id).orElseThrow();
  }

  private Set<HoldScope> held() {
    return engine.look(board -> Set.copyOf(board.holds().keySet()));
  }

  private void startAnew() {
    engine.stop();
    engine.start();
    engine.tell(now -> new BoardEvent.HostSeen(now, "rename-pier", Set.of())).join();
  }

  private void end(long run, int code) {
    engine.tell(now -> new BoardEvent.AttemptBegan(now, run, 1)).join();
    engine.tell(now -> new BoardEvent.AttemptEnded(now, run, 1, Ending.exited(code))).join();
  }

  @Test
  void whatIsPlannedIsTheSameUnderTheNewName() {
    long one = find(from, "one").id();
    long in = find(from + "/sub", "in").id();
    actions.act(new OnRuns(List.of(one), Action.HOLD, 0), ADA, "the crane");
    Rename.Outcome done = rename();
    assertThat(done.changed()).containsExactlyInAnyOrder("stream " + to, "stream " + user);
    assertThat(done.runs()).isPositive();
    for (int i = 0; i < 2; i++) {
      assertThat(find(to, "one").id()).isEqualTo(one);
      assertThat(find(to + "/sub", "in").id()).isEqualTo(in);
      assertThat(row(one).stream).isEqualTo(to);
      assertThat(row(in).stream).isEqualTo(to + "/sub");
      assertThat(row(one).hold).contains("the crane");
      assertThat(engine.look(board -> board.status(one)).orElseThrow().hold())
          .contains("the crane");
      startAnew();
    }
    assertThat(engine.definitions().stream(from)).isEmpty();
    assertThat(pauses.isPaused(to)).isFalse();
    // nothing of it is other than what would be planned
    Publisher.Change same =
        Publisher.Change.of(
                List.of(new SourceFile("x.yaml", "capacity: rename-x" + made + "\nunits: 1\n")))
            .from(Holds.parse("now", Map.of(), plan.today()));
    assertThat(publisher.preview(same, 2).open())
        .noneMatch(one2 -> one2.run().run().reference().stream().startsWith("rename/"));
  }

  @Test
  void whatIsUnderWayGoesOnAndOthersGoOnAfterIt() {
    List<Long> started =
        actions.start(Start.of(from, Optional.empty(), plan.today()), Optional.empty(), ADA, "");
    List<Long> waiting =
        actions.start(Start.of(user, Optional.empty(), plan.today()), Optional.empty(), ADA, "");
    long one = started.get(0);
    engine.tell(now -> new BoardEvent.AttemptBegan(now, one, 1)).join();
    rename();
    assertThat(row(one).state).isEqualTo("running");
    assertThat(row(one).stream).isEqualTo(to);
    assertThat(engine.look(board -> board.why(waiting.get(0))).sentence()).contains(to + "/one");
    startAnew();
    end(one, 0);
    assertThat(row(started.get(1)).state).isEqualTo("starting"); // two, after one
    assertThat(engine.look(board -> board.why(waiting.get(0))).sentence()).contains(to + "/sub/in");
    started.stream().filter(id -> row(id).job.equals("in")).forEach(id -> end(id, 0));
    assertThat(row(waiting.get(0)).state).isEqualTo("starting");
    assertThat(history.durations().keySet()).contains(to + "/one").doesNotContain(from + "/one");
  }

  @Test
  void itsVersionsAndItsWayBackComeWithIt() {
    long first = records.versions(Kind.STREAM, from, Long.MAX_VALUE, 1).get(0).revision;
    publish(stream(from, "./one --more"));
    long renamed = rename().revision();
    publish(stream(to, "./one --most"));
    List<DefinitionRow> versions = records.versions(Kind.STREAM, to, Long.MAX_VALUE, 10);
    assertThat(versions).extracting(row -> row.name).containsExactly(to, to, from, from);
    assertThat(versions).noneMatch(row -> row.withdrawn);
    assertThat(records.withdrawn()).noneMatch(row -> row.name.equals(from));
    Publisher.Change back = reverting.of(Kind.STREAM, to, first);
    assertThat(back.files().get(0).text()).startsWith("stream: " + to).contains("./one }");
    assertThatThrownBy(() -> reverting.undoing(renamed, false))
        .hasMessageContaining("rename it back");
  }

  @Test
  void itIsRenamedBack() {
    long one = find(from, "one").id();
    rename();
    Rename.Outcome back = rename.rename(new Named(Kind.STREAM, to), from, ADA, "after all");
    assertThat(back.isSound()).isTrue();
    assertThat(find(from, "one").id()).isEqualTo(one);
    assertThat(records.versions(Kind.STREAM, from, Long.MAX_VALUE, 10))
        .extracting(row -> row.name)
        .containsExactly(from, to, from);
    startAnew();
    assertThat(find(from, "one").id()).isEqualTo(one);
  }

  @Test
  void itsPauseAndHoldsComeWithIt() {
    pauses.pause(from, Optional.empty(), ADA, "tank is being cleaned");
    HoldScope stream = new HoldScope(HoldScope.Kind.STREAM, from);
    HoldScope job = new HoldScope(HoldScope.Kind.JOB, from + "/one");
    actions.act(new Hold(stream), ADA, "wait");
    actions.act(new Hold(job), ADA, "wait");
    rename();
    for (int i = 0; i < 2; i++) {
      assertThat(pauses.all().get(to).reason).isEqualTo("tank is being cleaned");
      assertThat(pauses.isPaused(from)).isFalse();
      assertThat(held())
          .contains(
              new HoldScope(HoldScope.Kind.STREAM, to),
              new HoldScope(HoldScope.Kind.JOB, to + "/one"))
          .doesNotContain(stream, job);
      startAnew();
    }
    actions.act(new Release(new HoldScope(HoldScope.Kind.STREAM, to)), ADA, "");
    actions.act(new Release(new HoldScope(HoldScope.Kind.JOB, to + "/one")), ADA, "");
  }

  @Test
  void whatCannotBeIsRefusedAndChangesNothing() {
    long revision = engine.revision();
    Named what = new Named(Kind.STREAM, from);
    assertThatThrownBy(() -> rename.rename(what, user, ADA, ""))
        .hasMessageContaining("there is a stream " + user + " already");
    assertThat(rename.preview(what, "Not A Name").isSound()).isFalse();
    assertThatThrownBy(() -> rename.preview(what, "trial/x"))
        .hasMessageContaining("is kept for tries of drafts");
    assertThat(rename.rename(what, "Not A Name", ADA, "").revision()).isZero();
    publish("stream: rename/gone" + made + "\njobs: { a: { host: rename-pier, run: x } }\n");
    withdrawing.withdraw(Kind.STREAM, "rename/gone" + made, ADA, "");
    assertThatThrownBy(() -> rename.rename(what, "rename/gone" + made, ADA, ""))
        .hasMessageContaining("there was a stream rename/gone");
    assertThat(engine.revision()).isEqualTo(revision + 2);
    assertThat(engine.definitions().stream(from)).isPresent();
  }

  @Test
  void runsOfAnOlderVersionAreInItsWay() {
    List<Long> started =
        actions.start(Start.of(from, Optional.empty(), plan.today()), Optional.empty(), ADA, "");
    publish(stream(from, "./one --more"));
    Named what = new Named(Kind.STREAM, from);
    assertThatThrownBy(() -> rename.rename(what, to, ADA, ""))
        .hasMessageContaining("by an older version")
        .hasMessageContaining("/old/one@");
    started.forEach(id -> actions.act(new OnRuns(List.of(id), Action.CANCEL, 0), ADA, ""));
  }

  @Test
  void oldNamesGoOnBeingUnderstood() {
    rename();
    String calendar = "rename-days" + made;
    publish("business-calendar: " + calendar + "\nworking: weekdays\n");
    rename.rename(new Named(Kind.BUSINESS_CALENDAR, calendar), calendar + "x", ADA, "");
    publish(
        "stream: "
            + user
            + "2\ncalendar: "
            + calendar
            + "\njobs:\n  go: { host: rename-pier, run: ./go, waits-for: "
            + from
            + "/one succeeded }\n");
    assertThat(engine.definitions().document(Kind.STREAM, user + "2").orElseThrow().text())
        .contains("waits-for: " + to + "/one succeeded")
        .contains("calendar: " + calendar + "x\n");
    assertThatThrownBy(() -> publish(stream(from, "./one")))
        .hasMessageContaining(from + " is called " + to + " since revision");
    assertThat(engine.definitions().stream(from)).isEmpty();
  }
}
