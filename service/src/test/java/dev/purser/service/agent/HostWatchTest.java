package dev.purser.service.agent;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.alert.AlertKind;
import dev.purser.service.OnDatabase;
import dev.purser.service.SiteClock;
import dev.purser.service.action.Actions;
import dev.purser.service.action.Drain;
import dev.purser.service.action.TakeBack;
import dev.purser.service.alert.AlertRow;
import dev.purser.service.alert.Alerts;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Began;
import dev.purser.service.board.Engine;
import dev.purser.service.trouble.SiteAlerts;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.boot.test.web.server.LocalServerPort;
import org.springframework.jdbc.core.JdbcTemplate;

/** The alert of a lost host: opened once, closed when it is back, not raised for a drained one. */
class HostWatchTest extends OnDatabase {
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");

  @Autowired private Engine engine;
  @Autowired private AgentLink link;
  @Autowired private HostRecords records;
  @Autowired private Alerts alerts;
  @Autowired private SiteAlerts keeper;
  @Autowired private Actions actions;
  @Autowired private SiteClock siteClock;
  @Autowired private JdbcTemplate database;
  @LocalServerPort private int port;
  private Duration later = Duration.ZERO;

  /** The system's clock, so much later. */
  private final Clock clock =
      new Clock() {
        @Override
        public ZoneId getZone() {
          return ZoneOffset.UTC;
        }

        @Override
        public Clock withZone(ZoneId zone) {
          return this;
        }

        @Override
        public Instant instant() {
          return Instant.now().plus(later);
        }
      };

  private List<AlertRow> open() {
    return alerts.openAbout(java.util.Set.of(AlertKind.HOST)).stream()
        .filter(one -> one.reference.equals("host missed"))
        .toList();
  }

  private void connectAndGo(String key, Runnable meanwhile) throws Exception {
    Talk talk = Talk.connect(port, "missed", key, "one");
    talk.say(Talk.hello(System.currentTimeMillis(), 0));
    talk.awaitMessage("welcome");
    meanwhile.run();
    talk.hangUp();
    while (link.presence("missed").isPresent()) {
      Thread.sleep(20);
    }
    database.update(
        "update host set last_seen = utc_timestamp() - interval 5 minute where name = 'missed'");
  }

  @Test
  void aHostThatStaysAwayRaisesOneAlertWhichItsReturnCloses() throws Exception {
    HostWatch watch = new HostWatch(engine, link, records, new Began(clock), siteClock, clock);
    String key = records.enrol("missed", records.newToken("missed").token());
    connectAndGo(key, () -> {});
    keeper.look(watch);
    later = Duration.ofSeconds(62);
    keeper.look(watch);
    keeper.look(watch);
    assertThat(open())
        .singleElement()
        .satisfies(
            one ->
                assertThat(one.text)
                    .matches(
                        "its agent was last heard at \\d{4}-\\d\\d-\\d\\d \\d\\d:\\d\\d:\\d\\d [A-Z].*"));
    connectAndGo(
        key,
        () -> {
          keeper.look(watch);
          assertThat(open()).as("it is back").isEmpty();
        });
    keeper.look(watch);
    assertThat(open()).as("away again").hasSize(1);
    actions.act(new Drain("missed"), IDA, "new disk");
    keeper.look(watch);
    assertThat(open()).as("drained, it may be away").isEmpty();
    actions.act(new TakeBack("missed"), IDA, "");
    database.update("delete from host where name = 'missed'");
    keeper.look(watch);
    assertThat(open()).isEmpty();
  }
}
