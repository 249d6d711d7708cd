package dev.purser.service.api;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpServer;
import dev.purser.service.OnDatabase;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.people.Passwords;
import dev.purser.service.people.People;
import dev.purser.service.people.Role;
import dev.purser.service.people.TokenScope;
import dev.purser.service.people.Tokens;
import dev.purser.service.secret.SecretPermits;
import dev.purser.service.secret.SecretSource;
import dev.purser.service.secret.StoredSecrets;
import dev.purser.wire.api.NeighbourViews;
import dev.purser.wire.api.ParcelViews;
import dev.purser.wire.api.Views;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.StreamSupport;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.boot.test.web.server.LocalServerPort;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Another environment: this very service as its own neighbour, and one that says what it likes. */
class NeighbourTest extends OnDatabase {
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "test");
  private static final Map<String, String> TOKENS = new HashMap<>();
  private static int made;

  private final HttpClient http = HttpClient.newHttpClient();
  private final Map<String, String> answers = new ConcurrentHashMap<>();
  private final AtomicInteger lists = new AtomicInteger();
  @LocalServerPort private int port;
  @Autowired private People people;
  @Autowired private Passwords passwords;
  @Autowired private Tokens tokens;
  @Autowired private StoredSecrets secrets;
  @Autowired private SecretPermits permits;

  private HttpServer other;
  private String at;

  @BeforeEach
  void open() throws Exception {
    if (TOKENS.isEmpty()) {
      person("vi", Role.VIEWER);
      person("ada", Role.AUTHOR);
      person("di", Role.ADMINISTRATOR);
    }
    at = "next-" + ++made;
    other = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    other.createContext(
        "/",
        exchange -> {
          String path = exchange.getRequestURI().getPath();
          if (path.endsWith("/definitions")) {
            lists.incrementAndGet();
          }
          exchange.getRequestBody().readAllBytes();
          String answer = answers.getOrDefault(path, "");
          byte[] bytes = answer.replaceFirst("^\\d{3} ", "").getBytes(StandardCharsets.UTF_8);
          int code =
              answer.matches("(?s)\\d{3} .*") ? Integer.parseInt(answer.substring(0, 3)) : 200;
          exchange.sendResponseHeaders(
              answer.isEmpty() ? 404 : code, bytes.length == 0 ? -1 : bytes.length);
          exchange.getResponseBody().write(bytes);
          exchange.close();
        });
    other.start();
    publish("host: next-pier\n");
  }

  @AfterEach
  void close() {
    other.stop(0);
  }

  private void person(String name, Role role) {
    people.save("next-" + name, role, passwords.hash("long-enough-password"), false);
    TOKENS.put(name, tokens.make("next-" + name, "test", TokenScope.API, Tokens.USUAL).secret());
  }

  private JsonNode as(String who, String method, String path, Object body, int status)
      throws IOException, InterruptedException {
    HttpRequest request =
        HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + "/api/v1" + path))
            .header("Authorization", "Bearer " + TOKENS.get(who))
            .header("Content-Type", "application/json")
            .method(
                method,
                body == null
                    ? HttpRequest.BodyPublishers.noBody()
                    : HttpRequest.BodyPublishers.ofString(JSON.writeValueAsString(body)))
            .build();
    HttpResponse<String> answer = http.send(request, HttpResponse.BodyHandlers.ofString());
    assertThat(answer.statusCode()).as(answer.body()).isEqualTo(status);
    return answer.body().isEmpty() ? JSON.createObjectNode() : JSON.readTree(answer.body());
  }

  private void publish(String yaml) throws Exception {
    as(
        "ada",
        "POST",
        "/definitions",
        new Views.PublishRequest(List.of(new Views.FileText("a.yaml", yaml)), "why"),
        200);
  }

  private String stream(String name, String command) {
    return "stream: "
        + at
        + "/"
        + name
        + "\nowner: nobody\nschedule: { days: every day, at: \"23:59\", zone: UTC }\njobs:\n"
        + "  one: { host: next-pier, run: "
        + command
        + " }\n";
  }

  /** A neighbour by a connection with a token of its own. */
  private void neighbour(int at, String token, String map) throws Exception {
    String address = "http://127.0.0.1:" + at;
    secrets.set(this.at + "-token", token, IDA, "");
    publish(
        "connection: "
            + this.at
            + "\nkind: http\naddress: "
            + address
            + "\nsign-in: bearer\nsecret: "
            + this.at
            + "-token\n");
    permits.allow(SecretSource.of("stored", this.at + "-token", address), IDA, "");
    as(
        "di",
        "PUT",
        "/neighbours/" + this.at,
        new NeighbourViews.NeighbourRequest(this.at, map),
        200);
  }

  private void played(String map) throws Exception {
    neighbour(other.getAddress().getPort(), "made-up-token", map);
  }

  private void says(long revision, String... definitions) {
    answers.put(
        "/api/v1/environment",
        "{\"environment\":\"trial-"
            + at
            + "\",\"revision\":"
            + revision
            + ",\"console\":\"\",\"onItsWay\":[]}");
    answers.put("/api/v1/definitions", "[" + String.join(",", definitions) + "]");
  }

  private String there(String kind, String name, String text, long revision, String origin) {
    Map<String, Object> one = new HashMap<>();
    one.put("kind", kind);
    one.put("name", name);
    one.put("text", text);
    one.put("revision", revision);
    one.put("published", "2027-03-04T10:00:00Z");
    one.put("publishedBy", "berit");
    one.put("department", "Quay");
    one.put("origin", origin);
    one.put("whatALaterVersionAdds", List.of(1));
    return JSON.writeValueAsString(one);
  }

  /** What differs of this test's own, as {@code name: standing}. */
  private List<String> differences() throws Exception {
    as("vi", "GET", "/neighbours/" + at, null, 200);
    List<String> found = new ArrayList<>();
    for (JsonNode one : as("vi", "GET", "/neighbours/" + at + "/differences", null, 200)) {
      if (one.get("name").asString().startsWith(at)) {
        found.add(
            one.get("name").asString().substring(at.length() + 1)
                + ": "
                + one.get("standing").asString());
      }
    }
    return found;
  }

  @Test
  void whatIsTheSameThereDoesNotDifferAndOnlyPartsOfItAreBrought() throws Exception {
    publish(stream("a", "./one") + "---\n" + stream("b", "./one"));
    neighbour(port, TOKENS.get("vi"), "");
    JsonNode compared = as("vi", "GET", "/neighbours/" + at, null, 200);
    assertThat(compared.get("differences")).isEmpty();
    assertThat(compared.get("alike").asInt()).isGreaterThan(1);
    JsonNode packed =
        as(
            "ada",
            "POST",
            "/neighbours/" + at + "/parcel",
            new NeighbourViews.FetchRequest(List.of("stream " + at + "/a"), false),
            200);
    assertThat(packed.get("about").get("definitions").get(0).asString())
        .isEqualTo("stream " + at + "/a");
    publish(stream("a", "./other") + "---\n" + stream("b", "./other"));
    ParcelViews.PromoteRequest take =
        new ParcelViews.PromoteRequest(packed.get("parcel").asString(), "", 30, "as it was");
    assertThat(as("ada", "POST", "/parcels", take, 200).get("changed"))
        .singleElement()
        .extracting(JsonNode::asString)
        .isEqualTo("stream " + at + "/a");
    assertThat(
            as("vi", "GET", "/definitions?kind=stream", null, 200).findValues("origin").toString())
        .contains("parcel from a service without a name, revision");
  }

  @Test
  void whichIsNewerIsSaidAndAskedAnewOnlyWhereSomethingChanged() throws Exception {
    publish(stream("a", "./one") + "---\n" + stream("mine", "./one"));
    publish(stream("a", "./two"));
    played("");
    says(
        9,
        there("stream", at + "/a", stream("a", "./one"), 5, ""),
        there("stream", at + "/theirs", stream("theirs", "./one"), 6, ""),
        there("host", at + "-host", "host: " + at + "-host\n", 6, ""),
        there("a-kind-to-come", at + "/x", "x", 6, ""));
    assertThat(differences())
        .containsExactly("a: newer here", "mine: only here", "theirs: only there");
    assertThat(lists).hasValue(1);
    assertThat(differences()).hasSize(3);
    assertThat(lists).hasValue(1);
    says(10, there("stream", at + "/a", stream("a", "./two") + "# a note\n", 10, ""));
    assertThat(differences()).containsExactly("mine: only here");
    publish(stream("mine", "./changed"));
    assertThat(differences()).containsExactly("mine: only here");
    assertThat(lists).hasValueGreaterThan(1);
    JsonNode one =
        StreamSupport.stream(
                as("vi", "GET", "/neighbours/" + at + "/differences?kind=stream", null, 200)
                    .spliterator(),
                false)
            .filter(any -> any.get("name").asString().equals(at + "/mine"))
            .findFirst()
            .orElseThrow();
    assertThat(one.get("whoHere").asString()).isEqualTo("next-ada");
    assertThat(one.get("revisionThere").asInt()).isZero();
    assertThat(one.has("atThere")).isFalse();
  }

  @Test
  void namesThatAreOtherHereDoNotDiffer() throws Exception {
    publish("host: " + at + "-far\n---\n" + stream("a", "./one").replace("next-pier", at + "-far"));
    played("hosts: { next-pier: " + at + "-far }");
    says(3, there("stream", at + "/a", stream("a", "./one"), 2, ""));
    assertThat(differences()).isEmpty();
    says(
        4,
        there(
            "stream",
            at + "/a",
            stream("a", "./one") + "about: new\n",
            4,
            "parcel from a service without a name, revision 1"));
    assertThat(differences()).hasSize(1);
  }

  @Test
  void whatIsOnItsWayIsSaidWithWhatItIsIn() throws Exception {
    publish(stream("a", "./one"));
    Views.FileText file = new Views.FileText("a.yaml", stream("a", "./drafted"));
    JsonNode draft =
        as(
            "ada",
            "POST",
            "/drafts",
            new dev.purser.wire.api.DraftViews.DraftRequest("Night work", List.of(file), 0, false),
            201);
    JsonNode own = as("ada", "GET", "/environment", null, 200);
    assertThat(own.get("onItsWay").toString())
        .contains("draft " + draft.get("id").asInt(), "Night work", "stream " + at + "/a");
    assertThat(as("vi", "GET", "/environment", null, 200).get("onItsWay").toString())
        .as("what is not shared is not seen")
        .doesNotContain("stream " + at + "/a");
    played("");
    answers.put(
        "/api/v1/environment",
        "{\"environment\":\"trial\",\"revision\":7,\"onItsWay\":[{\"what\":\"draft 3\",\"title\":\"T\","
            + "\"who\":\"berit\",\"liveFrom\":\"2027-03-09\",\"definitions\":[\"stream "
            + at
            + "/a\"]}]}");
    answers.put("/api/v1/definitions", "[]");
    as("ada", "GET", "/neighbours/" + at, null, 200);
    assertThat(as("ada", "GET", "/neighbours/" + at + "/differences", null, 200).toString())
        .contains("draft 3 there, berit, goes live for 2027-03-09")
        .contains("draft " + draft.get("id").asInt() + " here, next-ada");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          401 {}                                      | does not let us in: the token of its connection is not good there
          403 {}                                      | does not allow that to the person whose token it is
          404 {}                                      | has no /api/v1/environment: is it a service of Purser
          500 {"detail":"out of paper"}               | refused: out of paper
          500 <html>                                  | refused: HTTP 500
          200 <html>welcome</html>                    | does not answer as a service of Purser does
          200 null                                    | does not answer as a service of Purser does
          200 {"revision":"many"}                     | does not answer as a service of Purser does
          200 {"environment":"x"}                     | does not answer as a service of Purser does
          """)
  void whatAnotherSaysThatIsOfNoUseIsNamed(String answer, String expected) throws Exception {
    played("");
    answers.put("/api/v1/environment", answer);
    JsonNode refused = as("vi", "GET", "/neighbours/" + at, null, 409);
    assertThat(refused.get("detail").asString()).startsWith(at).contains(expected);
  }

  @ParameterizedTest
  @CsvSource({
    "https://test.brannoch.example,   true",
    "http://127.0.0.1:8088,           true",
    "javascript:alert(1),             false",
    "'https://a b',                   false",
    "'',                              false",
  })
  void whatItSaysOfItsConsoleIsALinkOrNothing(String console, boolean isTaken) throws Exception {
    played("");
    answers.put("/api/v1/definitions", "[]");
    answers.put(
        "/api/v1/environment",
        JSON.writeValueAsString(
            Map.of(
                "environment",
                "x".repeat(5_000),
                "revision",
                1,
                "console",
                console,
                "onItsWay",
                List.of(Map.of("what", "draft 1")))));
    JsonNode there = as("vi", "GET", "/neighbours/" + at, null, 200).get("there");
    assertThat(there.get("console").asString()).isEqualTo(isTaken ? console : "");
    assertThat(there.get("environment").asString()).hasSizeLessThan(200);
    assertThat(there.get("onItsWay").get(0).get("definitions")).isEmpty();
  }

  @Test
  void oneThatIsGoneOrSendsNoParcelSaysSo() throws Exception {
    played("");
    answers.put("/api/v1/parcels/packed", "{\"parcel\":\"bm8gemlw\"}");
    NeighbourViews.FetchRequest wanted =
        new NeighbourViews.FetchRequest(List.of("stream " + at + "/a"), false);
    String path = "/neighbours/" + at + "/parcel";
    assertThat(as("ada", "POST", path, wanted, 400).get("detail").asString()).contains("parcel");
    as("vi", "POST", path, wanted, 403);
    other.stop(0);
    assertThat(as("ada", "POST", path, wanted, 409).get("detail").asString())
        .contains("does not answer");
    as("di", "DELETE", "/neighbours/" + at, null, 204);
    as("di", "DELETE", "/neighbours/" + at, null, 404);
    assertThat(as("ada", "POST", path, wanted, 400).get("detail").asString())
        .contains("there is no neighbour \"" + at + "\"");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          Test Site | next-web  |                           | is not a valid name for a neighbour
          test      | nowhere   |                           | there is no connection "nowhere"
          test      | next-data |                           | is of the kind database; a neighbour is reached by http
          test      | next-web  | hosts: { a: no-such-host } | the map leads to what is not here
          test      | next-web  | hots: {}                  | unknown key "hots" in the map
          """)
  void whatCannotBeANeighbourIsRefused(String name, String by, String map, String why)
      throws Exception {
    publish(
        "connection: next-web\nkind: http\naddress: http://127.0.0.1:1\n---\n"
            + "connection: next-data\nkind: database\naddress: jdbc:mariadb://127.0.0.1:1/x\n");
    NeighbourViews.NeighbourRequest request =
        new NeighbourViews.NeighbourRequest(by, map == null ? "" : map);
    String path = "/neighbours/" + name.replace(" ", "%20");
    assertThat(as("di", "PUT", path, request, 400).get("detail").asString()).contains(why);
    as("ada", "PUT", path, request, 403);
  }
}
