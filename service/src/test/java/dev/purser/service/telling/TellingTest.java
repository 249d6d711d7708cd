package dev.purser.service.telling;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.AlertSubject;
import dev.purser.core.definition.Definitions;
import dev.purser.core.reading.SourceFile;
import dev.purser.service.OnDatabase;
import dev.purser.service.alert.AlertRow;
import dev.purser.service.alert.AlertStepRow;
import dev.purser.service.alert.AlertWriter;
import dev.purser.service.alert.Alerts;
import dev.purser.service.alert.DeliveryRow;
import dev.purser.service.alert.NoticeRow;
import dev.purser.service.alert.SiteTrouble;
import dev.purser.service.alert.TellingRow;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.maintenance.MaintenanceRow;
import dev.purser.service.people.People;
import dev.purser.service.people.Role;
import dev.purser.service.publish.Publisher;
import jakarta.persistence.EntityManager;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Who is told of what, when, on a real database. All times lie in 2031, where the service's own
 * teller does not look yet.
 */
class TellingTest extends OnDatabase {
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");

  /** A Tuesday, 14:00 in Oslo. */
  private static final Instant NOON = Instant.parse("2031-05-06T12:00:00Z");

  private static int days;

  @Autowired private Engine engine;
  @Autowired private Publisher publisher;
  @Autowired private AlertWriter writer;
  @Autowired private Alerts alerts;
  @Autowired private Telling telling;
  @Autowired private People people;
  @Autowired private EntityManager rows;
  @Autowired private TransactionTemplate transactions;

  private Instant now;
  private String own;

  /** Each test has a week of its own, and things of its own. */
  @BeforeEach
  void anotherWeek() {
    days += 14;
    now = NOON.plus(Duration.ofDays(days));
    own = "t" + days;
  }

  private Definitions publish(String text) {
    Publisher.Outcome outcome =
        publisher.publish(
            List.of(new SourceFile("a.yaml", text.replace("OWN", own))),
            Optional.empty(),
            IDA,
            "test");
    assertThat(outcome.sound()).as(outcome.problems().toString()).isTrue();
    return engine.definitions();
  }

  private AlertRow open(AlertKind kind, String about, String cause, Instant at, String... to) {
    List<String> names = new ArrayList<>();
    for (String name : to) {
      names.add(own + "-" + name);
    }
    SiteTrouble trouble =
        new SiteTrouble(
            kind,
            own + " " + about,
            AlertSubject.HOST,
            "The " + about,
            "is away",
            Set.copyOf(names),
            Optional.empty(),
            Optional.empty(),
            SiteTrouble.Of.SITE,
            () -> cause.isEmpty() ? "" : own + " " + cause);
    assertThat(writer.open(trouble, engine.definitions(), at)).isTrue();
    return alerts.openAbout(Set.of(kind)).stream()
        .filter(alert -> alert.reference.equals(own + " " + about))
        .reduce((a, b) -> b)
        .orElseThrow();
  }

  private void pass(Duration time) {
    now = now.plus(time);
    telling.look(now);
  }

  /** Channel, address and what it is, of all that goes to names of this test. */
  private List<String> sent() {
    return rows
        .createQuery(
            "from DeliveryRow d where d.recipient like :own or d.recipient like :person order by"
                + " d.id",
            DeliveryRow.class)
        .setParameter("own", own + "-%")
        .setParameter("person", "person " + own + "%")
        .getResultList()
        .stream()
        .map(one -> one.what + " " + one.address)
        .toList();
  }

  private List<String> notices(AlertRow alert) {
    return rows
        .createQuery("from NoticeRow n where n.alert = :id order by n.id", NoticeRow.class)
        .setParameter("id", alert.id)
        .getResultList()
        .stream()
        .map(one -> one.name.replace(own + "-", "") + " " + one.state + " " + one.note)
        .map(String::strip)
        .toList();
  }

  private TellingRow telling(AlertRow alert) {
    return rows.find(TellingRow.class, alert.id);
  }

  private List<String> steps(AlertRow alert) {
    return alerts.steps(List.of(alert.id)).get(alert.id).stream().map(one -> one.what).toList();
  }

