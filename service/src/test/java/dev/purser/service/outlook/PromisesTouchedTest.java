package dev.purser.service.outlook;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.awaitility.Awaitility.await;

import dev.purser.core.commitment.Promised;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.forecast.Outlook;
import dev.purser.core.forecast.PromiseOutlook;
import dev.purser.core.reading.SourceFile;
import dev.purser.service.OnDatabase;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.service.publish.Publisher;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.springframework.beans.factory.annotation.Autowired;

/** What has changed for a promise is seen without playing all. */
class PromisesTouchedTest extends OnDatabase {
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");

  @Autowired private Engine engine;
  @Autowired private Publisher publisher;
  @Autowired private PlanKeeper plan;
  @Autowired private OutlookKeeper outlooks;

  @ParameterizedTest
  @CsvSource({
    "0, 200, 200",
    "19999, 200, 200",
    "100000, 39, 200",
    "200000, 19, 200",
    "400000, 9, 45",
    "5000000, 5, 25"
  })
  void largeBoardsArePlayedLessOften(int runs, int all, int bearing) {
    Outlook.Samples samples = OutlookKeeper.samples(runs);
    assertThat(samples.all()).isEqualTo(all);
    assertThat(samples.bearing()).isEqualTo(bearing);
  }

  @Test
  void severalThreadsShareOutTheWorkAndWhatOneThrowsIsThrown() {
    AtomicInteger times = new AtomicInteger();
    new Threads(3).work(times::incrementAndGet);
    assertThat(times).hasValue(3);
    assertThatThrownBy(
            () ->
                new Threads(2)
                    .work(
                        () -> {
                          if (times.incrementAndGet() > 0 && !isCaller()) {
                            throw new IllegalArgumentException("broken");
                          }
                        }))
        .hasRootCauseMessage("broken");
  }

  private static boolean isCaller() {
    return !Thread.currentThread().getName().startsWith("outlook-");
  }

  @Test
  void onlyThePromisesThatAChangeReachesArePlayedAnew() {
    engine.tell(now -> new BoardEvent.HostSeen(now, "buoy", Set.of())).join();
    publish();
    List<PromiseOutlook> before =
        await()
            .atMost(Duration.ofSeconds(40))
            .until(() -> ofToday(outlooks.promises()), found -> found.size() == 2);
    List<Promised> reached = new ArrayList<>();
    outlooks.bringUpToDate(
        (board, promises) -> {
          long load =
              board.runs().stream()
                  .filter(run -> run.run().reference().path().equals("touched/a/load"))
                  .filter(run -> run.run().reference().date().equals(plan.today()))
                  .findFirst()
                  .orElseThrow()
                  .id();
          reached.addAll(PromisesTouched.reached(board, promises, Set.of(load)));
          return reached;
        });
    assertThat(reached).extracting(one -> one.commitment().name()).containsExactly("touched-a");
    List<PromiseOutlook> after = ofToday(outlooks.promises());
    assertThat(after).hasSize(2);
    assertThat(after)
        .extracting(one -> one.promised().reference())
        .isEqualTo(before.stream().map(one -> one.promised().reference()).toList());
    assertThat(after).allMatch(one -> one.standing() == PromiseOutlook.Standing.OPEN);
    assertThat(outlooks.current()).isNotEmpty();
  }

  private List<PromiseOutlook> ofToday(List<PromiseOutlook> all) {
    return all.stream()
        .filter(one -> one.promised().commitment().name().startsWith("touched"))
        .filter(one -> one.promised().date().equals(plan.today()))
        .toList();
  }

  private void publish() {
    String streams =
        """
        stream: touched/%1$s
        paused: no
        schedule: { days: every day, at: "23:59", zone: UTC }
        jobs:
          load: { host: buoy, run: x, usually: 1m to 2m }
          file: { host: buoy, run: x, usually: 1m to 2m, waits-for: load succeeded }
        ---
        commitment: touched-%1$s
        of: touched/%1$s/file
        within: 21m
        """;
    Publisher.Outcome outcome =
        publisher.publish(
            List.of(
                new SourceFile("host.yaml", "host: buoy\n"),
                new SourceFile("a.yaml", streams.formatted("a")),
                new SourceFile("b.yaml", streams.formatted("b"))),
            Optional.empty(),
            IDA,
            "test");
    assertThat(outcome.sound()).as(outcome.problems().toString()).isTrue();
  }
}
