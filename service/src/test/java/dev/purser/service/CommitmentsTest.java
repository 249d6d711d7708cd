package dev.purser.service;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;
import static org.awaitility.Awaitility.await;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.forecast.PromiseOutlook;
import dev.purser.core.history.PastRun;
import dev.purser.core.icalendar.CalendarWriter;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.Action;
import dev.purser.service.action.Actions;
import dev.purser.service.action.OnRuns;
import dev.purser.service.alert.AlertRow;
import dev.purser.service.alert.AlertStepRow;
import dev.purser.service.alert.Alerts;
import dev.purser.service.api.view.CommitmentViewMaker;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.commitment.Commitments;
import dev.purser.service.commitment.PromiseFeed;
import dev.purser.service.commitment.Standings;
import dev.purser.service.history.PastRuns;
import dev.purser.service.outlook.OutlookKeeper;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.service.publish.Publisher;
import dev.purser.wire.api.CommitmentViews;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;

/** Promises on a real database: from a definition and imported history to alerts and help. */
class CommitmentsTest extends OnDatabase {
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");

  @Autowired private Engine engine;
  @Autowired private Publisher publisher;
  @Autowired private PlanKeeper plan;
  @Autowired private PastRuns past;
  @Autowired private Commitments commitments;
  @Autowired private CommitmentViewMaker views;
  @Autowired private OutlookKeeper outlooks;
  @Autowired private Standings standings;
  @Autowired private Alerts alerts;
  @Autowired private Actions actions;
  @Autowired private PromiseFeed feed;

  /** The day on which a test began: midnight may come while it runs. */
  private LocalDate today;

  @BeforeEach
  void connect() {
    today = plan.today();
    engine.tell(now -> new BoardEvent.HostSeen(now, "buoy", Set.of())).join();
  }

  private void publish(String text) {
    List<SourceFile> files =
        List.of(
            new SourceFile(
                "host.yaml",
                """
                host: buoy
                ---
                recipient: desk
                mail: desk@brannoch.example
                receives: [stalled]
                """),
            new SourceFile("test.yaml", text));
    Publisher.Outcome outcome = publisher.publish(files, Optional.empty(), IDA, "test");
    assertThat(outcome.sound()).as(outcome.problems().toString()).isTrue();
  }

  /** A stream that starts at once, with a promise of its end. */
  private void publish(String stream, String promise) {
    LocalTime now = LocalTime.now(ZoneOffset.UTC);
    LocalTime soon = now.plusSeconds(2);
    publish(stream, promise, soon.isBefore(now) ? LocalTime.of(23, 59, 59) : soon);
  }

  private void publish(String stream, String promise, LocalTime now) {
    publish(
        """
        stream: %s
        paused: no
        schedule: { days: every day, at: "%02d:%02d:%02d", zone: UTC }
        jobs:
          load: { host: buoy, run: x }
          file: { title: File it, host: buoy, run: x, waits-for: load succeeded }
        ---
        commitment: %s
        title: It is filed
        of: %s/file
        %s
        """
            .formatted(
                stream,
                now.getHour(),
                now.getMinute(),
                now.getSecond(),
                stream.replace('/', '-'),
                stream,
                promise));
  }

  private List<PastRun> history(String stream, int days, int minutes) {
    return history(stream, days, minutes, LocalTime.NOON);
  }

  private List<PastRun> history(String stream, int days, int minutes, LocalTime at) {
    List<PastRun> runs = new ArrayList<>();
    for (int i = 1; i <= days; i++) {
      LocalDate date = today.minusDays(i);
      long start = date.atTime(at).toInstant(ZoneOffset.UTC).toEpochMilli();
      for (String job : List.of("load", "file")) {
        long from = start + (job.equals("file") ? minutes * 60_000L : 0);
        runs.add(
            new PastRun(
                stream,
                job,
                date,
                1,
                0,
                from,
                from + (minutes + i % 3) * 60_000L,
                PastRun.Outcome.SUCCEEDED,
                0,
                "pier",
                1));
      }
    }
    return runs;
  }