  private static final String DESK =
      """
      recipient: OWN-desk
      mail: [desk@OWN.example]
      ---
      recipient: OWN-chief
      mail: [chief@OWN.example]
      ---
      """;

  @Test
  void itIsToldOnceItHasBeenGathered() {
    publish(DESK + "host: buoy");
    AlertRow alert = open(AlertKind.HOST, "host", "", now, "desk");
    telling.look(now.plusMillis(500));
    assertThat(sent()).isEmpty();
    pass(Duration.ofSeconds(1));
    pass(Duration.ofSeconds(1));
    assertThat(sent()).containsExactly("alert desk@" + own + ".example");
    assertThat(notices(alert)).containsExactly("desk told");
  }

  @Test
  void membersDutiesAndPeopleAreReachedEachOnce() {
    people.save(own, Role.OPERATOR, "no hash", false);
    people.changeMail(own, "ola@" + own + ".example");
    publish(
        DESK
            + """
            duty: OWN-night
            zone: Europe/Oslo
            shifts:
              - { from: "08:00", to: "20:00", who: [OWN-desk, person OWN] }
              - { from: "20:00", to: "08:00", who: OWN-chief }
            ---
            recipient: OWN-all
            members: [OWN-night, OWN-desk, OWN-bell, person nobody-x]
            ---
            recipient: OWN-bell
            receives: [late]
            mail: [bell@OWN.example]
            """);
    AlertRow alert = open(AlertKind.HOST, "host", "", now, "all");
    pass(Duration.ofSeconds(2));
    assertThat(sent())
        .containsExactly("alert desk@" + own + ".example", "alert ola@" + own + ".example");
    assertThat(notices(alert))
        .contains(
            "desk told",
            "person " + own + " told",
            "bell dropped does not receive host",
            "person nobody-x dropped there is no such person");
    now = now.plus(Duration.ofHours(8)); // 22:00 in Oslo
    open(AlertKind.HOST, "other host", "", now, "all");
    pass(Duration.ofSeconds(2));
    assertThat(sent()).hasSize(4).contains("alert chief@" + own + ".example");
  }

  /** Whoever knows of the cause is not told of what comes of it; whoever does not, is. */
  @Test
  void whatComesOfOneThingIsToldWithIt() {
    publish(DESK + "host: buoy");
    AlertRow before = open(AlertKind.CALENDAR, "run before", "host", now, "desk");
    AlertRow host = open(AlertKind.HOST, "host", "", now.plusMillis(300), "desk");
    AlertRow after =
        open(AlertKind.FILE, "run after", "host", now.plusMillis(600), "desk", "chief");
    pass(Duration.ofSeconds(2));
    assertThat(sent())
        .containsExactlyInAnyOrder(
            "alert desk@" + own + ".example", "alert chief@" + own + ".example");
    assertThat(notices(before)).containsExactly("desk folded told with alert " + host.id);
    assertThat(notices(after))
        .containsExactlyInAnyOrder("desk folded told with alert " + host.id, "chief told");
    assertThat(telling(before).partOf).isEqualTo(host.id);
    assertThat(telling(host).parts).isEqualTo(2);
    assertThat(alerts.partsOf(host.id, 10)).extracting(one -> one.id).contains(before.id, after.id);
    pass(Duration.ofMinutes(2));
    assertThat(sent()).as("two were there when it was told").hasSize(2);
    for (int i = 0; i < 3; i++) {
      open(AlertKind.FILE, "late " + i, "host", now, "desk");
    }
    pass(Duration.ofSeconds(2));
    pass(Duration.ofMinutes(2));
    pass(Duration.ofSeconds(2));
    assertThat(sent()).as("five: more than twice as many").hasSize(3);
    assertThat(steps(host)).containsExactly("opened", "grew");
  }

