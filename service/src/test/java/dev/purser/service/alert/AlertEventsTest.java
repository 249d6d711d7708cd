package dev.purser.service.alert;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.service.OnDatabase;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.atomic.AtomicReference;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.transaction.support.TransactionTemplate;

class AlertEventsTest extends OnDatabase {
  @Autowired private EntityManager rows;
  @Autowired private TransactionTemplate transactions;

  private AlertStepRow step(String text) {
    AlertRow alert = new AlertRow();
    alert.kind = "host";
    alert.about = "host";
    alert.reference = "host feed";
    alert.stream = "";
    alert.title = "Feed";
    alert.text = text;
    alert.urgency = "note";
    alert.rule = "built in";
    alert.ownKey = "host feed";
    alert.cause = "";
    alert.opened = Instant.now();
    alert.closed = Instant.now();
    alert.acknowledgedBy = "";
    alert.closedBecause = "a test";
    rows.persist(alert);
    AlertStepRow step = AlertStepRow.of(alert, "opened", "", text, Instant.now());
    rows.persist(step);
    rows.persist(TellingRow.of(alert));
    rows.flush();
    return step;
  }

  /**
   * A step whose transaction ends late has an earlier number than one that is on record already:
   * whoever goes on from the cursor reads both, in order.
   */
  @Test
  void nothingIsMissedThatIsOnRecordLate() throws Exception {
    AtomicReference<Instant> now = new AtomicReference<>(Instant.parse("2031-01-01T00:00:00Z"));
    Clock clock =
        new Clock() {
          @Override
          public ZoneOffset getZone() {
            return ZoneOffset.UTC;
          }

          @Override
          public Clock withZone(java.time.ZoneId zone) {
            return this;
          }

          @Override
          public Instant instant() {
            return now.get();
          }
        };
    AlertEvents events = new AlertEvents(rows, clock);
    events.look();
    now.set(now.get().plusSeconds(3));
    events.look();
    long cursor = events.settled();
    CountDownLatch numbered = new CountDownLatch(1);
    CountDownLatch go = new CountDownLatch(1);
    ExecutorService late = Executors.newSingleThreadExecutor();
    Future<?> first =
        late.submit(
            () ->
                transactions.executeWithoutResult(
                    any -> {
                      step("first");
                      numbered.countDown();
                      try {
                        go.await();
                      } catch (InterruptedException e) {
                        Thread.currentThread().interrupt();
                      }
                    }));
    numbered.await();
    transactions.executeWithoutResult(any -> step("second"));
    events.look();
    assertThat(said(events, cursor)).as("not settled yet").isEmpty();
    go.countDown();
    first.get();
    late.shutdown();
    now.set(now.get().plusSeconds(3));
    events.look();
    assertThat(said(events, cursor)).containsSubsequence("first", "second");
  }

  private static List<String> said(AlertEvents events, long after) {
    return events.after(after, 500).stream()
        .map(event -> event.step().text)
        .filter(text -> text.equals("first") || text.equals("second"))
        .toList();
  }
}
