package dev.purser.core.container;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.SignInWay;
import dev.purser.core.problem.Problem;
import dev.purser.core.reading.SourceFile;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class ContainerTest {
  private static final String SITE =
      """
      connection: harbour-cluster
      kind: cluster
      address: https://cluster.brannoch.example:6443
      secret: cluster-token
      ---
      connection: takings
      address: jdbc:mariadb://db.brannoch.example/takings
      ---
      """;

  private static DefinitionCheck.Result checked(String text) {
    return DefinitionCheck.check(
        Definitions.none(), List.of(new SourceFile("a.yaml", text)), LocalDate.of(2027, 3, 4));
  }

  private static DefinitionCheck.Result job(String keys) {
    return checked(
        SITE
            + """
            stream: tide/models
            parameters: { area: sound }
            jobs:
              model: { %s }
            """
                .formatted(keys));
  }

  @Test
  void everythingThatItTakesIsRead() {
    DefinitionCheck.Result result =
        job(
            "container: 'registry.example/${area}:1', cluster: harbour-cluster, namespace: fleet,"
                + " command: [./model, --day, '${date}'], cpu: 500m, memory: 64Mi, environment: { A:"
                + " '${area}' }, secrets: { KEY: model-key }, stop-after: 5m, retry: { times: 2 }");
    assertThat(result.problems()).extracting(Problem::message).isEmpty();
    var job = result.definitions().streams().iterator().next().jobs().get(0);
    assertThat(job.work())
        .isEqualTo(
            new Container(
                "registry.example/${area}:1",
                "harbour-cluster",
                "fleet",
                List.of("./model", "--day", "${date}"),
                "500m",
                "64Mi"));
    assertThat(job.secrets().variables()).containsEntry("KEY", "model-key");
    assertThat(result.definitions().connection("harbour-cluster").orElseThrow().signIn().way())
        .isEqualTo(SignInWay.BEARER);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '~',
      textBlock =
          """
          container: x                                              | a container needs a "cluster"
          container: x, cluster: nowhere                            | nowhere
          container: x, cluster: takings                            | not a connection of the kind cluster
          container: 'two words', cluster: harbour-cluster          | is not an image
          container: x, cluster: harbour-cluster, cpu: fast         | cannot use "fast" for "cpu"; expected 500m or 2
          container: x, cluster: harbour-cluster, memory: 1 GB      | cannot use "1 GB" for "memory"
          container: x, cluster: harbour-cluster, namespace: A_B    | is not a valid name
          container: x, cluster: harbour-cluster, command: ['${no}'] | ${no}
          container: x, cluster: harbour-cluster, host: quay        | leave "host" out
          container: x, cluster: harbour-cluster, secret-files: { A: b } | leave "secret-files" out
          """)
  void whatIsWrongWithItIsSaid(String keys, String message) {
    assertThat(job(keys).problems())
        .anySatisfy(problem -> assertThat(problem.message()).contains(message));
  }

  @Test
  void aClusterIsSignedInToInItsOwnWays() {
    assertThat(checked(SITE.replace("secret: cluster-token", "sign-in: basic")).problems())
        .anySatisfy(
            problem ->
                assertThat(problem.message())
                    .contains("a cluster is signed in to with bearer or certificate"));
  }
}