  @Test
  void aMoreUrgentOneIsToldAllTheSame() {
    publish(DESK + "recipient: OWN-x\nmail: [x@OWN.example]");
    AlertRow host = open(AlertKind.CALENDAR, "host", "", now, "desk");
    AlertRow run = open(AlertKind.HOST, "run", "host", now, "desk");
    transactions.executeWithoutResult(
        any ->
            rows.createQuery("update NoticeRow n set n.urgency = 'urgent' where n.alert = :id")
                .setParameter("id", run.id)
                .executeUpdate());
    pass(Duration.ofSeconds(2));
    assertThat(telling(run).partOf).isEqualTo(host.id);
    assertThat(notices(run)).containsExactly("desk told");
  }

  @Test
  void inQuietHoursOnlyWhatIsUrgentIsToldAndTheRestComesTogether() {
    publish(
        """
        recipient: OWN-desk
        mail: [desk@OWN.example]
        zone: Europe/Oslo
        quiet: [ { from: "13:00", to: "15:30" } ]
        """);
    AlertRow first = open(AlertKind.CALENDAR, "one", "", now, "desk");
    open(AlertKind.FILE, "two", "", now, "desk");
    pass(Duration.ofSeconds(2));
    assertThat(sent()).isEmpty();
    assertThat(notices(first)).containsExactly("desk waits quiet time");
    pass(Duration.ofMinutes(89));
    assertThat(sent()).isEmpty();
    pass(Duration.ofMinutes(2));
    assertThat(sent()).containsExactly("digest desk@" + own + ".example");
    assertThat(notices(first)).containsExactly("desk told after quiet time");
  }

  @Test
  void whatIsOverTheLimitComesTogetherWhenThereIsRoom() {
    publish("recipient: OWN-desk\nmail: [desk@OWN.example]\nat-most: { an-hour: 2 }");
    for (int i = 0; i < 5; i++) {
      open(AlertKind.FILE, "file " + i, "", now.plusSeconds(i), "desk");
    }
    pass(Duration.ofSeconds(10));
    assertThat(sent()).hasSize(2);
    pass(Duration.ofMinutes(59));
    assertThat(sent()).hasSize(2);
    pass(Duration.ofMinutes(2));
    assertThat(sent()).hasSize(3).last().isEqualTo("digest desk@" + own + ".example");
  }

  @Test
  void nobodyTakesItOnSoItIsEscalatedAndPeopleAreReminded() {
    publish(
        DESK
            + """
            alerts-of: department OWN
            alerts:
              - kind: host
                tell: [OWN-desk]
                escalation: [ { after: 15m, tell: [OWN-chief] } ]
                remind-every: 10m
            ---
            commitment: OWN-promise
            department: OWN
            of: OWN/a
            done-by: "22:00"
            zone: UTC
            ---
            host: buoy
            ---
            stream: OWN/a
            jobs: { load: { host: buoy, run: x } }
            """);
    SiteTrouble trouble =
        new SiteTrouble(
            AlertKind.HOST,
            own + " promise",
            AlertSubject.COMMITMENT,
            "The promise",
            "is in danger",
            Set.of(),
            engine.definitions().commitment(own + "-promise"),
            Optional.empty(),
            SiteTrouble.Of.SITE,
            () -> "");
    writer.open(trouble, engine.definitions(), now);
    AlertRow alert =
        alerts.openAbout(Set.of(AlertKind.HOST)).stream()
            .filter(one -> one.reference.equals(own + " promise"))
            .findFirst()
            .orElseThrow();
    pass(Duration.ofSeconds(2));
    assertThat(sent()).containsExactly("alert desk@" + own + ".example");
    pass(Duration.ofMinutes(10));
    pass(Duration.ofSeconds(2));
    assertThat(sent()).as("a reminder").hasSize(2);
    pass(Duration.ofMinutes(5));
    pass(Duration.ofSeconds(2));
    assertThat(sent()).hasSize(3).last().isEqualTo("alert chief@" + own + ".example");
    assertThat(steps(alert)).containsExactly("opened", "reminded", "escalated");
    alerts.acknowledge(alert.id, "ola", now);
    pass(Duration.ofMinutes(30));
    pass(Duration.ofSeconds(2));
    assertThat(sent()).as("somebody has it").hasSize(3);
  }

