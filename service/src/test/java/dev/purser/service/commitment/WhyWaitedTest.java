package dev.purser.service.commitment;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.AlertSubject;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.Action;
import dev.purser.core.run.RunSpec;
import dev.purser.service.OnDatabase;
import dev.purser.service.action.Actions;
import dev.purser.service.action.OnRuns;
import dev.purser.service.alert.AlertWriter;
import dev.purser.service.alert.Alerts;
import dev.purser.service.alert.SiteTrouble;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.publish.Publisher;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;

/** Why a run has waited is known when the wait is over: a hold, or a host that was away. */
class WhyWaitedTest extends OnDatabase {
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");

  @Autowired private Engine engine;
  @Autowired private Publisher publisher;
  @Autowired private Actions actions;
  @Autowired private AlertWriter writer;
  @Autowired private Alerts alerts;
  @Autowired private WhyWaited records;

  private RunSpec published() {
    engine.tell(now -> new BoardEvent.HostSeen(now, "buoy", Set.of())).join();
    String text =
        """
        host: buoy
        ---
        stream: waited/a
        paused: no
        schedule: { days: every day, at: "23:59", zone: UTC }
        jobs: { load: { host: buoy, run: x } }
        """;
    publisher.publish(List.of(new SourceFile("a.yaml", text)), Optional.empty(), IDA, "test");
    return engine.look(
        board ->
            board.runs().stream()
                .filter(run -> run.run().reference().path().equals("waited/a/load"))
                .findFirst()
                .orElseThrow());
  }

  @Test
  void aHoldAndAHostThatWasAwayAreFoundOnRecord() {
    RunSpec run = published();
    long from = System.currentTimeMillis() - 600_000;
    long to = System.currentTimeMillis() + 600_000;
    assertThat(records.whyWaited(run, from, to)).isEmpty();

    SiteTrouble away =
        new SiteTrouble(
            AlertKind.HOST, "host buoy", AlertSubject.HOST, "Pier", "is away", Set.of());
    writer.open(away, engine.definitions(), Instant.now());
    alerts.openAbout(Set.of(AlertKind.HOST)).stream()
        .filter(alert -> alert.reference.equals("host buoy"))
        .forEach(alert -> alerts.close(alert.id, "", "it is back", Instant.now()));
    assertThat(records.whyWaited(run, from, to))
        .contains("waited for the host buoy, which was away");
    assertThat(records.whyWaited(run, from - 7_200_000, from)).as("it was there then").isEmpty();

    actions.act(new OnRuns(List.of(run.id()), Action.HOLD, 0), IDA, "not yet");
    actions.act(new OnRuns(List.of(run.id()), Action.RELEASE, 0), IDA, "now");
    assertThat(records.whyWaited(run, from, to)).contains("was held by ida: not yet");
    assertThat(records.whyWaited(run, to, to + 1)).as("it was over by then").isEmpty();
  }
}
