package dev.purser.service.people;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.service.OnDatabase;
import dev.purser.service.audit.AuditTrail;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.net.CookieManager;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.stream.Collectors;
import javax.sql.DataSource;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.beans.factory.annotation.Qualifier;
import org.springframework.boot.test.web.server.LocalServerPort;
import org.springframework.http.HttpMethod;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.web.servlet.mvc.method.annotation.RequestMappingHandlerMapping;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Who gets in, to what, and until when. */
class AccessTest extends OnDatabase {
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final String PASSWORD = "a-password-of-ours";

  @LocalServerPort private int port;
  @Autowired private People people;
  @Autowired private Passwords passwords;
  @Autowired private Tokens tokens;
  @Autowired private SignInGuard guard;
  @Autowired private AuditTrail audit;
  @Autowired private DataSource database;

  @Autowired
  @Qualifier("requestMappingHandlerMapping")
  private RequestMappingHandlerMapping mappings;

  private final HttpClient listening = HttpClient.newHttpClient();
  private String chief = "";

  @BeforeEach
  void people() {
    guard.clear();
    people.save("chief", Role.ADMINISTRATOR, passwords.hash(PASSWORD), false);
    people.save("kari", Role.OPERATOR, passwords.hash(PASSWORD), false);
    chief = tokens.make("chief", "test", TokenScope.API, Tokens.USUAL).secret();
  }

  @AfterEach
  void noMore() {
    people.remove("kari");
    people.remove("chief");
  }

