package dev.purser.service.telling;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.Action;
import dev.purser.core.run.Ending;
import dev.purser.core.run.RunState;
import dev.purser.service.OnDatabase;
import dev.purser.service.action.Actions;
import dev.purser.service.action.Start;
import dev.purser.service.alert.AlertActRow;
import dev.purser.service.alert.AlertRow;
import dev.purser.service.alert.Alerts;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.publish.Publisher;
import jakarta.persistence.EntityManager;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Alerts by rules, on a real database: whom they tell, in which words, and what becomes of them.
 */
class RulesOnRecordTest extends OnDatabase {
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");
  private static final LocalDate DATE = LocalDate.of(2027, 5, 4);

  @Autowired private Engine engine;
  @Autowired private Publisher publisher;
  @Autowired private Actions actions;
  @Autowired private Alerts alerts;
  @Autowired private Telling telling;
  @Autowired private RuleActs acts;
  @Autowired private TransactionTemplate transactions;
  @Autowired private EntityManager rows;
  @Autowired private AuditTrail audit;

  private long started(String rules) {
    engine.tell(now -> new BoardEvent.HostSeen(now, "buoy", Set.of())).join();
    String text =
        """
        host: buoy
        ---
        recipient: rules-desk
        mail: [desk@brannoch.example]
        ---
        recipient: rules-chief
        mail: [chief@brannoch.example]
        ---
        alerts-of: department Rules
        alerts: [ { kind: failed, urgency: urgent, say: "call ${host}: ${text}" } ]
        ---
        stream: ruled/mend
        alerts: [ { kind: failed, none: yes } ]
        parameters: { what: nothing }
        jobs: { mend: { host: buoy, run: x } }
        ---
        stream: ruled/a
        department: Rules
        owner: rules-desk
        alerts: [ %s ]
        jobs: { load: { title: Load it, host: buoy, run: x } }
        """
            .formatted(rules);
    Publisher.Outcome outcome =
        publisher.publish(List.of(new SourceFile("a.yaml", text)), Optional.empty(), IDA, "test");
    assertThat(outcome.sound()).as(outcome.problems().toString()).isTrue();
    return actions
        .start(Start.of("ruled/a", Optional.empty(), DATE), Optional.empty(), IDA, "")
        .get(0);
  }

  private void attempt(long run, int number, int code, Map<String, String> values) {
    engine.tell(now -> new BoardEvent.AttemptBegan(now, run, number)).join();
    engine
        .tell(
            now -> new BoardEvent.AttemptEnded(now, run, number, Ending.exited(code), now, values))
        .join();
  }

  private List<AlertRow> of(long run) {
    return alerts.list(Alerts.Filter.ALL, Long.MAX_VALUE, 500).stream()
        .filter(alert -> alert.run == run)
        .toList();
  }

  private List<String> told(AlertRow alert) {
    telling.look(Instant.now().plusSeconds(2));
    return alerts.deliveries(List.of(alert.id)).getOrDefault(alert.id, List.of()).stream()
        .map(delivery -> delivery.recipient)
        .toList();
  }

  @Test
  void whatIsOnlyToBeToldIsToldAndOver() {
    long run = started("{ kind: started, tell: [rules-chief], say: \"${title} of ${date}\" }");
    AlertRow alert = of(run).get(0);
    assertThat(alert.kind).isEqualTo("started");
    assertThat(alert.text).isEqualTo("Load it of 2027-05-04");
    assertThat(alert.urgency).isEqualTo("note");
    assertThat(alert.rule).isEqualTo("stream ruled/a");
    assertThat(alert.state(Instant.now())).isEqualTo("closed");
    assertThat(told(alert)).containsExactly("rules-chief");
    attempt(run, 1, 0, Map.of());
    assertThat(of(run)).as("nobody asks for successes").hasSize(1);
  }

  @Test
  void aValueThatIsNotAsItShouldBeStaysOpenUntilTheRunStartsAgain() {
    long run = started("{ kind: value, when: value rows < 1000 }, { kind: retried }");
    attempt(run, 1, 0, Map.of("rows", "12"));
    AlertRow alert = of(run).get(0);
    assertThat(alert.kind).isEqualTo("value");
    assertThat(alert.state(Instant.now())).isEqualTo("open");
    assertThat(told(alert)).containsExactly("rules-desk");
    actions.act(run, Action.RERUN, 0, IDA, "the file was late");
    assertThat(of(run))
        .extracting(one -> one.kind + " " + one.state(Instant.now()))
        .containsExactly("retried closed", "value closed");
    assertThat(alerts.byId(alert.id).orElseThrow().closedBecause).isEqualTo("it runs again");
    attempt(run, 2, 0, Map.of("rows", "1000"));
    assertThat(of(run)).hasSize(2);
  }

