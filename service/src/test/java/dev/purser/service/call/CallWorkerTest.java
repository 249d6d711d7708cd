package dev.purser.service.call;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.Action;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.outside.RemoteDesk;
import dev.purser.outside.RemoteDesk.Mishap;
import dev.purser.service.OnRuns;
import dev.purser.service.action.Actions;
import dev.purser.service.action.Start;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.publish.Publisher;
import dev.purser.service.secret.SecretPermits;
import dev.purser.service.secret.SecretSource;
import dev.purser.service.secret.StoredSecrets;
import dev.purser.service.work.Attempt;
import java.io.IOException;
import java.time.Duration;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.jdbc.core.JdbcTemplate;

/** Calls of remote services: a real service and database, and a stand-in that has mishaps. */
class CallWorkerTest extends OnRuns {
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");

  @Autowired private JdbcTemplate rows;
  @Autowired private CallWorker worker;
  @Autowired private CallDesk calls;
  @Autowired private Engine engine;
  @Autowired private Publisher publisher;
  @Autowired private Actions actions;
  @Autowired private StoredSecrets secrets;
  @Autowired private SecretPermits permits;

  private RemoteDesk desk;

  @BeforeEach
  void open() throws IOException {
    desk = new RemoteDesk(0);
    secrets.set("harbour-client", "made-up-client-secret", IDA, "");
    secrets.set("bureau-key", "made-up-api-key", IDA, "");
    String here = "http://127.0.0.1:" + desk.port();
    permits.allow(SecretSource.of("stored", "harbour-client", here), IDA, "");
    permits.allow(SecretSource.of("stored", "bureau-key", here), IDA, "");
    publish(DEFINITIONS.replace("@here@", here));
  }

  private void publish(String text) {
    Publisher.Outcome outcome =
        publisher.publish(List.of(new SourceFile("a.yaml", text)), Optional.empty(), IDA, "test");
    assertThat(outcome.problems()).isEmpty();
    assertThat(outcome.sound()).isTrue();
  }

  @AfterEach
  void close() {
    desk.close();
  }

  private static final String DEFINITIONS =
      """
      connection: harbour-office
      address: @here@/harbour
      user: purser
      secret: harbour-client
      sign-in: oauth2
      token-address: @here@/token
      ---
      connection: bureau
      address: @here@/bureau
      secret: bureau-key
      sign-in: header
      header: X-Api-Key
      ---
      remote-service: harbour-office
      connection: harbour-office
      operations:
        file-manifest:
          start:
            request: POST /filings
            json: { vessel: "${vessel}", seconds: { as-number: "${seconds}" }, ends: "${ends}" }
            id: /filing/id
            link: /filing/link
            key-header: Idempotency-Key
          look:
            request: GET /filings/${remote.id}
            state: /state
            running: queued, working
            succeeded: filed
            failed: refused
            cancelled: withdrawn
            error: /problem
            progress: /percent
            values: { receipt: /receipt/number }
          stop: { request: "DELETE /filings/${remote.id}" }
          log: { request: "GET /filings/${remote.id}/log" }
          recent:
            request: GET /filings
            query: { since: "${remote.from}" }
            items: /filings
            id: /id
            state: /state
            started: /begun
            key: /key
      ---
      remote-service: bureau
      connection: bureau
      operations:
      """
          + bureau("model", true)
          + bureau("blind", false)
          + """
          ---
          stream: remote/filing
          parameters: { vessel: nordlys, seconds: "0.3", ends: well }
          jobs:
            file: { call: file-manifest of harbour-office, every: 1s, growing-to: 1s, bears-outage: 20s }
          ---
          stream: remote/adopting
          parameters: { vessel: nordlys, seconds: "0.3", ends: well }
          jobs:
            file:
              call: file-manifest of harbour-office
              every: 1s
              growing-to: 1s
              unless-running: adopt
          ---
          stream: remote/skipping
          parameters: { vessel: nordlys, seconds: "0.3", ends: well }
          jobs:
            file: { call: file-manifest of harbour-office, every: 1s, growing-to: 1s, unless-running: skip }
          ---
          stream: remote/apart
          parameters: { vessel: nordlys, seconds: "1", ends: well }
          jobs:
            start: { call: file-manifest of harbour-office, until: started }
            watch:
              call: follow file-manifest of harbour-office
              id: ${value remote-id of start}
              waits-for: start succeeded
              every: 1s
              growing-to: 1s
          ---
          stream: remote/model
          parameters: { seconds: "0.3" }
          jobs:
            run: { call: model of bureau, every: 1s, growing-to: 1s }
          ---
          stream: remote/blind
          parameters: { seconds: "0.3" }
          jobs:
            run: { call: blind of bureau, every: 1s, growing-to: 1s }
          """;

