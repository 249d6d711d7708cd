package dev.purser.service.plan;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.Action;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunStatus;
import dev.purser.service.OnDatabase;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.publish.Publisher;
import dev.purser.service.run.RunRecords;
import dev.purser.service.run.RunRow;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;

/** What people have said of planned runs outlives publications. */
class ReplanTest extends OnDatabase {
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");

  @Autowired private Engine engine;
  @Autowired private Publisher publisher;
  @Autowired private PlanKeeper plan;
  @Autowired private Pauses pauses;
  @Autowired private RunRecords runs;

  private final String name = "replan/s" + System.nanoTime();

  private static List<SourceFile> files(String... texts) {
    List<SourceFile> files = new ArrayList<>();
    for (String text : texts) {
      files.add(new SourceFile("t.yaml", "host: pier\n---\n" + text));
    }
    return files;
  }

  private PlanKeeper.Replanned publish(String... texts) {
    Publisher.Outcome outcome = publisher.publish(files(texts), Optional.empty(), IDA, "test");
    assertThat(outcome.sound()).as(outcome.problems().toString()).isTrue();
    return outcome.replanned();
  }

  private String stream(String at, String more, String jobs) {
    return "stream: "
        + name
        + "\npaused: no\n"
        + more
        + "schedule: { days: every day, at: \""
        + at
        + "\", zone: UTC }\njobs:\n"
        + jobs;
  }

  private static final String JOBS =
      "  a: { host: pier, run: x }\n  b: { host: pier, run: y, waits-for: a succeeded }\n";

  /** Tomorrow's run of a job: it has not begun, whatever the hour. */
  private RunRow tomorrow(String job) {
    return runs
        .list(
            new RunRecords.Filter(
                plan.today().plusDays(1), null, name, job, List.of(), "", "", "", ""),
            "",
            10)
        .stream()
        .filter(row -> row.businessDate.equals(plan.today().plusDays(1)) && row.job.equals(job))
        .findFirst()
        .orElseThrow();
  }

  private RunStatus status(String job) {
    return engine.look(board -> board.status(tomorrow(job).id)).orElseThrow();
  }

  private void act(String job, Action action, long argument) {
    long id = tomorrow(job).id;
    engine
        .tell(now -> new BoardEvent.PersonActed(now, id, action, "ida", "the crane", argument))
        .join();
  }

  private long movedTo;

  @BeforeEach
  void holdMoveAndRaise() {
    publish(stream("12:00", "", JOBS));
    movedTo = tomorrow("a").due.plus(Duration.ofHours(3)).toEpochMilli();
    act("a", Action.HOLD, 0);
    act("a", Action.PRIORITY, 77);
    act("a", Action.START_AT, movedTo);
    act("b", Action.HOLD, 0);
  }

  private void assertSaid(String job, boolean held, int priority, long due) {
    RunStatus status = status(job);
    RunRow row = tomorrow(job);
    assertThat(status.isHeld()).as("held").isEqualTo(held);
    assertThat(status.priority()).as("priority").isEqualTo(priority);
    assertThat(status.due()).as("due").isEqualTo(due);
    assertThat(row.hold).as("on record as on the board").isEqualTo(status.hold());
    assertThat(row.movedDue).isEqualTo(due == 0 ? null : Instant.ofEpochMilli(due));
  }

  @Test
  void aPublicationOfSomethingElseTouchesNothing() {
    long a = tomorrow("a").id;
    PlanKeeper.Replanned replanned =
        publish("capacity: " + name.replace('/', '-') + "\nunits: 2\n");
    assertThat(replanned).isEqualTo(PlanKeeper.Replanned.NOTHING);
    assertThat(tomorrow("a").id).isEqualTo(a);
    assertSaid("a", true, 77, movedTo);
    assertSaid("b", true, 50, 0);
  }

  /** After a pause the runs may have other numbers: they are the same starts all the same. */
  @Test
  void aPublicationOfSomethingElseAfterAPauseTouchesNothing() {
    pauses.pause(name, Optional.empty(), IDA, "test");
    pauses.resume(name, IDA, "test");
    act("a", Action.HOLD, 0);
    long a = tomorrow("a").id;
    PlanKeeper.Replanned replanned =
        publish("capacity: " + name.replace('/', '-') + "-2\nunits: 2\n");
    assertThat(replanned).isEqualTo(PlanKeeper.Replanned.NOTHING);
    assertThat(tomorrow("a").id).isEqualTo(a);
    assertThat(status("a").isHeld()).isTrue();
  }

  @Test
  void onARunThatChangesEverythingStaysThatTheChangeDoesNotSet() {
    long b = tomorrow("b").id;
    PlanKeeper.Replanned replanned =
        publish(stream("12:00", "", JOBS.replace("run: x", "run: x2")));
    assertThat(replanned.withdrawn()).isZero();
    assertThat(replanned.added()).isZero();
    assertThat(replanned.changed()).isBetween(1, 2);
    assertThat(tomorrow("b").id).as("an unchanged run of a changed stream").isEqualTo(b);
    assertSaid("a", true, 77, movedTo);
    assertThat(engine.look(board -> board.run(tomorrow("a").id)).orElseThrow().run().job().work())
        .hasToString("Command[line=x2]");
  }

  @Test
  void whatTheChangeSetsCounts() {
    publish(stream("13:00", "", JOBS.replace("run: x", "run: x, priority: 60")));
    assertSaid("a", true, 60, 0);
    assertSaid("b", true, 50, 0);
    assertThat(tomorrow("a").due.atZone(java.time.ZoneOffset.UTC).getHour()).isEqualTo(13);
  }

  @Test
  void whatIsNoLongerPlannedGoesWithItsHold() {
    PlanKeeper.Replanned replanned = publish(stream("12:00", "", "  b: { host: pier, run: y }\n"));
    assertThat(replanned.withdrawn()).isBetween(1, 2);
    List<RunSpec> there = engine.look(board -> board.runs());
    assertThat(there).noneMatch(run -> run.run().reference().path().equals(name + "/a"));
    assertSaid("b", true, 50, 0);
  }

  @Test
  void thePreviewNamesWhatItWouldTouch() {
    Publisher.Previewed preview =
        publisher.preview(
            files(stream("13:00", "", "  a: { host: pier, run: x, priority: 60 }\n")), 3);
    String date = "@" + plan.today().plusDays(1) + "#1 ";
    assertThat(preview.touched())
        .extracting(one -> one.reference() + " " + one.what())
        .contains(
            name
                + "/a"
                + date
                + "would change; it stays held by ida: the crane; priority 77 that somebody gave it"
                + " goes; its start was moved to 15:00, which no longer counts",
            name + "/b" + date + "would be taken off the plan; it was held by ida: the crane");
    assertThat(publisher.preview(files("capacity: other\nunits: 1\n"), 3).touched())
        .noneMatch(one -> one.reference().startsWith(name));
    assertSaid("a", true, 77, movedTo);
  }
}
