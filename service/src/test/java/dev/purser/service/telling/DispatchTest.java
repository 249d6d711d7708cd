package dev.purser.service.telling;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.AlertSubject;
import dev.purser.core.reading.SourceFile;
import dev.purser.service.OnDatabase;
import dev.purser.service.alert.AlertRow;
import dev.purser.service.alert.AlertWriter;
import dev.purser.service.alert.Alerts;
import dev.purser.service.alert.DeliveryRow;
import dev.purser.service.alert.NoticeRow;
import dev.purser.service.alert.SiteTrouble;
import dev.purser.service.alert.TellingRow;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.publish.Publisher;
import jakarta.persistence.EntityManager;
import jakarta.persistence.EntityManagerFactory;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.hibernate.SessionFactory;
import org.hibernate.StatelessSession;
import org.hibernate.Transaction;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.transaction.support.TransactionTemplate;

/** Two services that see the same, and what cannot be told. All times lie in 2041. */
class DispatchTest extends OnDatabase {
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");
  private static int hours;

  @Autowired private Engine engine;
  @Autowired private Publisher publisher;
  @Autowired private AlertWriter writer;
  @Autowired private Alerts alerts;
  @Autowired private Telling telling;
  @Autowired private EntityManager rows;
  @Autowired private EntityManagerFactory factory;
  @Autowired private TransactionTemplate transactions;

  private Instant now;

  @BeforeEach
  void publish() {
    hours += 48;
    now = Instant.parse("2041-01-01T00:00:00Z").plus(Duration.ofHours(hours));
    String text =
        """
        recipient: d-desk
        mail: [d-desk@b.example]
        ---
        alerts-of: department Dispatching
        alerts: [ { kind: host, tell: [d-desk], remind-every: 10m } ]
        """;
    assertThat(
            publisher
                .publish(List.of(new SourceFile("a.yaml", text)), Optional.empty(), IDA, "test")
                .sound())
        .isTrue();
  }

  private AlertRow open(String about) {
    String reference = "d" + hours + " " + about;
    SiteTrouble trouble =
        new SiteTrouble(
            AlertKind.HOST, reference, AlertSubject.HOST, "It", "is away", Set.of("d-desk"));
    assertThat(writer.open(trouble, engine.definitions(), now)).isTrue();
    return alerts.openAbout(Set.of(AlertKind.HOST)).stream()
        .filter(one -> one.reference.equals(reference))
        .findFirst()
        .orElseThrow();
  }

  private List<NoticeRow> notices(AlertRow alert) {
    return rows.createQuery("from NoticeRow n where n.alert = :id order by n.id", NoticeRow.class)
        .setParameter("id", alert.id)
        .getResultList();
  }

  private List<DeliveryRow> sent(AlertRow alert) {
    return alerts.deliveries(List.of(alert.id)).getOrDefault(alert.id, List.of());
  }

  private void dispatch(List<NoticeRow> seen) {
    try (StatelessSession session = factory.unwrap(SessionFactory.class).openStatelessSession()) {
      Transaction transaction = session.beginTransaction();
      try {
        new Dispatch(session, engine.definitions(), any -> Optional.empty(), now).tell(seen);
        transaction.commit();
      } catch (RuntimeException e) {
        transaction.rollback();
        throw e;
      }
    }
  }

  /** One was frozen after it had looked; the other has told it meanwhile. */
  @Test
  void whatBothHaveSeenIsToldByOne() {
    AlertRow alert = open("host");
    List<NoticeRow> seenByTheFrozen = notices(alert);
    now = now.plusSeconds(2);
    telling.look(now);
    assertThat(sent(alert)).hasSize(1);
    assertThatThrownBy(() -> dispatch(seenByTheFrozen)).isInstanceOf(Dispatch.Overtaken.class);
    assertThat(sent(alert)).as("nothing of it is left").hasSize(1);
  }

  /** A reminder whose alert is gone, as no program of ours leaves it, stops no other. */
  @Test
  void aReminderThatCannotBeToldStopsNoOther() {
    AlertRow good = open("host");
    now = now.plusSeconds(2);
    telling.look(now);
    transactions.executeWithoutResult(
        any -> {
          TellingRow bad = new TellingRow();
          bad.alert = 4_000_000_000_000L + hours;
          bad.growLook = now;
          rows.persist(bad);
          rows.find(TellingRow.class, good.id).nextLook = now.plusSeconds(1);
        });
    now = now.plusSeconds(2);
    telling.look(now);
    now = now.plusSeconds(2);
    telling.look(now);
    assertThat(alerts.steps(List.of(good.id)).get(good.id))
        .extracting(step -> step.what)
        .containsExactly("opened", "reminded");
    assertThat(sent(good)).hasSize(2);
    TellingRow bad = rows.find(TellingRow.class, 4_000_000_000_000L + hours);
    assertThat(bad.growLook).as("put aside").isNull();
  }

  /** A notice is looked at once its second is over, and reminders once a second. */
  @Test
  void twoLooksAtOneMomentAreOne() {
    AlertRow alert = open("host");
    now = now.plusSeconds(2);
    telling.look(now);
    telling.look(now);
    telling.look(now.plusMillis(1));
    assertThat(sent(alert)).hasSize(1);
    assertThat(notices(alert)).extracting(one -> one.state).containsExactly(NoticeRow.TOLD);
  }
}