  @Test
  void whoWantsToKnowIsToldThatItIsOver() {
    publish(
        """
        recipient: OWN-desk
        mail: [desk@OWN.example]
        when-over: yes
        ---
        recipient: OWN-chief
        mail: [chief@OWN.example]
        """);
    AlertRow alert = open(AlertKind.FILE, "file", "", now, "desk", "chief");
    pass(Duration.ofSeconds(2));
    assertThat(sent()).hasSize(2);
    alerts.close(alert.id, "", "it has come", now);
    pass(Duration.ofSeconds(1));
    pass(Duration.ofSeconds(2));
    assertThat(sent()).hasSize(3).last().isEqualTo("alert desk@" + own + ".example");
    pass(Duration.ofMinutes(30));
    assertThat(sent()).hasSize(3);
  }

  /** An alert about a run, as the engine writes it. */
  private AlertRow failed(int run, Instant at, String to) {
    return transactions.execute(
        any -> {
          AlertRow alert = new AlertRow();
          alert.kind = "failed";
          alert.about = "run";
          alert.run = days * 100_000L + run;
          alert.reference = own + "/a/job-" + run + "@2031-05-06#1";
          alert.stream = own + "/a";
          alert.title = "Job " + run;
          alert.text = "exit code 1";
          alert.urgency = "warning";
          alert.rule = "built in";
          alert.ownKey = "run " + alert.run;
          alert.cause = "";
          alert.opened = at;
          alert.acknowledgedBy = "";
          alert.closedBecause = "";
          rows.persist(alert);
          AlertStepRow step = AlertStepRow.of(alert, "opened", "", alert.text, at);
          rows.persist(TellingRow.of(alert));
          rows.persist(step);
          rows.persist(NoticeRow.of(step, own + "-" + to, "rule", "warning"));
          return alert;
        });
  }

  @Test
  void aStormIsOneAlertAndNothingIsHidden() {
    publish(DESK + "host: buoy");
    List<AlertRow> all = new ArrayList<>();
    for (int i = 0; i < 40; i++) {
      all.add(failed(i, now.plusMillis(10L * i), "desk"));
    }
    pass(Duration.ofSeconds(2));
    assertThat(sent()).hasSize(1);
    AlertRow head = all.get(0);
    assertThat(telling(head).parts).isEqualTo(39);
    assertThat(alerts.partsOf(head.id, 100)).hasSize(39);
    for (int i = 40; i < 60; i++) {
      all.add(failed(i, now.plusMillis(i), "desk"));
    }
    pass(Duration.ofSeconds(5));
    assertThat(telling(head).parts).as("the storm goes on").isEqualTo(59);
    assertThat(sent()).as("not twice as many").hasSize(1);
    pass(Duration.ofMinutes(5));
    failed(60, now, "desk");
    pass(Duration.ofSeconds(2));
    assertThat(sent()).as("a single one, later, is told").hasSize(2);
    Alerts.Filter heads =
        new Alerts.Filter(
            false,
            true,
            0,
            List.of(),
            List.of(),
            new Alerts.Filter.Belongs(List.of(own + "/a"), List.of()),
            "",
            null,
            null,
            null);
    assertThat(alerts.list(heads, Long.MAX_VALUE, 100)).hasSize(2);
    alerts.close(head.id, "ola", "mended", now);
    assertThat(alerts.list(heads, Long.MAX_VALUE, 100))
        .as("what is left stands by itself")
        .hasSize(60);
  }

  private MaintenanceRow muted(String scope, String name, Duration length) {
    return transactions.execute(
        any -> {
          MaintenanceRow row = new MaintenanceRow();
          row.what = MaintenanceRow.MUTE;
          row.scope = scope;
          row.name = name;
          row.begins = now.minusSeconds(1);
          row.ends = now.plus(length);
          row.reason = "new pump";
          row.who = "ola";
          row.made = now;
          row.state = "on";
          row.note = "";
          rows.persist(row);
          return row;
        });
  }

