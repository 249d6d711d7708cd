package dev.purser.service.container;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import dev.purser.core.problem.Problem;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.Action;
import dev.purser.core.run.RunState;
import dev.purser.outside.ClusterDesk;
import dev.purser.service.OnRuns;
import dev.purser.service.action.Actions;
import dev.purser.service.action.Start;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.connection.Connections;
import dev.purser.service.publish.Publisher;
import dev.purser.service.secret.KnownSecrets;
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
import org.junit.jupiter.params.provider.ValueSource;
import org.springframework.beans.factory.annotation.Autowired;

/** Work in containers, on a real service, with a stand-in for the cluster. */
class ContainerWorkerTest extends OnRuns {
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");
  private static final LocalDate DATE = LocalDate.of(2027, 5, 4);

  @Autowired private ContainerWorker worker;
  @Autowired private Pieces pieces;
  @Autowired private Engine engine;
  @Autowired private Publisher publisher;
  @Autowired private Actions actions;
  @Autowired private StoredSecrets secrets;
  @Autowired private SecretPermits permits;
  @Autowired private KnownSecrets known;
  @Autowired private Connections connections;

  private ClusterDesk desk;

  @BeforeEach
  void open() throws IOException {
    desk = new ClusterDesk(0);
    secrets.set("cluster-token", ClusterDesk.TOKEN, IDA, "");
    secrets.set("model-key", "made-up-model-key", IDA, "");
    permits.allow(SecretSource.of("stored", "cluster-token", address()), IDA, "");
    permits.allow(SecretSource.of("stored", "model-key", address()), IDA, "");
    known.refresh();
  }

  @AfterEach
  void close() {
    desk.close();
  }

  private String address() {
    return "http://127.0.0.1:" + desk.port();
  }

  private long started(String job, String connection, Map<String, String> parameters) {
    String text =
        """
        connection: the-cluster
        kind: cluster
        address: %s
        secret: cluster-token
        %s
        ---
        stream: container/model
        parameters: { area: sound }
        jobs:
          work:
            cluster: the-cluster
            namespace: fleet
        %s
        """
            .formatted(address(), connection, job.strip().indent(4));
    Publisher.Outcome outcome =
        publisher.publish(List.of(new SourceFile("a.yaml", text)), Optional.empty(), IDA, "test");
    assertThat(outcome.problems()).extracting(Problem::message).isEmpty();
    Start start = new Start("container/model", Optional.empty(), false, DATE, parameters, Set.of());
    return actions.start(start, Optional.empty(), IDA, "").get(0);
  }

  private long started(String job) {
    return started(job, "", Map.of());
  }

  private static String shell(String script) {
    return "container: registry.example/model:1\ncommand: [sh, -c, '" + script + "']";
  }

  @Override
  protected void ends(long run, RunState how) {
    super.ends(run, how);
    assertThat(desk.jobs()).isEmpty();
    assertThat(desk.secrets()).isZero();
  }

  private Attempt attempt(long run) {
    return engine.look(
        board ->
            new Attempt(
                board.runs().stream().filter(one -> one.id() == run).findFirst().orElseThrow(),
                board.status(run).orElseThrow()));
  }

  @Test
  void itsLogIsTheOutputItsLastWordsAreValuesAndNothingOfItIsLeft() {
    long run =
        started(
            """
            container: registry.example/${area}-model:1
            command: [sh, -c, 'echo for $AREA $0 with $KEY on $PURSER_DATE; echo rows=12 > $PURSER_VALUES', "${area}"]
            environment: { AREA: "$(${area}) $$" }
            secrets: { KEY: model-key }
            cpu: 500m
            memory: 64Mi
            """);
    ends(run, RunState.SUCCEEDED);
    assertThat(output(run)).isEqualTo("for $(sound) $$ sound with ••• on 2027-05-04\n");
    assertThat(status(run).values()).containsEntry("rows", "12");
    assertThat(desk.made()).isEqualTo(1);
  }