  private static String bureau(String name, boolean lists) {
    String operation =
        """
          @name@:
            start:
              request: POST /start
              form: { seconds: "${seconds}", reference: "${remote.key}" }
              id: /ticket/no
            look:
              request: GET /status?ticket=${remote.id}
              state: /ticket/code
              running: RUN
              succeeded: DONE
              failed: ERR
              cancelled: CANC
              error: /ticket/reason
        """
            .replace("@name@", name);
    String list =
        """
            recent:
              request: GET /tickets
              id: /no
              state: /code
              started: /at
              key: /reference
        """;
    return lists ? operation + list : operation;
  }

  private long started(String stream, Map<String, String> parameters) {
    Start start =
        new Start(stream, Optional.empty(), false, LocalDate.of(2027, 5, 4), parameters, Set.of());
    return actions.start(start, Optional.empty(), IDA, "").get(0);
  }

  // ---- its usual course

  @Test
  void itIsAskedFollowedAndItsValuesComeBack() {
    long run = started("remote/filing", Map.of());
    ends(run, RunState.SUCCEEDED);
    RemoteDesk.Task task = desk.begun().get(0);
    assertThat(status(run).values())
        .containsEntry("remote-id", task.id())
        .containsEntry("receipt", "BS-" + task.id())
        .containsEntry("remote-state", "filed");
    assertThat(task.what()).contains("\"seconds\":0.3").contains("\"vessel\":\"nordlys\"");
    assertThat(output(run))
        .contains("it runs there as " + task.id() + ": http://")
        .contains("there it is filed, 100 %")
        .contains("checked against the vessel's register");
    assertThat(calls.of(run).get(0).phase()).isEqualTo("ended");
    assertThat(desk.tokensGiven()).isEqualTo(1);
  }

  @Test
  void itsIdIsAValueAsSoonAsItIsKnown() {
    long run = started("remote/filing", Map.of("seconds", "3"));
    await().atMost(SOON).until(() -> state(run) == RunState.RUNNING && !desk.begun().isEmpty());
    String id = desk.begun().get(0).id();
    await().atMost(SOON).until(() -> id.equals(status(run).values().get("remote-id")));
    onRecord();
    assertThat(
            rows.queryForObject(
                "select value from run_value where run = ? and name = 'remote-id'",
                String.class,
                run))
        .isEqualTo(id);
    ends(run, RunState.SUCCEEDED);
    assertThat(rows.queryForList("select name from run_value where run = ?", String.class, run))
        .contains("remote-id", "receipt")
        .doesNotHaveDuplicates();
  }

  @Test
  void whatFailsThereFailsWithItsOwnWords() {
    long run = started("remote/filing", Map.of("ends", "badly"));
    ends(run, RunState.FAILED);
    assertThat(status(run).note()).contains("the deck count does not match the bookings");
  }

  @Test
  void whatIsRefusedFailsAndWasNotBegun() {
    long run = started("remote/filing", Map.of("vessel", ""));
    ends(run, RunState.FAILED);
    assertThat(status(run).note()).contains("422").contains("a filing needs a vessel");
    assertThat(desk.begun()).isEmpty();
  }