  private PromiseOutlook promise(String name) {
    return await()
        .atMost(Duration.ofSeconds(40))
        .until(
            () ->
                outlooks.promises().stream()
                    .filter(one -> one.promised().commitment().name().equals(name))
                    .filter(one -> one.promised().date().equals(today))
                    .findFirst()
                    .orElse(null),
            found -> found != null);
  }

  private Optional<AlertRow> alert(AlertKind kind, String name) {
    return alerts.openAbout(java.util.Set.of(kind)).stream()
        .filter(one -> one.reference.equals(name + "@" + today))
        .findFirst();
  }

  @Test
  void historyIsTakenOnceAndNeverAmongTheRuns() {
    List<PastRun> runs = history("taken/a", 5, 10);
    assertThat(past.take(runs, true)).isEqualTo(10);
    assertThat(past.take(runs, false)).isEqualTo(10);
    assertThat(past.take(runs, false)).isZero();
    LocalDate yesterday = today.minusDays(1);
    assertThat(past.of(yesterday)).contains(runs.get(0), runs.get(1));
    assertThat(past.before(today).get("taken/a/load")).hasSize(5);
  }

  @Test
  void aPromiseIsWarnedOfTakenAsStalledAndTheWayOutIsShown() {
    past.take(history("warned/a", 30, 10), false);
    publish(
        "warned/a",
        "within: 21m\nalerts-to: [desk]\nalerts: [ { kind: will-be-late, urgency: urgent, say:"
            + " \"hurry: ${text}\" } ]");
    PromiseOutlook open = promise("warned-a");
    assertThat(open.promised().by()).contains(open.promised().begin().plus(Duration.ofMinutes(21)));
    CommitmentViews.CommitmentDetail detail = views.detail(open, true);
    assertThat(detail.commitment().restsOn()).isEqualTo("60 ends of 2 jobs in 1 stream");
    assertThat(detail.lineage()).hasSize(2).allMatch(CommitmentViews.LineageRun::decides);
    assertThat(detail.lineage().get(1).waitsFor())
        .containsExactly(detail.lineage().get(0).reference());
    assertThat(detail.why().stream().mapToDouble(CommitmentViews.CauseView::minutes).sum())
        .isCloseTo(
            Duration.between(detail.commitment().usual(), detail.lineage().get(1).end()).toMillis()
                / 60_000.0,
            within(0.3));
    assertThat(commitments.deciding(today))
        .filteredOn(one -> one.outlook().promised().commitment().name().equals("warned-a"))
        .singleElement()
        .satisfies(
            one ->
                assertThat(one.chain())
                    .extracting(run -> run.run().reference().job())
                    .containsExactly("load", "file"));
    await()
        .atMost(Duration.ofSeconds(30))
        .until(() -> alert(AlertKind.WILL_BE_LATE, "warned-a").isPresent());
    long file =
        detail.lineage().stream()
            .filter(run -> run.title().equals("File it"))
            .findFirst()
            .orElseThrow()
            .run();
    actions.act(new OnRuns(List.of(file), Action.HOLD, 0), IDA, "not yet");
    assertThat(commitments.renewed(open).standing())
        .as("at once, for who looks at it")
        .isEqualTo(PromiseOutlook.Standing.STALLED);
    await()
        .atMost(Duration.ofSeconds(40))
        .until(() -> alert(AlertKind.STALLED, "warned-a").isPresent());
    assertThat(alert(AlertKind.STALLED, "warned-a").orElseThrow().text)
        .startsWith("nothing can move: \"File it\" is held by ida: not yet");
    assertThat(alert(AlertKind.WILL_BE_LATE, "warned-a")).as("one alert").isEmpty();
    AlertRow one = alert(AlertKind.STALLED, "warned-a").orElseThrow();
    List<AlertStepRow> record = alerts.steps(List.of(one.id)).get(one.id);
    assertThat(record)
        .extracting(step -> step.what + " " + step.kind)
        .containsExactly("opened will-be-late", "changed stalled");
    assertThat(record.get(0).text).startsWith("hurry: a chance of");
    assertThat(one.urgency).as("of the kind that it is now").isEqualTo("warning");
    await()
        .atMost(Duration.ofSeconds(10))
        .until(() -> alerts.deliveries(List.of(one.id)).containsKey(one.id));
    assertThat(alerts.deliveries(List.of(one.id)).get(one.id))
        .as("who receives only this kind is told of the change only")
        .singleElement()
        .satisfies(delivery -> assertThat(delivery.step).isEqualTo(record.get(1).id));
    assertThat(views.detail(promise("warned-a"), true).helps())
        .anyMatch(
            help ->
                help.action().equals("release")
                    && help.end() != null
                    && help.command().equals("purser release 'warned/a/file@" + today + "#1'"));
    actions.act(new OnRuns(List.of(file), Action.RELEASE, 0), IDA, "now");
    await()
        .atMost(Duration.ofSeconds(40))
        .until(() -> alert(AlertKind.STALLED, "warned-a").isEmpty());
  }