  @Test
  void whatIsPutOffIsOpenAgainWhenItsTimeHasCome() {
    long run = started("{ kind: value, when: value rows < 1000 }");
    attempt(run, 1, 0, Map.of("rows", "12"));
    AlertRow alert = of(run).get(0);
    Instant now = Instant.now();
    assertThat(alerts.putOff(alert.id, "ida", now.plusSeconds(3_600), "at the next shift", now))
        .isTrue();
    AlertRow later = alerts.byId(alert.id).orElseThrow();
    assertThat(later.state(now.plusSeconds(60))).isEqualTo("put off");
    assertThat(later.state(now.plusSeconds(3_601))).isEqualTo("open");
    assertThat(alerts.comment(alert.id, "ida", "the sender knows", now)).isTrue();
    assertThat(alerts.acknowledge(alert.id, "ola", now)).isTrue();
    assertThat(alerts.close(alert.id, "ola", "closed by ola: sent again", now)).isTrue();
    assertThat(alerts.putOff(alert.id, "ida", now.plusSeconds(60), "x", now)).isFalse();
    assertThat(alerts.comment(alert.id, "ida", "thanks", now)).isTrue();
    assertThat(alerts.steps(List.of(alert.id)).get(alert.id))
        .extracting(step -> step.what + " " + step.who)
        .containsExactly(
            "opened ",
            "put off ida",
            "commented ida",
            "acknowledged ola",
            "closed ola",
            "commented ida");
  }

  @Test
  void theDepartmentSaysHowFailuresAreToldAndAStreamMaySwitchThemOff() {
    long run = started("{ kind: late, none: yes }");
    attempt(run, 1, 3, Map.of());
    assertThat(of(run))
        .singleElement()
        .satisfies(
            alert -> {
              assertThat(alert.text).isEqualTo("call buoy: exit code 3");
              assertThat(alert.urgency).isEqualTo("urgent");
              assertThat(alert.rule).isEqualTo("department Rules");
            });
    long quiet = started("{ kind: failed, none: yes }");
    attempt(quiet, 1, 3, Map.of());
    assertThat(of(quiet)).isEmpty();
  }

  private List<String> acted(long run) {
    return of(run).stream()
        .flatMap(alert -> alerts.steps(List.of(alert.id)).get(alert.id).stream())
        .filter(step -> step.what.equals("acted"))
        .map(step -> step.text)
        .toList();
  }

  @Test
  void aRuleRerunsSoOftenAndNoMore() {
    long run = started("{ kind: failed, tell: [rules-chief], do: { rerun: 1 } }");
    attempt(run, 1, 3, Map.of());
    acts.look();
    acts.look();
    assertThat(acted(run)).containsExactly("it runs again");
    assertThat(of(run)).as("it goes on").allMatch(alert -> alert.closed != null);
    attempt(run, 2, 3, Map.of());
    acts.look();
    assertThat(acted(run))
        .hasSize(2)
        .anyMatch(text -> text.startsWith("not done: it was done once for this run"));
    assertThat(state(run)).isEqualTo(RunState.FAILED);
  }

  @Test
  void aRuleMarksAndSaysSoInTheAuditTrail() {
    long run = started("{ kind: failed, do: { mark: succeeded, after: 1s } }");
    attempt(run, 1, 3, Map.of());
    acts.look();
    assertThat(state(run)).isEqualTo(RunState.FAILED);
    await().atMost(Duration.ofSeconds(10)).until(() -> state(run) == RunState.SUCCEEDED);
    await()
        .atMost(Duration.ofSeconds(10))
        .untilAsserted(
            () ->
                assertThat(entries("rule"))
                    .anySatisfy(
                        entry -> assertThat(entry).contains("rule of stream ruled/a, alert ")));
  }

  @Test
  void whatWasClosedBeforeIsLeftAlone() {
    long run = started("{ kind: failed, do: { rerun: 3, after: 1s } }");
    attempt(run, 1, 3, Map.of());
    alerts.close(of(run).get(0).id, "ola", "mended by hand", Instant.now());
    await().atMost(Duration.ofSeconds(10)).until(() -> !acted(run).isEmpty());
    assertThat(acted(run)).containsExactly("not done: the alert was closed before");
  }