  @ParameterizedTest
  @CsvSource({"'a\",\"ends\":\"badly'", "'${date}'", "'x\ny'"})
  void aValueStaysOneValue(String vessel) {
    long run = started("remote/filing", Map.of("vessel", vessel));
    ends(run, RunState.SUCCEEDED);
    assertThat(desk.begun()).hasSize(1);
  }

  @Test
  void whatWasOnlyStartedIsWatchedByAnotherJob() {
    started("remote/apart", Map.of());
    await()
        .atMost(SOON)
        .until(
            () ->
                engine.look(
                    board ->
                        board.runs().stream()
                            .filter(run -> run.run().reference().stream().equals("remote/apart"))
                            .allMatch(run -> board.state(run.id()).orElseThrow().isEnded())));
    assertThat(desk.begun()).hasSize(1);
    RunSpec watch =
        engine.look(
            board ->
                board.runs().stream()
                    .filter(run -> run.run().reference().job().equals("watch"))
                    .findFirst()
                    .orElseThrow());
    assertThat(status(watch.id()).values()).containsEntry("remote-id", desk.begun().get(0).id());
  }

  // ---- mishaps: nothing twice, nothing forgotten

  @ParameterizedTest
  @EnumSource(
      value = Mishap.class,
      names = {"TAKEN_BUT_CUT", "CUT", "TAKEN_BUT_500", "HTML", "TOO_MANY", "EXPIRED"})
  void whateverHappensToTheStartItBeginsOnce(Mishap mishap) {
    desk.atStart(mishap);
    long run = started("remote/filing", Map.of());
    ends(run, RunState.SUCCEEDED);
    assertThat(desk.begun()).hasSize(1);
  }

  @Test
  void aSignInIsNotCarriedToAnotherHost() {
    desk.atStart(Mishap.REDIRECT);
    long run = started("remote/filing", Map.of());
    ends(run, RunState.FAILED);
    assertThat(status(run).note()).contains("redirects are not followed");
  }

  @ParameterizedTest
  @EnumSource(
      value = Mishap.class,
      names = {"CUT", "HTML", "TOO_MANY", "EXPIRED", "STRANGE_WORD", "REDIRECT", "FORGOTTEN"})
  void aLookThatGoesWrongIsNoEnd(Mishap mishap) {
    desk.atLook(mishap);
    long run = started("remote/filing", Map.of());
    ends(run, RunState.SUCCEEDED);
    assertThat(desk.begun()).hasSize(1);
  }

  @Test
  void anOutageIsBorne() {
    long run = started("remote/filing", Map.of("seconds", "2"));
    await().atMost(SOON).until(() -> state(run) == RunState.RUNNING);
    desk.away(Duration.ofSeconds(3));
    ends(run, RunState.SUCCEEDED);
    assertThat(output(run)).contains("borne for 20s").contains("the service answers again");
  }

  @Test
  void aServiceThatKnowsNoKeyIsSearchedForIt() {
    desk.atStart(Mishap.TAKEN_BUT_CUT);
    long run = started("remote/model", Map.of());
    ends(run, RunState.SUCCEEDED);
    assertThat(desk.begun()).hasSize(1);
  }

  @Test
  void whereNobodyKnowsAPersonSaysAsWhatItRuns() {
    desk.atStart(Mishap.TAKEN_BUT_500);
    long run = started("remote/blind", Map.of());
    await()
        .atMost(SOON)
        .until(() -> calls.of(run).stream().anyMatch(c -> c.phase().equals("person")));
    assertThat(state(run)).isEqualTo(RunState.STARTING);
    await().atMost(SOON).until(() -> status(run).openAlerts().contains(AlertKind.APPROVAL));
    assertThat(worker.said(run, desk.begun().get(0).id())).isTrue();
    ends(run, RunState.SUCCEEDED);
    assertThat(desk.begun()).hasSize(1);
    assertThat(status(run).openAlerts()).isEmpty();
    assertThat(worker.said(run, "9")).isFalse();
  }