  @Test
  void aHostThatIsAwayForAMomentStallsNothing() {
    publish("blinked/a", "within: 3h", LocalTime.of(23, 58));
    engine.tell(now -> new BoardEvent.HostLost(now, "buoy")).join();
    try {
      assertThat(engine.<Boolean>look(board -> board.isUp("buoy"))).isFalse();
      assertThat(outlooks.board().isUp("buoy")).isTrue();
      assertThat(outlooks.days(today.plusDays(1), 1))
          .filteredOn(one -> one.run().run().reference().stream().equals("blinked/a"))
          .hasSize(2)
          .allSatisfy(one -> assertThat(one.end()).isPositive());
    } finally {
      engine.tell(now -> new BoardEvent.HostSeen(now, "buoy", Set.of())).join();
    }
  }

  @Test
  void aHostThatIsNotThereIsNamedAndItsAlertIsTheCause() {
    publish(
        """
        host: raft
        ---
        stream: adrift/a
        paused: no
        schedule: { days: every day, at: "23:58", zone: UTC }
        jobs:
          load: { host: buoy, run: x }
          sort: { title: Sort it, host: raft, run: x, waits-for: load succeeded }
          file: { title: File it, host: raft, run: x, waits-for: sort succeeded }
        ---
        commitment: adrift-a
        of: adrift/a/file
        within: 3h
        """);
    PromiseOutlook stalled = promise("adrift-a");
    assertThat(stalled.standing()).isEqualTo(PromiseOutlook.Standing.STALLED);
    assertThat(views.view(stalled).sentence())
        .startsWith(
            "nothing can move: \"Sort it\" and 1 more will wait: host raft is not connected;");
    assertThat(standings.causeKey(stalled)).isEqualTo("host raft");
  }

  @Test
  void whatIsUsualIsFixedOnceAndRenewedByHand() {
    LocalTime late = LocalTime.of(23, 58);
    publish("usual/a", "as-usual: yes", late);
    assertThat(promise("usual-a").promised().by()).isEmpty();
    past.take(history("usual/a", 12, 10, late), false);
    await()
        .atMost(Duration.ofSeconds(40))
        .until(() -> promise("usual-a").promised().by().isPresent());
    List<CalendarWriter.Entry> coming =
        feed.entries(engine.definitions().commitment("usual-a").orElseThrow(), 3);
    assertThat(coming).hasSize(3);
    assertThat(List.of(coming.get(0).start(), coming.get(0).end()))
        .contains(promise("usual-a").promised().by().orElseThrow());
    assertThat(coming).allMatch(entry -> !entry.end().isBefore(entry.start()));
    Instant first = promise("usual-a").promised().by().orElseThrow();
    past.take(history("usual/a", 60, 30, late).subList(24, 120), false);
    assertThat(promise("usual-a").promised().by()).contains(first);
    assertThat(commitments.renew(engine.definitions().commitment("usual-a").orElseThrow()))
        .isPresent();
  }
}