  /**
   * The started stream's own failure starts it again, by a rule of its own; three rounds, no more.
   */
  @Test
  void aStreamIsStartedOnceWithWhatTheAlertKnows() {
    long run =
        started(
            "{ kind: failed, do: { start: ruled/mend, with: { what: \"${run} ${exit-code}\" } } }");
    attempt(run, 1, 3, Map.of());
    acts.look();
    acts.look();
    assertThat(acted(run))
        .hasSize(1)
        .first()
        .asString()
        .startsWith("started ruled/mend@2027-05-04#");
    long mend =
        engine.look(
            board ->
                board.runs().stream()
                    .filter(spec -> spec.run().reference().stream().equals("ruled/mend"))
                    .mapToLong(spec -> spec.id())
                    .max()
                    .orElseThrow());
    Map<String, String> given =
        engine.look(board -> board.run(mend).orElseThrow().run().parameters().values());
    assertThat(given).containsEntry("what", "ruled/a/load@2027-05-04#" + number(run) + " 3");
  }

  /** As if an alert had started this run, and one of what that started, and so on. */
  @Test
  void whatWasStartedFromAlertsThreeTimesOverStartsNothingMore() {
    long run = started("{ kind: failed, do: { start: ruled/mend } }");
    transactions.executeWithoutResult(
        any -> {
          AlertActRow before = new AlertActRow();
          before.rule = "stream ruled/z";
          before.what = "start";
          before.argument = "{}";
          before.due = Instant.now();
          before.done = Instant.now();
          before.state = "done";
          before.note = "";
          before.round = 3;
          before.started = "ruled/a@2027-05-04#" + number(run);
          rows.persist(before);
        });
    attempt(run, 1, 3, Map.of());
    acts.look();
    assertThat(acted(run)).hasSize(1).first().asString().contains("it goes in a circle");
  }

  /** Nobody has heard of the host yet that it waits for. */
  @Test
  void aRunThatWaitsForLongIsToldUntilItWaitsNoMore() {
    started("{ kind: started, none: yes }");
    String text =
        """
        host: far-buoy
        ---
        stream: ruled/waits
        owner: rules-desk
        alerts: [ { kind: waits-long, longer-than: 1s, urgency: urgent } ]
        jobs: { load: { host: far-buoy, run: x } }
        """;
    assertThat(
            publisher
                .publish(List.of(new SourceFile("w.yaml", text)), Optional.empty(), IDA, "test")
                .sound())
        .isTrue();
    long run =
        actions
            .start(Start.of("ruled/waits", Optional.empty(), DATE), Optional.empty(), IDA, "")
            .get(0);
    await().atMost(Duration.ofSeconds(20)).until(() -> !of(run).isEmpty());
    AlertRow alert = of(run).get(0);
    assertThat(alert.kind).isEqualTo("waits-long");
    assertThat(alert.urgency).isEqualTo("urgent");
    assertThat(alert.rule).isEqualTo("stream ruled/waits");
    assertThat(alert.text).startsWith("has waited for longer than 1s: ").contains("far-buoy");
    assertThat(alert.page()).isEqualTo("/runs/" + run);
    assertThat(told(alert)).containsExactly("rules-desk");
    actions.act(run, Action.CANCEL, 0, IDA, "not today");
    await().atMost(Duration.ofSeconds(20)).until(() -> of(run).get(0).closed != null);
  }

  private List<String> entries(String who) {
    AuditTrail.Filter filter = new AuditTrail.Filter("", who, "", null, null);
    return audit.list(filter, Long.MAX_VALUE, 99).stream().map(one -> one.reason).toList();
  }

  private RunState state(long run) {
    return engine.look(board -> board.state(run).orElseThrow());
  }

  private int number(long run) {
    return engine.look(board -> board.run(run).orElseThrow().run().reference().number());
  }

  @Test
  void whatAPersonDoesToARunIsToldWhereSomebodyAsksForIt() {
    long run = started("{ kind: acted-on, tell: [rules-chief] }");
    actions.act(run, Action.CANCEL, 0, IDA, "wrong date");
    assertThat(of(run))
        .singleElement()
        .satisfies(
            alert -> {
              assertThat(alert.kind).isEqualTo("acted-on");
              assertThat(alert.text).isEqualTo("acted on by ida: cancel, because: wrong date");
              assertThat(alert.closed).isNotNull();
              assertThat(told(alert)).containsExactly("rules-chief");
            });
  }

  @Test
  void aValueUnlikeThoseOfTheLastDatesIsTold() {
    long last = 0;
    for (int i = 0; i <= 11; i++) {
      last = started("{ kind: value, unusual: rows, beyond: 10 % }");
      attempt(last, 1, 0, Map.of("rows", "" + (i == 11 ? 12 : 1_000 + i)));
    }
    assertThat(of(last))
        .singleElement()
        .satisfies(
            alert ->
                assertThat(alert.text)
                    .startsWith("handed back rows = 12; its last ")
                    .endsWith(" to 1010"));
  }
}