  @Test
  void aValueIsOneWordWhateverItHolds() {
    String hostile = "x\"; id; $(id) $$(PATH) `id` '";
    long run =
        started(
            "container: registry.example/model:1\ncommand: [printf, '[%s]', \"${area}\"]",
            "", Map.of("area", hostile));
    ends(run, RunState.SUCCEEDED);
    assertThat(output(run)).isEqualTo("[" + hostile + "]\n");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          registry.example/model:1   | exit 7           | exit code 7
          registry.example/missing:1 | true             | ErrImagePull: image registry.example/missing:1 not found
          'two words'                | true             | InvalidImageName
          registry.example/evicted:1 | echo x; sleep 60 | Evicted: The node was low on resource: memory.
          """)
  void whatDoesNotEndWellSaysWhy(String image, String script, String why) {
    long run =
        started(
            "container: ${area}\ncommand: [sh, -c, '" + script + "']",
            "bears-outage: 2s",
            Map.of("area", image));
    ends(run, RunState.FAILED);
    assertThat(status(run).note() + " exit code " + status(run).exitCode()).contains(why);
  }

  @Test
  void withoutACommandItDoesWhatItsImageSays() {
    long run = started("container: registry.example/model:1");
    ends(run, RunState.SUCCEEDED);
    assertThat(output(run)).isEqualTo("registry.example/model:1\n");
  }

  @Test
  void aFullQuotaMeansWaiting() {
    desk.quota(0);
    long run = started(shell("echo in"));
    await().atMost(SOON).until(() -> status(run).note().contains("exceeded quota"));
    assertThat(status(run).state()).isEqualTo(RunState.STARTING);
    desk.quota(1);
    ends(run, RunState.SUCCEEDED);
  }

  @Test
  void cutOffBetweenAskingAndLearningItIsMadeOnce() {
    desk.cutNext();
    long run = started(shell("echo once"));
    ends(run, RunState.SUCCEEDED);
    assertThat(output(run)).isEqualTo("once\n");
    assertThat(desk.made()).isEqualTo(1);
  }

  @Test
  void takenUpAfterACrashItGoesOnAndNoLineIsTakenTwice() {
    long run = started(shell("for n in 1 2 3 4 5 6; do echo line $n; sleep 0.7; done"));
    await().atMost(SOON).until(() -> output(run).contains("line 2"));
    worker.cutOff();
    worker.takeUp(attempt(run));
    ends(run, RunState.SUCCEEDED);
    assertThat(output(run)).isEqualTo("line 1\nline 2\nline 3\nline 4\nline 5\nline 6\n");
    assertThat(desk.made()).isEqualTo(1);
  }

  @Test
  void takenUpBeforeItWasMadeItIsMade() {
    desk.away(Duration.ofSeconds(3));
    long run = started(shell("echo late"));
    await().atMost(SOON).until(() -> status(run).note().contains("cannot be reached"));
    worker.cutOff();
    worker.takeUp(attempt(run));
    ends(run, RunState.SUCCEEDED);
    assertThat(output(run)).isEqualTo("late\n");
  }

  @Test
  void whatSomebodyTookAwayIsLostAndNotBegunAgain() {
    long run = started(shell("echo gone; sleep 60"));
    await().atMost(SOON).until(() -> output(run).contains("gone"));
    desk.clear();
    ends(run, RunState.FAILED);
    assertThat(status(run).note()).contains("took its job object");
    assertThat(desk.made()).isEqualTo(1);
  }

  @Test
  void anObjectOfTheSameNameThatIsNotOursIsLeftAlone() {
    desk.away(Duration.ofSeconds(2));
    long run = started(shell("echo never"));
    desk.occupy("fleet", pieces.of(attempt(run)).name());
    await().atMost(SOON).until(() -> status(run).state().isEnded());
    assertThat(status(run).note()).contains("is not of this run");
    assertThat(desk.jobs()).hasSize(1);
  }

  @Test
  void anOutageIsBorne() {
    long run = started(shell("sleep 2; echo over"));
    await().atMost(SOON).until(() -> status(run).state() == RunState.RUNNING);
    desk.away(Duration.ofSeconds(3));
    ends(run, RunState.SUCCEEDED);
    assertThat(output(run)).isEqualTo("over\n");
  }

  @Test
  void aStopThatTheClusterDidNotHearIsSaidAgain() {
    long run = started(shell("echo up; while true; do sleep 0.1; done"));
    await().atMost(SOON).until(() -> output(run).contains("up"));
    desk.away(Duration.ofSeconds(4));
    actions.act(run, Action.CANCEL, 0, IDA, "test");
    ends(run, RunState.CANCELLED);
  }

  @Test
  void aTokenThatIsRefusedInTheMiddleIsNoEnd() {
    long run = started(shell("echo begun; sleep 4; echo over"));
    await().atMost(SOON).until(() -> output(run).contains("begun"));
    secrets.set("cluster-token", "another-made-up-token", IDA, "");
    await().atMost(SOON).until(() -> status(run).note().contains("answered 401"));
    assertThat(status(run).state()).isEqualTo(RunState.RUNNING);
    secrets.set("cluster-token", ClusterDesk.TOKEN, IDA, "");
    ends(run, RunState.SUCCEEDED);
    assertThat(output(run)).isEqualTo("begun\nover\n");
  }

  @ParameterizedTest
  @ValueSource(strings = {"exit 3", "true"})
  void stoppedItIsAskedAndThenForced(String atTerm) {
    String script =
        "trap \"echo asked; " + atTerm + "\" TERM; echo up; while true; do sleep 0.1; done";
    long run = started(shell(script) + "\ngrace: 2s");
    await().atMost(SOON).until(() -> output(run).contains("up"));
    actions.act(run, Action.CANCEL, 0, IDA, "test");
    await().atMost(SOON).until(() -> status(run).state().isEnded());
    ends(run, RunState.CANCELLED);
    assertThat(output(run)).contains("asked");
  }

  @Test
  void aClusterThatDoesNotLetUsInIsTold() {
    secrets.set("cluster-token", "another-made-up-token", IDA, "");
    long run = started(shell("echo never"));
    ends(run, RunState.FAILED);
    assertThat(status(run).note()).contains("the-cluster answered 401");
    assertThat(connections.tryOut("the-cluster", "").orElseThrow().good()).isFalse();
    secrets.set("cluster-token", ClusterDesk.TOKEN, IDA, "");
    assertThat(connections.tryOut("the-cluster", "").orElseThrow().steps().toString())
        .contains("v1.31.0-stand-in");
  }
}
