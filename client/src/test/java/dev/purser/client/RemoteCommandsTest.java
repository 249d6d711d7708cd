package dev.purser.client;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.wire.api.RemoteViews;
import dev.purser.wire.api.ResultViews;
import dev.purser.wire.api.SecretViews;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Connections, remote services, results and secrets, as the commands print them. */
class RemoteCommandsTest extends PlayedService {
  private static final Instant AT = Instant.parse("2027-03-04T21:30:00Z");
  private static final String RUN = "harbour/filings/file@2027-03-04#1";

  private void aRun() {
    Map<String, Object> run = new HashMap<>(Map.of("id", 7, "reference", RUN, "number", 1));
    run.putAll(Map.of("attempts", 1, "priority", 50, "hangsOnPerson", false, "ifAnswered", false));
    run.put("zone", "Europe/Oslo");
    answers.put("/api/v1/runs/find", run);
  }

  @Test
  void connectionsSayHowTheySignInAndWhatKeepsThem() {
    answers.put(
        "/api/v1/connections",
        List.of(
            new RemoteViews.ConnectionView(
                "office",
                "Office",
                "http",
                "https://office.example",
                "",
                "oauth2",
                "purser",
                "secret x for https://office.example:443",
                "no administrator has allowed it",
                0,
                "PT15M",
                List.of("remote service office"))));
    assertThat(run(new ConnectionsCommand()))
        .containsPattern("office +http +https://office.example +oauth2 as purser +remote service")
        .contains("no administrator has allowed it");
  }

  @ParameterizedTest
  @CsvSource({"true,office is reached", "false,office cannot be used as it is now"})
  void aTrialSaysWhatCameBack(boolean good, String said) {
    answers.put(
        "/api/v1/connections/office/trial",
        new RemoteViews.ReachedView("office", good, List.of("gets a token")));
    assertThat(run(new ConnectionsCommand(), "try", "office", "--path", "/status"))
        .contains("gets a token")
        .contains(said);
    assertThat(asked.get(0)).contains("{\"path\":\"/status\"}");
  }

  @Test
  void servicesSayWhatTheyCanBeAskedForAndByWhomTheyAre() {
    answers.put(
        "/api/v1/remote-services",
        List.of(
            new RemoteViews.ServiceView(
                "office",
                "Office",
                "",
                "office",
                List.of(
                    new RemoteViews.OperationView(
                        "file",
                        "",
                        List.of("vessel"),
                        List.of("stop"),
                        "by a person",
                        List.of("harbour/filings/file"))))));
    assertThat(run(new RemoteCommand()))
        .containsPattern("office +file +vessel +stop +by a person +harbour/filings/file");
    assertThat(run(new RemoteCommand(), "--did-not-start")).contains("say of which run");
  }

  private static RemoteViews.CallView call(String phase, String id) {
    return new RemoteViews.CallView(
        1, "office", "file", phase, id, "", "working", "40 %", "", AT, null, "It is going on.");
  }

  @Test
  void whatRunsThereIsShownAndWhatAPersonSaysIsSent() {
    aRun();
    answers.put("/api/v1/runs/7/remote", List.of(call("following", "4711")));
    assertThat(run(new RemoteCommand(), "file"))
        .containsPattern("1 +office +4711 +working +40 % +.*22:30:00 +It is going on.");
    run(new RemoteCommand(), "file", "--runs-as", "4711", "--reason", "seen");
    assertThat(asked.get(asked.size() - 1))
        .contains("{\"says\":\"runs-as\",\"id\":\"4711\",\"reason\":\"seen\"}");
    run(new RemoteCommand(), "file", "--did-not-start");
    assertThat(asked.get(asked.size() - 1)).contains("\"did-not-start\"");
    assertThat(run(new RemoteCommand(), "file", "--did-not-start", "--runs-as", "1"))
        .contains("mutually exclusive");
  }

  private void results(int many) {
    aRun();
    ResultViews.ResultView result =
        new ResultViews.ResultView(1, 1, List.of("port", "n"), many, many, true);
    answers.put("/api/v1/runs/7/results", List.of(result));
    answers.put(
        "/api/v1/runs/7/results/1",
        new ResultViews.ResultRowsView(
            result, List.of(Arrays.asList("brannoch", "3"), Arrays.asList(null, "4"))));
    answers.put("/api/v1/runs/7/results/1/file", List.of("as it comes"));
  }

  @Test
  void rowsAreShownAndPutIntoAFileThatIsWholeOrNotThere() throws IOException {
    results(9);
    assertThat(run(new ResultsCommand(), "file"))
        .containsPattern("port +n\\R")
        .containsPattern("brannoch +3")
        .contains("2 of 9 rows; all that are kept with --to FILE.csv");
    Path file = folder.resolve("rows.json");
    assertThat(run(new ResultsCommand(), "file", "--to", file.toString()))
        .contains("the rows are in " + file);
    assertThat(Files.readString(file)).isEqualTo("[\"as it comes\"]");
    assertThat(asked.get(asked.size() - 1)).contains("format=json");
    answers.remove("/api/v1/runs/7/results/1/file");
    Path other = folder.resolve("other.csv");
    assertThat(run(new ResultsCommand(), "file", "--to", other.toString())).contains("404");
    assertThat(folder.toFile().list()).doesNotContain("other.csv", "other.csv.part");
  }

  @Test
  void aRunWithoutResultsSaysSo() {
    aRun();
    answers.put("/api/v1/runs/7/results", List.of());
    assertThat(run(new ResultsCommand(), "file")).contains("has no results");
  }

  // ---- secrets

  private static SecretViews.StoredView stored(List<String> receivers) {
    return new SecretViews.StoredView(
        "key", 2, "abcd", receivers, List.of("office"), AT, "admin", null);
  }

  @Test
  void aSecretComesFromAFileNeverFromTheLine() throws IOException {
    Path file = folder.resolve("secret");
    Files.writeString(file, "made-up-secret\n");
    answers.put("/api/v1/secrets/stored/key", stored(List.of("https://office.example:443")));
    assertThat(
            run(
                new SecretCommands(),
                "set",
                "key",
                "--from-file",
                file.toString(),
                "--for",
                "office"))
        .contains("the secret key is kept, for the 2. time")
        .contains("it may go to https://office.example:443");
    assertThat(asked.get(0)).contains("\"made-up-secret\"").contains("[\"office\"]");
    answers.put("/api/v1/secrets/stored/key", stored(List.of()));
    assertThat(run(new SecretCommands(), "set", "key", "--from-file", file.toString()))
        .contains("nothing may use it yet");
  }

  @Test
  void storedSecretsAreListedForgottenAndEncryptedAnew() {
    answers.put("/api/v1/secrets/stored", List.of(stored(List.of("https://office.example:443"))));
    assertThat(run(new SecretCommands(), "stored"))
        .containsPattern("key +.* +admin +2 +https://office.example:443 +office +.*abcd");
    answers.put("/api/v1/secrets/stored/key", Map.of());
    assertThat(run(new SecretCommands(), "remove", "key")).contains("is forgotten");
    answers.put("/api/v1/secrets/encryption", new SecretViews.AnewView(3));
    assertThat(run(new SecretCommands(), "encrypt-anew")).contains("3 were encrypted");
  }
}
