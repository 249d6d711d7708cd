package dev.purser.service.api;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.alert.AlertKind;
import dev.purser.service.OnDatabase;
import dev.purser.service.board.Engine;
import dev.purser.service.people.Passwords;
import dev.purser.service.people.People;
import dev.purser.service.people.Role;
import dev.purser.service.people.TokenScope;
import dev.purser.service.people.Tokens;
import dev.purser.wire.api.DraftViews;
import dev.purser.wire.api.Views;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.boot.test.web.server.LocalServerPort;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Drafts: whose they are, what they are published as, how they are tried; by the API. */
class DraftTest extends OnDatabase {
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final Map<String, String> TOKENS = new HashMap<>();
  private static int made;

  private final HttpClient http = HttpClient.newHttpClient();
  @LocalServerPort private int port;
  @Autowired private People people;
  @Autowired private Passwords passwords;
  @Autowired private Tokens tokens;
  @Autowired private Engine engine;

  private String at;

  @BeforeEach
  void open() throws Exception {
    if (TOKENS.isEmpty()) {
      person("ada", Role.AUTHOR);
      person("bo", Role.AUTHOR);
      person("cy", Role.VIEWER);
      person("di", Role.ADMINISTRATOR);
    }
    at = "draft-" + ++made;
    as("ada", "POST", "/definitions", request("host: draft-pier\n"), 200);
  }

  private void person(String name, Role role) {
    people.save("draft-" + name, role, passwords.hash("long-enough-password"), false);
    TOKENS.put(name, tokens.make("draft-" + name, "test", TokenScope.API, Tokens.USUAL).secret());
  }

  private static Views.PublishRequest request(String yaml) {
    return new Views.PublishRequest(List.of(new Views.FileText("a.yaml", yaml)), "why");
  }

