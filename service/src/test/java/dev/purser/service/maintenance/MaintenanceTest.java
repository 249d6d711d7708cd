package dev.purser.service.maintenance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.reading.SourceFile;
import dev.purser.service.OnDatabase;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.publish.Publisher;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.transaction.support.TransactionTemplate;

/** Planned maintenance on a real database and a real engine. */
class MaintenanceTest extends OnDatabase {
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");

  @Autowired private Maintenance maintenance;
  @Autowired private Engine engine;
  @Autowired private Publisher publisher;
  @Autowired private jakarta.persistence.EntityManager rows;
  @Autowired private TransactionTemplate transactions;

  @BeforeEach
  void hosts() {
    String text =
        """
        host: dock-a
        labels: [dock]
        ---
        host: dock-b
        labels: [dock]
        ---
        host-group: docks
        labels: [dock]
        ---
        host-group: nothing-here
        labels: [none]
        """;
    assertThat(
            publisher
                .publish(List.of(new SourceFile("a.yaml", text)), Optional.empty(), IDA, "test")
                .sound())
        .isTrue();
  }

  private Optional<String> drained(String host) {
    return Optional.ofNullable(engine.look(board -> board.drainedHosts().get(host)));
  }

  private List<MaintenanceRow> drain(String scope, String name, Duration from, Duration until) {
    Instant now = Instant.now();
    return maintenance.add(
        "drain", scope, name, now.plus(from), now.plus(until), "new disks", "ola");
  }

  private MaintenanceRow kept(MaintenanceRow row) {
    return transactions.execute(any -> rows.find(MaintenanceRow.class, row.id));
  }

  /** As if its time were over. */
  private void letPass(MaintenanceRow row) {
    transactions.executeWithoutResult(
        any -> rows.find(MaintenanceRow.class, row.id).ends = Instant.now().minusSeconds(1));
    maintenance.look();
  }

  @Test
  void aGroupIsDrainedHostByHostAndReturnedWhenItsTimeIsOver() {
    List<MaintenanceRow> both = drain("group", "docks", Duration.ZERO, Duration.ofHours(1));
    assertThat(both).extracting(row -> row.name).containsExactlyInAnyOrder("dock-a", "dock-b");
    assertThat(drained("dock-a").orElseThrow()).contains("ola").contains("new disks");
    both.forEach(this::letPass);
    assertThat(drained("dock-a")).isEmpty();
    assertThat(drained("dock-b")).isEmpty();
    assertThat(kept(both.get(0)).state).isEqualTo("over");
  }

  @Test
  void whatIsPlannedBeginsAtItsTimeOnlyAndCanBeTakenOffThePlan() {
    MaintenanceRow row = drain("host", "dock-a", Duration.ofHours(1), Duration.ofHours(2)).get(0);
    assertThat(drained("dock-a")).isEmpty();
    assertThat(kept(row).state).isEqualTo("planned");
    maintenance.end(row.id, "ida");
    assertThat(kept(row).note).isEqualTo("ended by ida");
    assertThat(maintenance.end(row.id, "ida")).as("once").isEmpty();
  }

  @Test
  void aHostThatAnotherPlanStillDrainsStaysDrained() {
    MaintenanceRow first = drain("host", "dock-b", Duration.ZERO, Duration.ofHours(1)).get(0);
    MaintenanceRow second = drain("host", "dock-b", Duration.ZERO, Duration.ofHours(2)).get(0);
    letPass(first);
    assertThat(drained("dock-b")).isPresent();
    assertThat(kept(second).note).isEqualTo("drained already, with plan " + first.id);
    maintenance.end(second.id, "ida");
    assertThat(drained("dock-b")).as("the last plan returns it").isEmpty();
  }

  @Test
  void whatAPersonHasDrainedAPersonReturns() {
    engine
        .ask(
            turn -> turn.apply(new BoardEvent.HostDrained(turn.now(), "dock-b", "drained by kari")))
        .join();
    MaintenanceRow row = drain("host", "dock-b", Duration.ZERO, Duration.ofHours(1)).get(0);
    letPass(row);
    assertThat(drained("dock-b")).contains("drained by kari");
    engine.ask(turn -> turn.apply(new BoardEvent.HostReturned(turn.now(), "dock-b"))).join();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          mute  | stream     | no/such      | 60   | because | there is no stream "no/such"
          mute  | planet     | x            | 60   | because | unknown scope "planet"
          close | site       | ''           | 60   | because | there is mute and drain
          mute  | site       | ''           | 60   | ''      | a reason is missing
          mute  | site       | ''           | -5   | because | in the future
          mute  | site       | ''           | 0    | because | it must end after it begins
          mute  | site       | ''           | 5184061 | because | 60 days at the most
          drain | site       | ''           | 60   | because | only a host or a group can be drained
          drain | host       | dock-z       | 60   | because | there is no host "dock-z"
          drain | group      | nothing-here | 60   | because | has no host now
          """)
  void whatMakesNoSenseIsRefusedAndPlansNothing(
      String what, String scope, String name, long seconds, String reason, String message) {
    int before = maintenance.all().size();
    assertThatThrownBy(
            () ->
                maintenance.add(
                    what, scope, name, null, Instant.now().plusSeconds(seconds), reason, "ola"))
        .hasMessageContaining(message);
    assertThat(maintenance.all()).hasSize(before);
  }
}
