package dev.purser.service.subscription;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.awaitility.Awaitility.await;

import com.sun.net.httpserver.HttpServer;
import dev.purser.core.definition.Way;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.Ending;
import dev.purser.service.OnDatabase;
import dev.purser.service.action.Actions;
import dev.purser.service.action.Start;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.people.Passwords;
import dev.purser.service.people.People;
import dev.purser.service.people.Role;
import dev.purser.service.people.TokenScope;
import dev.purser.service.people.Tokens;
import dev.purser.service.publish.Publisher;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.time.Duration;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CopyOnWriteArrayList;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.boot.test.web.server.LocalServerPort;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Programs that are told of what happens: a real service, and a receiver that may be ill. */
class SubscriptionsTest extends OnDatabase {
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final Duration SOON = Duration.ofSeconds(20);

  @Autowired private Subscriptions subscriptions;
  @Autowired private Events events;
  @Autowired private Engine engine;
  @Autowired private Publisher publisher;
  @Autowired private Actions actions;
  @Autowired private People people;
  @Autowired private Passwords passwords;
  @Autowired private Tokens tokens;
  @LocalServerPort private int port;

  private final List<JsonNode> told = new CopyOnWriteArrayList<>();
  private volatile int answer = 204;
  private HttpServer receiver;

  @BeforeEach
  void open() throws IOException {
    receiver = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 10);
    receiver.createContext(
        "/",
        exchange -> {
          JsonNode event = JSON.readTree(exchange.getRequestBody().readAllBytes());
          if (answer / 100 == 2) {
            told.add(event);
          }
          exchange.sendResponseHeaders(answer, -1);
          exchange.close();
        });
    receiver.start();
    people.save("subscriber", Role.OPERATOR, passwords.hash("long-enough-password"), false);
    engine.tell(now -> new BoardEvent.HostSeen(now, "buoy", Set.of())).join();
    String text =
        """
        host: buoy
        ---
        stream: told/a
        department: Told
        jobs: { load: { host: buoy, run: x } }
        ---
        stream: told/b
        jobs: { load: { host: buoy, run: x } }
        """;
    assertThat(
            publisher
                .publish(List.of(new SourceFile("a.yaml", text)), Optional.empty(), IDA, "test")
                .sound())
        .isTrue();
  }

  @AfterEach
  void close() {
    receiver.stop(0);
    subscriptions.all().stream()
        .filter(one -> one.row().owner.equals("subscriber"))
        .forEach(one -> subscriptions.end(one.row().id, "the test is over"));
  }

  private Way here() {
    return new Way(
        "webhook", "http://127.0.0.1:" + receiver.getAddress().getPort() + "/", Map.of());
  }

  private long subscribed(String stream, String kind) {
    return subscriptions
        .add("subscriber", List.of("runs"), new Events.Wanted("", stream, kind), here())
        .row()
        .id;
  }

  private long started(String stream) {
    return actions
        .start(
            Start.of(stream, Optional.empty(), LocalDate.of(2027, 5, 4)), Optional.empty(), IDA, "")
        .get(0);
  }

  private void failed(long run) {
    engine.tell(now -> new BoardEvent.AttemptBegan(now, run, 1)).join();
    engine
        .tell(now -> new BoardEvent.AttemptEnded(now, run, 1, Ending.exited(3), now, Map.of()))
        .join();
  }

  private List<String> states(long run) {
    return told.stream()
        .filter(one -> one.get("data").get("run").asLong() == run)
        .map(one -> one.get("data").get("state").asString())
        .toList();
  }

  @Test
  void whatHappensIsToldInOrderAndOnlyWhatIsWanted() {
    subscribed("told/a", "");
    long other = started("told/b");
    long run = started("told/a");
    failed(run);
    await().atMost(SOON).until(() -> states(run).contains("failed"));
    assertThat(states(other)).isEmpty();
    assertThat(told).extracting(one -> one.get("sequence").asString()).isSorted();
    JsonNode last = told.get(told.size() - 1);
    assertThat(last.get("type").asString()).isEqualTo("dev.purser.run.failed");
    assertThat(last.get("subject").asString()).startsWith("told/a/load@2027-05-04#");
    assertThat(last.get("specversion").asString()).isEqualTo("1.0");
  }

  @Test
  void whatDoesNotArriveIsTriedAgainAndNothingIsLeftOut() {
    answer = 503;
    long id = subscribed("told/a", "");
    long run = started("told/a");
    await().atMost(SOON).until(() -> place(id).tries > 0);
    assertThat(place(id).lastError).contains("answered 503");
    failed(run);
    answer = 200;
    await().atMost(SOON).until(() -> states(run).contains("failed"));
    assertThat(states(run)).doesNotHaveDuplicates().hasSizeGreaterThan(1);
    await().atMost(SOON).until(() -> place(id).tries == 0 && place(id).delivered != null);
  }

  private SubscriptionPlaceRow place(long id) {
    return whole(id).places().get(0);
  }

  private Subscriptions.Whole whole(long id) {
    return subscriptions.all().stream().filter(one -> one.row().id == id).findFirst().orElseThrow();
  }

  @Test
  void aReceiverThatIsGoneEndsIt() {
    answer = 410;
    long id = subscribed("told/a", "");
    started("told/a");
    await().atMost(SOON).until(() -> whole(id).row().state.equals("over"));
    assertThat(whole(id).row().note).contains("answers 410");
  }

  @Test
  void itEndsWithItsOwnersRights() {
    long id = subscribed("told/a", "");
    people.lock("subscriber", true);
    await().atMost(SOON).until(() -> whole(id).row().state.equals("over"));
    assertThat(whole(id).row().note).isEqualTo("its owner subscriber is locked out");
    people.lock("subscriber", false);
  }

  /** As if another service had gone on meanwhile. */
  @Test
  void whoHasBeenOvertakenGoesNoFurther() {
    long id = subscribed("told/never", "");
    SubscriptionPlaceRow stale = place(id);
    await().atMost(SOON).until(() -> events.settled("runs") > 0 || stale.number == 0);
    assertThat(subscriptions.goOn(place(id), stale.number + 5, true)).isTrue();
    assertThat(subscriptions.goOn(stale, stale.number + 9, true)).isFalse();
    assertThat(place(id).number).isGreaterThanOrEqualTo(stale.number - 9);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          pigeons |                       | there is no topic "pigeons"
          runs    | ftp://x.example/      | expected an http:// or https:// address
          runs    | https://a:b@x.example | without a user or password
          """)
  void whatMakesNoSenseIsRefused(String topic, String address, String text) {
    Way to = address == null ? here() : new Way("webhook", address, Map.of());
    assertThatThrownBy(
            () ->
                subscriptions.add("subscriber", List.of(topic), new Events.Wanted("", "", ""), to))
        .isInstanceOf(NotUnderstood.class)
        .hasMessageContaining(text);
  }

  @Test
  void aPersonHasTwentyAtTheMost() {
    for (int i = 0; i < 20; i++) {
      subscribed("told/never", "");
    }
    assertThatThrownBy(() -> subscribed("told/never", ""))
        .hasMessage("subscriber has 20 subscriptions; end one of them first");
  }

  // ---- through the API

  private HttpResponse<String> send(String name, String method, String path, String body)
      throws IOException, InterruptedException {
    String secret = tokens.make(name, "test", TokenScope.API, Tokens.USUAL).secret();
    return HttpClient.newHttpClient()
        .send(
            HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + path))
                .header("Authorization", "Bearer " + secret)
                .header("Content-Type", "application/json")
                .method(method, HttpRequest.BodyPublishers.ofString(body))
                .build(),
            HttpResponse.BodyHandlers.ofString());
  }

  @Test
  void throughTheApiOneIsMadeListedAndEndedByItsOwner() throws Exception {
    people.save("stranger", Role.OPERATOR, passwords.hash("long-enough-password"), false);
    people.save("looker", Role.VIEWER, passwords.hash("long-enough-password"), false);
    String body =
        """
        {"topics": ["files", "commitments"], "address": "%s", "department": "Told"}
        """
            .formatted(here().address());
    assertThat(send("looker", "POST", "/api/v1/subscriptions", body).statusCode()).isEqualTo(403);
    HttpResponse<String> made = send("subscriber", "POST", "/api/v1/subscriptions", body);
    assertThat(made.statusCode()).as(made.body()).isEqualTo(200);
    JsonNode view = JSON.readTree(made.body());
    assertThat(view.get("places")).hasSize(2);
    String one = "/api/v1/subscriptions/" + view.get("id").asLong();
    assertThat(send("looker", "GET", "/api/v1/subscriptions", "").body())
        .contains("\"owner\":\"subscriber\"");
    assertThat(send("stranger", "DELETE", one, "").statusCode()).isEqualTo(403);
    assertThat(send("subscriber", "DELETE", one, "").body()).contains("ended by subscriber");
    assertThat(send("subscriber", "DELETE", one, "").statusCode()).isEqualTo(400);
    assertThat(send("subscriber", "DELETE", "/api/v1/subscriptions/987654", "").statusCode())
        .isEqualTo(404);
    assertThat(send("subscriber", "POST", "/api/v1/subscriptions", "{}").statusCode())
        .isEqualTo(400);
  }

  @Test
  void whatWasMissedIsFetchedFromTheCursorOn() throws Exception {
    HttpResponse<String> begin = send("subscriber", "GET", "/api/v1/events?topic=runs", "");
    long cursor = JSON.readTree(begin.body()).get("cursor").asLong();
    long run = started("told/a");
    failed(run);
    await()
        .atMost(SOON)
        .until(
            () -> {
              String path = "/api/v1/events?topic=runs&department=Told&kind=failed&after=" + cursor;
              JsonNode found = JSON.readTree(send("subscriber", "GET", path, "").body());
              return found.get("cursor").asLong() > cursor
                  && found.get("events").size() == 1
                  && found.get("events").get(0).get("data").get("run").asLong() == run;
            });
    assertThat(send("subscriber", "GET", "/api/v1/events?topic=pigeons", "").statusCode())
        .isEqualTo(400);
  }
}