  @Test
  void orThatItDidNotStart() {
    desk.atStart(Mishap.CUT);
    long run = started("remote/blind", Map.of());
    await()
        .atMost(SOON)
        .until(() -> calls.of(run).stream().anyMatch(c -> c.phase().equals("person")));
    assertThat(worker.said(run, "")).isTrue();
    ends(run, RunState.SUCCEEDED);
    assertThat(desk.begun()).hasSize(1);
  }

  // ---- a crash: this service lets go, and takes up again

  private Attempt attempt(long run) {
    return engine.look(
        board -> new Attempt(board.run(run).orElseThrow(), board.status(run).orElseThrow()));
  }

  @Test
  void cutOffBetweenAskingAndLearningTheIdItBeginsOnce() {
    desk.slow(Duration.ofMillis(700));
    long run = started("remote/filing", Map.of("seconds", "1"));
    await().atMost(SOON).until(() -> desk.begun().size() == 1);
    worker.letGo();
    assertThat(calls.of(run).get(0).pursuit().remote().id()).isEmpty();
    desk.slow(Duration.ZERO);
    worker.takeUp(attempt(run));
    ends(run, RunState.SUCCEEDED);
    assertThat(desk.begun()).hasSize(1);
    assertThat(output(run)).contains("Purser was cut off after it had asked");
  }

  @Test
  void cutOffWhileItRunsItIsFollowedAgainByItsId() {
    long run = started("remote/filing", Map.of("seconds", "2"));
    await().atMost(SOON).until(() -> state(run) == RunState.RUNNING);
    worker.letGo();
    worker.takeUp(attempt(run));
    worker.takeUp(attempt(run)); // and once more
    ends(run, RunState.SUCCEEDED);
    assertThat(desk.begun()).hasSize(1);
  }

  // ---- what runs there already; stopping

  @Test
  void whatRunsThereAlreadyIsAdopted() {
    RemoteDesk.Task other = desk.begin("somebody else's", Duration.ofMillis(1_500));
    long run = started("remote/adopting", Map.of());
    ends(run, RunState.SUCCEEDED);
    assertThat(desk.begun()).hasSize(1);
    assertThat(status(run).values()).containsEntry("remote-id", other.id());
  }

  @Test
  void orIsReasonNotToStart() {
    desk.begin("somebody else's", Duration.ofSeconds(20));
    long run = started("remote/skipping", Map.of());
    ends(run, RunState.SKIPPED);
    assertThat(desk.begun()).hasSize(1);
  }

  @Test
  void whatIsCancelledIsStoppedThere() {
    long run = started("remote/filing", Map.of("seconds", "60"));
    await().atMost(SOON).until(() -> state(run) == RunState.RUNNING);
    engine.tell(now -> new BoardEvent.PersonActed(now, run, Action.CANCEL, "ida", "", 0)).join();
    ends(run, RunState.CANCELLED);
    assertThat(desk.begun().get(0).isCancelled()).isTrue();
  }

  // ---- secrets

  @Test
  void aSecretThatIsNotAllowedThereIsNotSent() {
    permits.all().stream()
        .filter(one -> one.name.equals("harbour-client") && one.address.endsWith(":" + desk.port()))
        .forEach(one -> permits.disallow(one.id, IDA, "test"));
    long run = started("remote/filing", Map.of());
    ends(run, RunState.FAILED);
    assertThat(status(run).note()).contains("no administrator has allowed it");
    assertThat(desk.tokensGiven()).isZero();
  }

  @Test
  void aSecretThatIsWrongIsToldAsSuch() {
    secrets.set("harbour-client", "another-secret", IDA, "");
    long run = started("remote/filing", Map.of());
    ends(run, RunState.FAILED);
    assertThat(status(run).note()).contains("was answered 401: no such client");
  }
}