  private HttpResponse<String> send(
      HttpClient client, String method, String path, Object body, String... headers)
      throws IOException, InterruptedException {
    HttpRequest.Builder request =
        HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + path))
            .method(
                method,
                body == null
                    ? HttpRequest.BodyPublishers.noBody()
                    : HttpRequest.BodyPublishers.ofString(
                        body instanceof String text ? text : JSON.writeValueAsString(body)));
    request.header("Content-Type", "application/json");
    for (int i = 0; i < headers.length; i += 2) {
      request.header(headers[i], headers[i + 1]);
    }
    return client.send(request.build(), HttpResponse.BodyHandlers.ofString());
  }

  private HttpResponse<String> as(String token, String method, String path, Object body)
      throws IOException, InterruptedException {
    return send(HttpClient.newHttpClient(), method, path, body, "Authorization", "Bearer " + token);
  }

  private HttpResponse<String> signIn(HttpClient client, String name, String password, String fresh)
      throws IOException, InterruptedException {
    return send(
        client,
        "POST",
        "/api/v1/session",
        Map.of("name", name, "password", password, "newPassword", fresh));
  }

  private static HttpClient browser() {
    return HttpClient.newBuilder().cookieHandler(new CookieManager()).build();
  }

  private static String detail(HttpResponse<String> response) {
    return JSON.readTree(response.body()).path("detail").asString();
  }

  // ---- closed by default

  /** Every address that a controller answers is named in the table, and nothing is named twice. */
  @Test
  void everyAddressHasItsRule() {
    Set<String> answered =
        mappings.getHandlerMethods().keySet().stream()
            .flatMap(
                info ->
                    info.getMethodsCondition().getMethods().stream()
                        .flatMap(
                            method ->
                                info.getPatternValues().stream().map(path -> method + " " + path)))
            .filter(one -> !one.contains("openapi") && !one.contains("/error"))
            .collect(Collectors.toSet());
    Set<String> ruled =
        WhoMay.RULES.stream()
            .map(rule -> rule.method() + " " + rule.path().getPatternString())
            .filter(one -> !one.contains("openapi") && !one.contains("actuator"))
            .filter(one -> !Set.of("GET /agent/v1/link", "GET /agent/v1/road/*").contains(one))
            .collect(Collectors.toSet());
    assertThat(ruled).containsExactlyInAnyOrderElementsOf(answered);
    assertThat(WhoMay.RULES)
        .extracting(rule -> rule.method() + " " + rule.path())
        .doesNotHaveDuplicates();
  }

  @Test
  void whatNoRuleNamesIsClosedToAdministratorsToo() throws Exception {
    for (String one :
        List.of(
            "PUT /api/v1/runs",
            "DELETE /api/v1/hosts",
            "POST /api/v1/none",
            "PATCH /api/v1/people/ida")) {
      String[] parts = one.split(" ");
      HttpResponse<String> answer = as(chief, parts[0], parts[1], "{}");
      assertThat(answer.statusCode()).as(one).isEqualTo(404);
      assertThat(detail(answer)).isEqualTo("there is nothing at " + one);
    }
    assertThat(WhoMay.rule(HttpMethod.PUT, "/api/v1/runs")).isEmpty();
    assertThat(as(chief, "GET", "/actuator/env", null).statusCode()).isEqualTo(404);
  }

  @ParameterizedTest
  @CsvSource({
    "GET,/api/v1/people,ADMINISTRATOR",
    "POST,/api/v1/people/ida/actions,ADMINISTRATOR",
    "POST,/api/v1/definitions,AUTHOR",
    "POST,/api/v1/starts,OPERATOR",
    "POST,/api/v1/what-if,VIEWER",
    "GET,/api/v1/runs,VIEWER"
  })
  void whoLacksARoleIsToldWhichOne(String method, String path, Role least) throws Exception {
    for (Role role : Role.values()) {
      people.save("kari", role, passwords.hash(PASSWORD), false);
      String token = tokens.make("kari", "t", TokenScope.API, Tokens.USUAL).secret();
      HttpResponse<String> answer = as(token, method, path, method.equals("GET") ? null : "{}");
      if (role.isAtLeast(least)) {
        assertThat(answer.statusCode()).as(role.word()).isNotEqualTo(403);
      } else {
        assertThat(answer.statusCode()).as(role.word()).isEqualTo(403);
        assertThat(detail(answer))
            .isEqualTo(
                "this needs the role " + least.word() + "; kari has the role " + role.word());
      }
    }
    HttpResponse<String> nobody =
        send(HttpClient.newHttpClient(), method, path, method.equals("GET") ? null : "{}");
    assertThat(nobody.statusCode()).isIn(401, 403);
    assertThat(nobody.headers().firstValue("Content-Type").orElse(""))
        .startsWith("application/problem+json");
  }

  // ---- access ends with the person

  @Test
  void aLockARoleAndASignOutCountAtTheNextRequest() throws Exception {
    HttpClient kari = browser();
    assertThat(signIn(kari, "kari", PASSWORD, "").statusCode()).isEqualTo(200);
    String token = tokens.make("kari", "t", TokenScope.API, Tokens.USUAL).secret();
    assertThat(send(kari, "GET", "/api/v1/runs", null).statusCode()).isEqualTo(200);

    people.changeRole("kari", Role.ADMINISTRATOR);
    assertThat(send(kari, "GET", "/api/v1/people", null).statusCode()).isEqualTo(200);
    people.changeRole("kari", Role.VIEWER);
    assertThat(send(kari, "GET", "/api/v1/people", null).statusCode()).isEqualTo(403);
    assertThat(as(token, "POST", "/api/v1/starts", "{}").statusCode()).isEqualTo(403);

    assertThat(
            as(
                    chief,
                    "POST",
                    "/api/v1/people/kari/actions",
                    Map.of("action", "lock", "reason", "lost laptop"))
                .statusCode())
        .isEqualTo(200);
    assertThat(send(kari, "GET", "/api/v1/runs", null).statusCode()).isEqualTo(401);
    assertThat(as(token, "GET", "/api/v1/runs", null).statusCode()).isEqualTo(401);
    HttpResponse<String> locked = signIn(browser(), "kari", PASSWORD, "");
    assertThat(locked.statusCode()).isEqualTo(401);
    assertThat(detail(locked)).contains("kari is locked out; an administrator can unlock them");

    people.lock("kari", false);
    assertThat(as(token, "GET", "/api/v1/runs", null).statusCode()).isEqualTo(200);
    assertThat(send(kari, "GET", "/api/v1/runs", null).statusCode())
        .as("a session that ended does not come back")
        .isEqualTo(401);
    assertThat(audit.list("person kari", Long.MAX_VALUE, 10))
        .extracting(row -> row.what + " " + row.reason)
        .contains("lock lost laptop");
  }

  @Test
  void signingOutEndsTheSessionForWhoeverHasItsCookie() throws Exception {
    CookieManager cookies = new CookieManager();
    HttpClient kari = HttpClient.newBuilder().cookieHandler(cookies).build();
    signIn(kari, "kari", PASSWORD, "");
    send(kari, "GET", "/api/v1/runs", null);
    String stolen =
        cookies.getCookieStore().getCookies().stream()
            .map(one -> one.getName() + "=" + one.getValue())
            .collect(Collectors.joining("; "));
    String forgery =
        cookies.getCookieStore().getCookies().stream()
            .filter(one -> one.getName().equals("XSRF-TOKEN"))
            .findFirst()
            .orElseThrow()
            .getValue();
    assertThat(send(kari, "DELETE", "/api/v1/session", null, "X-XSRF-TOKEN", forgery).statusCode())
        .isEqualTo(204);
    assertThat(
            send(HttpClient.newHttpClient(), "GET", "/api/v1/runs", null, "Cookie", stolen)
                .statusCode())
        .isEqualTo(401);
  }

  @Test
  void aTokenEndsWhenItIsEndedWhenItsTimeIsUpAndWithItsPerson() throws Exception {
    JsonNode made =
        JSON.readTree(
            as(chief, "POST", "/api/v1/tokens", Map.of("label", "nightly", "days", 2)).body());
    String secret = made.get("token").asString();
    assertThat(as(secret, "GET", "/api/v1/runs", null).statusCode()).isEqualTo(200);
    JsonNode listed = JSON.readTree(as(secret, "GET", "/api/v1/tokens", null).body());
    assertThat(listed.get(0).get("label").asString()).isEqualTo("nightly");
    assertThat(listed.get(0).has("used")).isTrue();
    assertThat(listed.toString()).doesNotContain(secret);

    new JdbcTemplate(database)
        .update(
            "update api_token set expires = ? where id = ?",
            java.sql.Timestamp.from(Instant.now().minusSeconds(1)),
            made.get("id").asLong());
    assertThat(as(secret, "GET", "/api/v1/runs", null).statusCode()).isEqualTo(401);

    String other = tokens.make("chief", "other", TokenScope.API, Duration.ofDays(1)).secret();
    assertThat(as(other, "DELETE", "/api/v1/session", null).statusCode()).isEqualTo(204);
    assertThat(as(other, "GET", "/api/v1/runs", null).statusCode()).isEqualTo(401);

    String karis = tokens.make("kari", "hers", TokenScope.API, Duration.ofDays(1)).secret();
    long id = tokens.bySecret(karis).orElseThrow().id;
    String stranger = tokens.make("kari", "too", TokenScope.API, Duration.ofDays(1)).secret();
    long chiefs = tokens.bySecret(chief).orElseThrow().id;
    assertThat(as(stranger, "DELETE", "/api/v1/tokens/" + chiefs, null).statusCode())
        .isEqualTo(404);
    assertThat(as(stranger, "GET", "/api/v1/tokens?all=true", null).statusCode()).isEqualTo(400);
    assertThat(as(chief, "DELETE", "/api/v1/tokens/" + id, null).statusCode()).isEqualTo(204);
    assertThat(as(karis, "GET", "/api/v1/runs", null).statusCode()).isEqualTo(401);
    people.remove("kari");
    assertThat(as(stranger, "GET", "/api/v1/runs", null).statusCode()).isEqualTo(401);
  }

  @Test
  void theFeedsTokenOpensOnlyTheFeedAndOneOfBeforeOpensBoth() throws Exception {
    String feed = "/api/v1/streams/feed";
    String ofFeed = tokens.make("kari", "calendar", TokenScope.FEED, Tokens.USUAL).secret();
    String ofApi = tokens.make("kari", "api", TokenScope.API, Tokens.USUAL).secret();
    String old = tokens.make("kari", "old", TokenScope.API, Tokens.USUAL).secret();
    new JdbcTemplate(database)
        .update(
            "update api_token set scope = 'any', expires = null where token_hash = ?",
            Secrets.hash(old));
    for (Object[] one :
        new Object[][] {{ofFeed, true, false}, {ofApi, false, true}, {old, true, true}}) {
      String basic =
          Base64.getEncoder().encodeToString(("kari:" + one[0]).getBytes(StandardCharsets.UTF_8));
      HttpResponse<String> fed =
          send(HttpClient.newHttpClient(), "GET", feed, null, "Authorization", "Basic " + basic);
      assertThat(fed.statusCode() != 401).isEqualTo(one[1]);
      int all = as((String) one[0], "GET", "/api/v1/runs", null).statusCode();
      assertThat(all != 401).isEqualTo(one[2]);
    }
  }

  @Test
  void aRequestByTokenMakesNoSession() throws Exception {
    HttpResponse<String> answer = as(chief, "GET", "/api/v1/runs", null);
    assertThat(answer.headers().allValues("Set-Cookie"))
        .noneMatch(one -> one.startsWith("purser-session"));
  }

  @Test
  void whoListensHearsNoMoreOnceTheirTokenHasEnded() throws Exception {
    Tokens.Made made = tokens.make("kari", "listens", TokenScope.API, Tokens.USUAL);
    HttpResponse<InputStream> stream = listen(made.secret());
    try (BufferedReader lines =
        new BufferedReader(new InputStreamReader(stream.body(), StandardCharsets.UTF_8))) {
      tokens.end(made.row().id);
      CompletableFuture<Long> heard = CompletableFuture.supplyAsync(() -> lines.lines().count());
      assertThat(heard.orTimeout(20, java.util.concurrent.TimeUnit.SECONDS).join()).isNotNegative();
    }
  }

  @Test
  void aPersonHasAFewListenersAndTheOldestEnds() throws Exception {
    String token = tokens.make("kari", "listens", TokenScope.API, Tokens.USUAL).secret();
    List<HttpResponse<InputStream>> streams = new ArrayList<>();
    for (int i = 0; i < 9; i++) {
      streams.add(listen(token));
    }
    CompletableFuture<byte[]> first =
        CompletableFuture.supplyAsync(
            () -> {
              try {
                return streams.get(0).body().readAllBytes();
              } catch (IOException e) {
                return new byte[0];
              }
            });
    first.orTimeout(20, java.util.concurrent.TimeUnit.SECONDS).join();
    tokens.end(tokens.bySecret(token).orElseThrow().id);
    for (HttpResponse<InputStream> stream : streams) {
      try (InputStream rest = stream.body()) {
        assertThat(rest.readAllBytes()).isNotNull();
      }
    }
  }

  private HttpResponse<InputStream> listen(String token) throws IOException, InterruptedException {
    return listening // kept: a client that nobody holds closes its connections
        .send(
        HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + "/api/v1/changes"))
            .header("Authorization", "Bearer " + token)
            .build(),
        HttpResponse.BodyHandlers.ofInputStream());
  }

  // ---- people

  @Test
  void aPasswordThatSomebodyElseHasSetMustBeReplaced() throws Exception {
    as(
        chief,
        "PUT",
        "/api/v1/people/kari",
        Map.of("role", "operator", "password", "from-somebody-else"));
    HttpResponse<String> refused = signIn(browser(), "kari", "from-somebody-else", "");
    assertThat(refused.statusCode()).isEqualTo(403);
    assertThat(detail(signIn(browser(), "kari", "from-somebody-else", "from-somebody-else")))
        .contains("the new password is the old one");
    HttpClient kari = browser();
    assertThat(signIn(kari, "kari", "from-somebody-else", "her-own-password").statusCode())
        .isEqualTo(200);
    assertThat(send(kari, "GET", "/api/v1/runs", null).statusCode()).isEqualTo(200);
  }

  @Test
  void theLastAdministratorStays() {
    List<String> others =
        people.all().stream()
            .filter(one -> one.role.equals(Role.ADMINISTRATOR.word()) && !one.name.equals("chief"))
            .map(one -> one.name)
            .toList();
    others.forEach(one -> people.changeRole(one, Role.AUTHOR));
    try {
      assertThatThrownBy(() -> people.remove("chief"))
          .isInstanceOf(LastAdministrator.class)
          .hasMessage(
              "chief is the last administrator and cannot be removed; make somebody else"
                  + " administrator first");
      assertThatThrownBy(() -> people.lock("chief", true)).isInstanceOf(LastAdministrator.class);
      assertThatThrownBy(() -> people.changeRole("chief", Role.VIEWER))
          .hasMessageContaining("cannot be a viewer");
      assertThatThrownBy(() -> people.save("chief", Role.AUTHOR, passwords.hash(PASSWORD), false))
          .hasMessageContaining("cannot be an author");
    } finally {
      others.forEach(one -> people.changeRole(one, Role.ADMINISTRATOR));
    }
  }

  // ---- sign-in is no weapon

  /** A crowd at the door neither holds the database nor keeps those inside from being answered. */
  @Test
  void aCrowdAtTheDoorCostsThoseInsideNothing() throws Exception {
    List<CompletableFuture<Integer>> crowd = new ArrayList<>();
    HttpClient client = HttpClient.newHttpClient();
    for (int i = 0; i < 150; i++) {
      HttpRequest request =
          HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + "/api/v1/session"))
              .header("Content-Type", "application/json")
              .POST(
                  HttpRequest.BodyPublishers.ofString(
                      "{\"name\":\"crowd" + i + "\",\"password\":\"x\"}"))
              .build();
      crowd.add(
          client
              .sendAsync(request, HttpResponse.BodyHandlers.discarding())
              .thenApply(HttpResponse::statusCode));
    }
    for (int i = 0; i < 40; i++) {
      assertThat(as(chief, "GET", "/api/v1/runs?limit=1", null).statusCode()).isEqualTo(200);
    }
    Set<Integer> answers = crowd.stream().map(CompletableFuture::join).collect(Collectors.toSet());
    assertThat(answers).isSubsetOf(401, 429, 503);
  }

  @Test
  void aFailureIsInTheTrailWithoutWhatCouldFoolAReader() throws Exception {
    signIn(browser(), "mallory\u001b[2J\nroot", "x", "");
    assertThat(audit.list("person mallory", Long.MAX_VALUE, 1))
        .extracting(row -> row.who + "/" + row.what + "/" + row.about)
        .first()
        .satisfiesAnyOf(
            one ->
                assertThat(one)
                    .isEqualTo("mallory?[2J?root/failed sign-in/person mallory?[2J?root"));
  }

  @ParameterizedTest
  @CsvSource({
    "/api/v1/session,password,20000,413",
    "/agent/v1/enrol,token,20000,413",
    "/api/v1/session,password,900,401"
  })
  void strangersSendLittle(String path, String field, int length, int status) throws Exception {
    String body = "{\"" + field + "\":\"" + "x".repeat(length) + "\"}";
    HttpResponse<String> answer = send(HttpClient.newHttpClient(), "POST", path, body);
    assertThat(answer.statusCode()).isEqualTo(status);
    HttpRequest unsaid =
        HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + path))
            .header("Content-Type", "application/json")
            .POST(
                HttpRequest.BodyPublishers.fromPublisher(HttpRequest.BodyPublishers.ofString(body)))
            .build();
    assertThat(
            HttpClient.newHttpClient()
                .send(unsaid, HttpResponse.BodyHandlers.ofString())
                .statusCode())
        .isEqualTo(status);
  }

  @Test
  void aFieldThatIsNotThereIsRefusedByItsName() throws Exception {
    HttpResponse<String> answer =
        as(chief, "POST", "/api/v1/tokens", "{\"label\":\"a\",\"scop\":\"feed\"}");
    assertThat(answer.statusCode()).isEqualTo(400);
    assertThat(detail(answer)).isEqualTo("there is no field \"scop\"; did you mean \"scope\"?");
  }
}