  private JsonNode as(String who, String method, String path, Object body, int status)
      throws Exception {
    HttpRequest.Builder request =
        HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + "/api/v1" + path))
            .header("Authorization", "Bearer " + TOKENS.get(who))
            .header("Content-Type", "application/json")
            .method(
                method,
                body == null
                    ? HttpRequest.BodyPublishers.noBody()
                    : HttpRequest.BodyPublishers.ofString(JSON.writeValueAsString(body)));
    HttpResponse<String> answer = http.send(request.build(), HttpResponse.BodyHandlers.ofString());
    assertThat(answer.statusCode()).as(answer.body()).isEqualTo(status);
    return answer.body().isEmpty() ? JSON.createObjectNode() : JSON.readTree(answer.body());
  }

  private static DraftViews.DraftRequest draft(String yaml, long version) {
    return new DraftViews.DraftRequest(
        "Night work", List.of(new Views.FileText("a.yaml", yaml)), version, false);
  }

  private long begun(String yaml) throws Exception {
    return as("ada", "POST", "/drafts", draft(yaml, 0), 201).get("id").asLong();
  }

  private static DraftViews.DraftAction action(String what, long version, String... with) {
    return new DraftViews.DraftAction(what, List.of(with), version, "please");
  }

  private String stream(String command) {
    return "stream: "
        + at
        + "/a\ndepartment: "
        + at
        + "\nowner: nobody\nschedule: { days: every day, at: \"23:59\", zone: UTC }\njobs:\n"
        + "  one: { host: draft-pier, run: "
        + command
        + ", waits-for: "
        + at
        + "/b/other succeeded if planned } # a note\n"
        + "  two: { host: draft-pier, run: ./two, waits-for: one succeeded }\n";
  }

  private void other() throws Exception {
    String other = "stream: " + at + "/b\njobs: { other: { host: draft-pier, run: ./b } }\n";
    as("ada", "POST", "/definitions", request(other), 200);
  }

  private static DraftViews.PublicationRequest why() {
    return new DraftViews.PublicationRequest("it is time", null);
  }

  @Test
  void nobodySavesWhatAnotherHoldsAndWhoeverTakesItOverMay() throws Exception {
    long id = begun(stream("./one"));
    as("bo", "GET", "/drafts/" + id, null, 404);
    as("bo", "PUT", "/drafts/" + id, draft("host: x\n", 1), 400);
    as("ada", "POST", "/drafts/" + id + "/actions", action("share", 0, "authors"), 200);
    as("cy", "GET", "/drafts/" + id, null, 404);
    assertThat(as("bo", "GET", "/drafts?limit=1000", null, 200))
        .anyMatch(one -> one.get("id").asLong() == id);
    assertThat(as("cy", "GET", "/drafts", null, 200)).isEmpty();
    assertThat(
            as("bo", "GET", "/drafts/" + id, null, 200).get("files").get(0).get("text").asString())
        .isEqualTo(stream("./one"));
    assertThat(
            as("bo", "PUT", "/drafts/" + id, draft("host: x\n", 1), 409).get("detail").asString())
        .contains("is with draft-ada", "take it over, or copy it");
    as("bo", "POST", "/drafts/" + id + "/actions", action("take over", 0), 200);
    as("bo", "PUT", "/drafts/" + id, draft(stream("./bo"), 1), 200);
    assertThat(
            as("ada", "PUT", "/drafts/" + id, draft(stream("./ada"), 1), 409)
                .get("detail")
                .asString())
        .contains("is with draft-bo");
    long copy =
        as("ada", "POST", "/drafts/" + id + "/actions", action("copy", 0), 200).get("id").asLong();
    as("ada", "PUT", "/drafts/" + copy, draft(stream("./ada"), 1), 200);
    assertThat(
            as("ada", "PUT", "/drafts/" + copy, draft(stream("./late"), 1), 409)
                .get("detail")
                .asString())
        .contains("was saved by draft-ada after you opened it (version 2, you have 1)");
    as("bo", "DELETE", "/drafts/" + copy, null, 400); // to all others it is not there
    as("ada", "DELETE", "/drafts/" + copy, null, 204);
    as("ada", "GET", "/drafts/" + copy, null, 404);
  }

  @Test
  void twoDraftsOfOneStreamAreNotPublishedOverEachOther() throws Exception {
    other();
    as("ada", "POST", "/definitions", request(stream("./first")), 200);
    long one = begun(stream("./one"));
    long two = begun(stream("./two"));
    JsonNode done = as("ada", "POST", "/drafts/" + one + "/publication", why(), 200);
    assertThat(done.get("changed").get(0).asString()).isEqualTo("stream " + at + "/a");
    as("ada", "GET", "/drafts/" + one, null, 404);
    assertThat(
            as("ada", "POST", "/drafts/" + two + "/publication", why(), 409)
                .get("detail")
                .asString())
        .contains("stream " + at + "/a was published as revision", "by draft-ada");
    DraftViews.DraftRequest looked =
        new DraftViews.DraftRequest(
            "Night work", List.of(new Views.FileText("a.yaml", stream("./two"))), 1, true);
    as("ada", "PUT", "/drafts/" + two, looked, 200);
    as("ada", "POST", "/drafts/" + two + "/publication", why(), 200);
    assertThat(as("ada", "GET", "/publications?limit=1", null, 200).get(0).get("origin").asString())
        .isEqualTo("draft " + two);
  }

  @Test
  void whatIsNotSoundIsKeptAndNotPublished() throws Exception {
    long id = begun("stream: " + at + "/a\njobs: { x: { host: nowhere, run: y } }\n");
    JsonNode answer = as("ada", "POST", "/drafts/" + id + "/publication", why(), 422);
    assertThat(answer.get("problems").get(0).get("message").asString()).contains("nowhere");
    as("ada", "GET", "/drafts/" + id, null, 200);
    as(
        "ada",
        "POST",
        "/drafts/" + id + "/trial",
        new DraftViews.TrialRequest("", "", true, null, ""),
        422);
    as("ada", "POST", "/drafts", empty(), 400);
  }

  private static DraftViews.DraftRequest empty() {
    return new DraftViews.DraftRequest("x", List.of(), 0, false);
  }

  @Test
  void somebodyElseMustAgreeWhereTheSiteSaysSo() throws Exception {
    other();
    as("ada", "PUT", "/agreement", new DraftViews.AgreementView(List.of(at)), 403);
    as("di", "PUT", "/agreement", new DraftViews.AgreementView(List.of(at)), 200);
    try {
      assertThat(
              as("di", "POST", "/definitions", request(stream("./now")), 409)
                  .get("detail")
                  .asString())
          .contains("once somebody else has agreed");
      long id = begun(stream("./one"));
      as("ada", "POST", "/drafts/" + id + "/publication", why(), 409);
      assertThat(
              as("ada", "POST", "/drafts/" + id + "/actions", action("agree", 1), 409)
                  .get("detail")
                  .asString())
          .contains("somebody else must agree");
      as("ada", "POST", "/drafts/" + id + "/actions", action("share", 0, "draft-bo"), 200);
      as("ada", "POST", "/drafts/" + id + "/actions", action("ask", 0), 200);
      as("bo", "POST", "/drafts/" + id + "/actions", action("agree", 7), 409);
      as("bo", "POST", "/drafts/" + id + "/actions", action("agree", 1), 200);
      as("ada", "PUT", "/drafts/" + id, draft(stream("./changed-after"), 1), 200);
      as("ada", "POST", "/drafts/" + id + "/publication", why(), 409); // they agreed to another
      as("bo", "POST", "/drafts/" + id + "/actions", action("agree", 2), 200);
      as("ada", "POST", "/drafts/" + id + "/publication", why(), 200);
      as("ada", "DELETE", "/definitions/stream?name=" + at + "/a", null, 409);
      assertThat(
              as("ada", "GET", "/publications?limit=1", null, 200).get(0).get("origin").asString())
          .isEqualTo("draft " + id + ", agreed by draft-bo");
    } finally {
      as("di", "PUT", "/agreement", new DraftViews.AgreementView(List.of()), 200);
    }
    as("ada", "DELETE", "/definitions/stream?name=" + at + "/a", null, 204);
  }

  @Test
  void aTryRunsUnderAPathOfItsOwnAndTellsNobody() throws Exception {
    other();
    long id = begun(stream("./one"));
    JsonNode tried =
        as(
            "ada",
            "POST",
            "/drafts/" + id + "/trial",
            new DraftViews.TrialRequest("", "draft-pier", true, false, "a try"),
            200);
    String path = "trial/" + id + "/" + at + "/a";
    assertThat(tried.get("stream").asString()).isEqualTo(path);
    assertThat(tried.get("runs").size()).isEqualTo(2);
    JsonNode run = as("ada", "GET", "/runs/" + tried.get("runs").get(0).asLong(), null, 200);
    assertThat(run.at("/run/reference").asString()).startsWith(path + "/one@").endsWith("#1");
    assertThat(engine.definitions().stream(path).orElseThrow().schedule()).isEmpty();
    assertThat(engine.definitions().stream(path).orElseThrow().job("one").orElseThrow().waitsFor())
        .isEmpty();
    assertThat(engine.definitions().stream(path).orElseThrow().job("two").orElseThrow().waitsFor())
        .hasToString("Optional[one succeeded]");
    assertThat(engine.definitions().alertRules().ofJob(path + "/one").get(AlertKind.FAILED).isOff())
        .isTrue();
    assertThat(engine.definitions().stream(at + "/a")).isEmpty();
    for (String list : List.of("/streams", "/definitions?texts=false")) {
      assertThat(as("ada", "GET", list, null, 200))
          .noneMatch(one -> one.path("name").asString().startsWith("trial/"))
          .noneMatch(one -> one.path("stream").asString().startsWith("trial/"));
    }
    tried =
        as(
            "ada",
            "POST",
            "/drafts/" + id + "/trial",
            new DraftViews.TrialRequest("", "", false, null, "again"),
            200);
    run = as("ada", "GET", "/runs/" + tried.get("runs").get(0).asLong(), null, 200);
    assertThat(run.at("/run/reference").asString()).endsWith("#2");
    as("ada", "POST", "/definitions", request(stream("./x").replace(at + "/a", path)), 400);
    as("ada", "DELETE", "/drafts/" + id, null, 204);
    assertThat(engine.definitions().stream(path)).isEmpty();
  }

  @Test
  void whatATryAsksOfOthersCanBePlayed() throws Exception {
    other();
    long id = begun(stream("./one"));
    String trial = "/drafts/" + id + "/trial";
    assertThat(
            as("ada", "POST", trial, new DraftViews.TrialRequest("", "", true, true, ""), 400)
                .get("detail")
                .asString())
        .contains("either ignored or played");
    JsonNode tried =
        as("ada", "POST", trial, new DraftViews.TrialRequest("", "", false, true, ""), 200);
    assertThat(tried.get("runs").size()).isEqualTo(3);
    String path = tried.get("stream").asString();
    String question = "play-" + at + "-b-other";
    assertThat(engine.definitions().stream(path).orElseThrow().job("one").orElseThrow().waitsFor())
        .hasToString("Optional[" + question + " succeeded]");
    JsonNode asked =
        tried
            .get("runs")
            .valueStream()
            .map(run -> run("/runs/" + run.asLong()))
            .filter(run -> run.at("/run/job").asString().equals(question))
            .findFirst()
            .orElseThrow();
    String why = "/runs/" + asked.at("/run/id").asLong() + "/why";
    assertThat(as("ada", "GET", why, null, 200).toString())
        .contains(at + "/b/other is played: yes, and it has succeeded here; no, and it has failed");
    as("ada", "DELETE", "/drafts/" + id, null, 204);
  }

  private JsonNode run(String path) {
    try {
      return as("ada", "GET", path, null, 200);
    } catch (Exception e) {
      throw new IllegalStateException(e);
    }
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "no-such-stream | '' | there is no stream \"no-such-stream\" in this draft",
        "'' | no-such-host | there is no host \"no-such-host\"",
      })
  void aTryOfWhatIsNotThereIsRefused(String stream, String host, String why) throws Exception {
    other();
    long id = begun(stream("./one"));
    DraftViews.TrialRequest request = new DraftViews.TrialRequest(stream, host, true, null, "");
    assertThat(as("ada", "POST", "/drafts/" + id + "/trial", request, 400).get("detail").asString())
        .contains(why);
  }

  @Test
  void theYearOfACalendarIsAsADraftWouldMakeIt() throws Exception {
    String calendar = at + "-days";
    String yaml =
        "holiday-calendar: " + calendar + "\nholidays: [ { day: 2030-05-16, name: Sail } ]\n";
    as("cy", "GET", "/calendars/" + calendar + "/years/2030", null, 404);
    JsonNode year = as("cy", "POST", "/calendars/" + calendar + "/years/2030", request(yaml), 200);
    assertThat(year.get("days"))
        .filteredOn(day -> !day.get("open").asBoolean())
        .extracting(day -> day.get("date").asString() + " " + day.get("name").asString())
        .containsExactly("2030-05-16 Sail");
    as("cy", "POST", "/calendars/nothing/years/2030", request(yaml), 404);
  }

  @Test
  void theNextStartsOfADraftAreThoseItWouldHave() throws Exception {
    other();
    Map<String, Object> ask =
        Map.of(
            "files",
            List.of(new Views.FileText("a.yaml", stream("./one"))),
            "stream",
            at + "/a",
            "count",
            3);
    JsonNode next = as("cy", "POST", "/streams/next", ask, 200);
    assertThat(next.size()).isEqualTo(3);
    assertThat(next.get(0).get("at").asString()).contains("T23:59");
    assertThat(engine.definitions().stream(at + "/a")).isEmpty();
  }
}