  @Test
  void whatIsMutedWaitsAndWhatIsOpenThenComesTogether() {
    publish(DESK + "host: buoy");
    muted("stream", own + "/a", Duration.ofHours(1));
    AlertRow one = failed(1, now, "desk");
    AlertRow two = failed(2, now, "desk");
    failed(3, now, "desk");
    AlertRow other = open(AlertKind.FILE, "file", "", now, "chief");
    pass(Duration.ofSeconds(2));
    assertThat(sent()).containsExactly("alert chief@" + own + ".example");
    assertThat(notices(one).get(0)).startsWith("desk waits muted (").endsWith("by ola: new pump");
    assertThat(notices(other)).containsExactly("chief told");
    alerts.close(two.id, "ola", "mended", now);
    pass(Duration.ofHours(1));
    assertThat(sent()).hasSize(2).last().isEqualTo("digest desk@" + own + ".example");
    assertThat(notices(two).get(0)).startsWith("desk dropped it was over before");
  }

  /** A notice of an alert that is gone: the record is as no program of ours leaves it. */
  @Test
  void oneThatCannotBeToldStopsNoOther() {
    publish(DESK + "host: buoy");
    AlertRow good = failed(1, now, "desk");
    transactions.executeWithoutResult(
        any -> {
          AlertStepRow step = AlertStepRow.of(good, "opened", "", "x", now);
          step.id = Long.MAX_VALUE;
          NoticeRow bad = NoticeRow.of(step, own + "-desk", "rule", "warning");
          bad.alert = Long.MAX_VALUE;
          rows.persist(bad);
        });
    pass(Duration.ofSeconds(2));
    assertThat(sent()).hasSize(1);
    assertThat(notices(good)).containsExactly("desk told");
    AlertRow gone = new AlertRow();
    gone.id = Long.MAX_VALUE;
    assertThat(notices(gone))
        .containsExactly("desk dropped it cannot be told; the service's log says why");
    transactions.executeWithoutResult(
        any ->
            rows.createQuery("delete from NoticeRow n where n.alert = :id")
                .setParameter("id", Long.MAX_VALUE)
                .executeUpdate());
  }

  @Test
  void tenAreNoStorm() {
    publish(DESK + "host: buoy");
    for (int i = 0; i < 10; i++) {
      failed(i, now.plusMillis(10L * i), "desk");
    }
    pass(Duration.ofSeconds(2));
    assertThat(sent()).hasSize(10);
  }

  /** Two looks at one time, or a look after a crash, tell nobody twice. */
  @Test
  void aLookThatIsRepeatedTellsNothingTwice() {
    publish(DESK + "host: buoy");
    failed(1, now, "desk");
    now = now.plusSeconds(2);
    for (int i = 0; i < 3; i++) {
      telling.look(now);
    }
    assertThat(sent()).hasSize(1);
  }

  @Test
  void theSiteAndAWayHaveLimitsOfTheirOwn() {
    publish(
        """
        recipient: OWN-desk
        mail: [desk@OWN.example]
        ---
        recipient: OWN-chief
        webhook: https://OWN.example/in
        ---
        alerts-of: site
        at-most: { an-hour: 4, urgent-an-hour: 1 }
        by-way: { mail: { an-hour: 2 } }
        """);
    try {
      for (int i = 0; i < 3; i++) {
        open(AlertKind.FILE, "file " + i, "", now.plusSeconds(i), "desk");
      }
      pass(Duration.ofSeconds(10));
      assertThat(sent()).as("two by mail").hasSize(2);
      for (int i = 3; i < 6; i++) {
        open(AlertKind.FILE, "file " + i, "", now.plusSeconds(i), "chief");
      }
      pass(Duration.ofSeconds(10));
      assertThat(sent()).as("four of the site").hasSize(4);
      List<String> why =
          rows.createQuery(
                  "select n.note from NoticeRow n where n.state = 'waits' and n.name like :own"
                      + " order by n.id",
                  String.class)
              .setParameter("own", own + "-%")
              .getResultList();
      assertThat(why)
          .containsExactly("more than goes by mail at once", "more than the site tells at once");
      pass(Duration.ofMinutes(61));
      pass(Duration.ofMinutes(61));
      assertThat(sent()).as("nothing is lost").hasSize(6);
    } finally {
      publish("alerts-of: site\nalerts: [ { kind: cancelled, none: yes } ]");
    }
  }
}
