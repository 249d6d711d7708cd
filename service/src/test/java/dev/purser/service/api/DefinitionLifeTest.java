package dev.purser.service.api;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.tuple;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Kind;
import dev.purser.service.OnDatabase;
import dev.purser.service.board.Engine;
import dev.purser.service.definition.DefinitionRecords;
import dev.purser.service.people.Passwords;
import dev.purser.service.people.People;
import dev.purser.service.people.Role;
import dev.purser.service.people.TokenScope;
import dev.purser.service.people.Tokens;
import dev.purser.wire.api.FindingViews;
import dev.purser.wire.api.ParcelViews;
import dev.purser.wire.api.ScheduleViews;
import dev.purser.wire.api.TemplateViews;
import dev.purser.wire.api.VersionViews;
import dev.purser.wire.api.Views;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.Base64;
import java.util.List;
import java.util.function.BiFunction;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.boot.test.web.server.LocalServerPort;
import tools.jackson.databind.json.JsonMapper;

/** What becomes of a definition: templates, versions, the way back, copies, parcels; by the API. */
class DefinitionLifeTest extends OnDatabase {
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static String token = "";
  private static int made;

  private final HttpClient http = HttpClient.newHttpClient();
  @LocalServerPort private int port;
  @Autowired private People people;
  @Autowired private Passwords passwords;
  @Autowired private Tokens tokens;
  @Autowired private Engine engine;
  @Autowired private DefinitionRecords records;

  private String at;

  @BeforeEach
  void open() throws Exception {
    if (token.isEmpty()) {
      people.save("life-author", Role.AUTHOR, passwords.hash("long-enough-password"), false);
      token = tokens.make("life-author", "test", TokenScope.API, Tokens.USUAL).secret();
    }
    at = "life-" + ++made;
    publish("host: life-pier\n---\nhost: life-quay\n");
  }

  private HttpResponse<String> send(String method, String path, Object body) throws Exception {
    HttpRequest.Builder request =
        HttpRequest.newBuilder(URI.create("http://127.0.0.1:" + port + "/api/v1" + path))
            .header("Authorization", "Bearer " + token)
            .header("Content-Type", "application/json")
            .method(
                method,
                body == null
                    ? HttpRequest.BodyPublishers.noBody()
                    : HttpRequest.BodyPublishers.ofString(JSON.writeValueAsString(body)));
    return http.send(request.build(), HttpResponse.BodyHandlers.ofString());
  }

  private <T> T post(Class<T> type, String path, Object body) throws Exception {
    HttpResponse<String> answer = send("POST", path, body);
    assertThat(answer.statusCode()).as(answer.body()).isIn(200, 422);
    return JSON.readValue(answer.body(), type);
  }

  private <T> List<T> list(Class<T> type, String path) throws Exception {
    HttpResponse<String> answer = send("GET", path, null);
    assertThat(answer.statusCode()).as(answer.body()).isEqualTo(200);
    return JSON.readValue(
        answer.body(), JSON.getTypeFactory().constructCollectionType(List.class, type));
  }

  private String refusal(String path, Object body) throws Exception {
    HttpResponse<String> answer = send("POST", path, body);
    assertThat(answer.statusCode()).as(answer.body()).isIn(400, 404, 409);
    return JSON.readTree(answer.body()).path("detail").asString();
  }

  private Views.PublishResult publish(String yaml) throws Exception {
    Views.PublishResult result =
        post(
            Views.PublishResult.class,
            "/definitions",
            new Views.PublishRequest(List.of(new Views.FileText("life.yaml", yaml)), "for " + at));
    assertThat(result.problems()).filteredOn(one -> one.severity().equals("error")).isEmpty();
    return result;
  }

  private static String encoded(String text) {
    return URLEncoder.encode(text, StandardCharsets.UTF_8);
  }

  private List<VersionViews.VersionView> versions(String kind, String name) throws Exception {
    return list(
        VersionViews.VersionView.class, "/definitions/" + kind + "/versions?name=" + encoded(name));
  }

  private static String stream(String name, String command) {
    return "stream: "
        + name
        + "\njobs:\n  one: { run: "
        + command
        + ", host: life-pier } # as it is\n";
  }

  private VersionViews.RevertRequest to(String name, long revision) {
    return new VersionViews.RevertRequest("stream", name, revision, false, 30, "back", null);
  }

  private VersionViews.RevertRequest undo(long revision, boolean anyway) {
    return new VersionViews.RevertRequest("", "", revision, anyway, 30, "back", null);
  }

  @Test
  void aStreamIsRenamedAndFoundByItsOldName() throws Exception {
    String name = at + "/before";
    publish(stream(name, "./run"));
    VersionViews.RenameRequest request =
        new VersionViews.RenameRequest("stream", name, at + "/after", "a better name");
    VersionViews.RenameView would =
        post(VersionViews.RenameView.class, "/definitions/rename-preview", request);
    assertThat(would.revision()).isZero();
    assertThat(would.changed()).containsExactly("stream " + at + "/after");
    assertThat(post(VersionViews.RenameView.class, "/definitions/rename", request).revision())
        .isPositive();
    List<VersionViews.VersionView> found = versions("stream", name);
    assertThat(found).extracting(VersionViews.VersionView::name).contains(at + "/after", name);
    assertThat(send("GET", "/streams/one?stream=" + encoded(name), null).body())
        .contains(at + "/after");
    assertThat(refusal("/definitions/rename", request)).contains("there is no stream " + name);
  }

  @Test
  void everyVersionIsKeptAndTheWayBackIsOneMore() throws Exception {
    String name = at + "/a";
    long first = publish(stream(name, "./old")).revision();
    long second = publish(stream(name, "./new")).revision();
    assertThat(versions("stream", name))
        .extracting(
            VersionViews.VersionView::revision,
            VersionViews.VersionView::action,
            VersionViews.VersionView::fields,
            VersionViews.VersionView::inForce)
        .containsExactly(tuple(second, "changed", 1, true), tuple(first, "added", 3, false));
    HttpResponse<String> answer =
        send(
            "GET",
            "/definitions/stream/version?name=" + encoded(name) + "&revision=" + second,
            null);
    VersionViews.VersionTextView one =
        JSON.readValue(answer.body(), VersionViews.VersionTextView.class);
    assertThat(one.changes())
        .containsExactly(new ScheduleViews.FieldChange("jobs.one.run", "./old", "./new"));
    assertThat(one.version().who()).isEqualTo("life-author");
    assertThat(one.version().reason()).isEqualTo("for " + at);
    ScheduleViews.PreviewView preview =
        post(ScheduleViews.PreviewView.class, "/definitions/revert-preview", to(name, first));
    assertThat(preview.definitions().get(0).fields())
        .containsExactly(new ScheduleViews.FieldChange("jobs.one.run", "./new", "./old"));
    long third = post(Views.PublishResult.class, "/definitions/revert", to(name, first)).revision();
    assertThat(versions("stream", name).get(0).origin())
        .isEqualTo("as it was at revision " + first);
    assertThat(text(Kind.STREAM, name)).isEqualTo(stream(name, "./old"));
    assertThat(third).isGreaterThan(second);
  }

  private String text(Kind kind, String name) {
    return engine.definitions().document(kind, name).orElseThrow().text();
  }

  @Test
  void whatWasWithdrawnIsFoundAndBroughtBack() throws Exception {
    String name = at + "/a";
    long first = publish(stream(name, "./a")).revision();
    send("DELETE", "/definitions/stream?name=" + encoded(name) + "&reason=sold", null);
    assertThat(list(VersionViews.VersionView.class, "/definitions/withdrawn"))
        .filteredOn(one -> one.name().equals(name))
        .extracting(VersionViews.VersionView::reason)
        .containsExactly("sold");
    long gone = engine.revision();
    assertThat(refusal("/definitions/revert", to(name, gone)))
        .contains("was withdrawn at revision " + gone);
    assertThat(refusal("/definitions/revert", to(name, first - 1)))
        .contains("there was no stream " + name + " at revision");
    post(Views.PublishResult.class, "/definitions/revert", to(name, first));
    assertThat(versions("stream", name).get(0).action()).isEqualTo("brought back");
  }

  @Test
  void aPublicationIsUndoneWholeOrNotAtAll() throws Exception {
    publish(stream(at + "/kept", "./old"));
    long both =
        publish(stream(at + "/kept", "./new") + "---\n" + stream(at + "/new", "./x")).revision();
    long later = publish(stream(at + "/kept", "./newer")).revision();
    assertThat(refusal("/definitions/revert", undo(both, false)))
        .contains("stream " + at + "/kept has changed since publication " + both);
    Views.PublishResult rest =
        post(Views.PublishResult.class, "/definitions/revert", undo(both, true));
    assertThat(rest.withdrawn()).containsExactly("stream " + at + "/new");
    assertThat(rest.changed()).isEmpty();
    post(Views.PublishResult.class, "/definitions/revert", undo(rest.revision(), false));
    post(Views.PublishResult.class, "/definitions/revert", undo(later, false));
    post(Views.PublishResult.class, "/definitions/revert", undo(engine.revision(), false));
    assertThat(text(Kind.STREAM, at + "/kept")).contains("./newer");
    assertThat(list(VersionViews.PublicationView.class, "/publications?limit=1"))
        .extracting(VersionViews.PublicationView::origin)
        .allMatch(origin -> origin.startsWith("undoes publication "));
    assertThat(refusal("/definitions/revert", undo(9_999_999, false)))
        .contains("there was no publication 9999999");
  }

  @Test
  void anUndoThatWouldBreakAnotherIsRefused() throws Exception {
    long first = publish(stream(at + "/a", "./a")).revision();
    publish(
        "stream: "
            + at
            + "/b\njobs: { b: { run: ./b, host: life-pier, waits-for: "
            + at
            + "/a/one succeeded } }\n");
    Views.PublishResult result =
        post(Views.PublishResult.class, "/definitions/revert", undo(first, false));
    assertThat(result.sound()).isFalse();
    assertThat(result.problems().get(0).message())
        .contains("would be gone")
        .contains(at + "/b/b still uses it");
    assertThat(engine.definitions().stream(at + "/a")).isPresent();
  }

  private String template(String title) {
    return "template: "
        + at
        + "\nparameters: { name: { type: name }, host: { default: life-pier } }\n"
        + "of-stream:\n  stream: "
        + at
        + "/$<name>\n  title: "
        + title
        + " $<name>\n  jobs: { one: { run: ./one $<name>, host: $<host> } }\n";
  }

  private String table(String rows) {
    return "for-each: " + at + "\nfrom-template: " + at + "\ntable: |\n" + rows.indent(2);
  }

  @Test
  void whatATemplateMakesIsTheSameAfterARestart() throws Exception {
    Views.PublishResult first =
        publish(template("Round") + "---\n" + table("name,host\na,\nb,life-quay"));
    assertThat(first.added())
        .containsExactlyInAnyOrder(
            "template " + at, "for-each " + at, "stream " + at + "/a", "stream " + at + "/b");
    Definitions again = records.at(engine.revision());
    for (String name : List.of(at + "/a", at + "/b")) {
      assertThat(again.stream(name)).isEqualTo(engine.definitions().stream(name)).isPresent();
      assertThat(again.document(Kind.STREAM, name).orElseThrow().made())
          .isEqualTo(engine.definitions().document(Kind.STREAM, name).orElseThrow().made());
    }
    Views.PublishResult changed = publish(template("Daily round"));
    assertThat(changed.changed())
        .containsExactlyInAnyOrder("template " + at, "stream " + at + "/a", "stream " + at + "/b");
    assertThat(versions("stream", at + "/a"))
        .extracting(VersionViews.VersionView::madeBy)
        .containsExactly(at, at);
    Views.PublishResult less = publish(table("name,host\na,"));
    assertThat(less.withdrawn()).containsExactly("stream " + at + "/b");
    assertThat(records.at(engine.revision()).stream(at + "/b")).isEmpty();
    post(Views.PublishResult.class, "/definitions/revert", undo(less.revision(), false));
    assertThat(engine.definitions().stream(at + "/b").orElseThrow().title())
        .isEqualTo("Daily round b");
    assertThat(send("DELETE", "/definitions/template?name=" + at, null).statusCode())
        .isEqualTo(409);
    assertThat(send("DELETE", "/definitions/for-each?name=" + at, null).statusCode())
        .isEqualTo(204);
    assertThat(engine.definitions().names(Kind.STREAM)).noneMatch(one -> one.startsWith(at + "/"));
    assertThat(records.at(engine.revision()).names(Kind.STREAM))
        .noneMatch(one -> one.startsWith(at + "/"));
  }

  @Test
  void deviationsAreToldAndTakenBack() throws Exception {
    publish(template("Round"));
    publish(
        table("name\na\nb")
            + "deviations:\n  "
            + at
            + "/a: { title: Other, jobs: { one: { usually: 4m } } }\n");
    publish(
        "stream: "
            + at
            + "/own # mine\nfrom-template: "
            + at
            + "\nwith: { name: own }\ntitle: Mine\n");
    TemplateViews.TemplateView view =
        JSON.readValue(
            send("GET", "/templates/" + at, null).body(), TemplateViews.TemplateView.class);
    assertThat(view.made())
        .extracting(TemplateViews.MadeView::stream, TemplateViews.MadeView::deviations)
        .containsExactly(
            tuple(at + "/a", List.of("jobs.one.usually", "title")),
            tuple(at + "/b", List.of()),
            tuple(at + "/own", List.of("title")));
    post(
        Views.PublishResult.class,
        "/templates/take-back",
        new TemplateViews.TakeBackRequest(at + "/a", List.of("title"), ""));
    assertThat(engine.definitions().stream(at + "/a").orElseThrow().title()).isEqualTo("Round a");
    post(
        Views.PublishResult.class,
        "/templates/take-back",
        new TemplateViews.TakeBackRequest(at + "/a", List.of(), ""));
    assertThat(text(Kind.FOR_EACH, at)).doesNotContain("deviations");
    post(
        Views.PublishResult.class,
        "/templates/take-back",
        new TemplateViews.TakeBackRequest(at + "/own", List.of(), ""));
    assertThat(text(Kind.STREAM, at + "/own")).contains("# mine").doesNotContain("Mine");
    assertThat(
            refusal(
                "/templates/take-back",
                new TemplateViews.TakeBackRequest(at + "/own", List.of(), "")))
        .contains("is as its template says");
    assertThat(
            refusal(
                "/templates/take-back",
                new TemplateViews.TakeBackRequest(at + "/none", List.of(), "")))
        .contains("there is no stream");
  }

  @Test
  void aTemplateMadeOfStreamsMakesThemAgain() throws Exception {
    publish(stream(at + "/x", "./run x") + "---\n" + stream(at + "/y", "./run y"));
    String yaml =
        post(
                TemplateViews.DefinitionText.class,
                "/templates/made-of",
                new TemplateViews.MakeTemplateRequest(at, List.of(at + "/x", at + "/y")))
            .text();
    Views.PublishResult result = publish(yaml);
    assertThat(result.changed()).as("they are rows now, and the same").hasSize(2);
    assertThat(engine.definitions().stream(at + "/x").orElseThrow().jobs()).hasSize(1);
    assertThat(
            refusal(
                "/templates/made-of",
                new TemplateViews.MakeTemplateRequest("t", List.of(at + "/none"))))
        .contains("there is no stream");
  }

  @Test
  void usesLeftOversAndTextsAreFound() throws Exception {
    publish(
        "business-calendar: "
            + at
            + "\nworking: weekdays\n---\nbusiness-calendar: "
            + at
            + "-idle\nworking: weekdays\n---\nstream: "
            + at
            + "/a\ncalendar: "
            + at
            + "\njobs: { one: { run: ./needle-"
            + at
            + ", host: life-pier } }\n");
    assertThat(
            list(FindingViews.UseView.class, "/definitions/uses?kind=business-calendar&name=" + at))
        .containsExactly(new FindingViews.UseView("stream", at + "/a", at + "/a"));
    assertThat(list(FindingViews.LeftOverView.class, "/definitions/left-over"))
        .extracting(FindingViews.LeftOverView::name)
        .contains(at + "-idle")
        .doesNotContain(at);
    assertThat(list(FindingViews.FoundLine.class, "/definitions/search?text=NEEDLE-" + at))
        .extracting(FindingViews.FoundLine::name, FindingViews.FoundLine::line)
        .containsExactly(tuple(at + "/a", 3));
    assertThat(send("GET", "/definitions/uses?kind=host&name=life-peer", null).body())
        .contains("did you mean");
  }

  private String copy(String name, String job, String to) throws Exception {
    return post(
            TemplateViews.DefinitionText.class,
            "/definitions/copy",
            new FindingViews.CopyRequest("stream", name, job, to))
        .text();
  }

  @Test
  void aCopyNamesItselfAndAJobsCopyStandsAfterIt() throws Exception {
    String name = at + "/a";
    publish(
        "stream: "
            + name
            + "\njobs:\n  one: { run: ./a, host: life-pier }   # the first\n"
            + "  two: { run: ./b, host: life-pier, waits-for: "
            + name
            + "/one succeeded }\n");
    assertThat(copy(name, "", at + "/a-south"))
        .contains("stream: " + at + "/a-south", at + "/a-south/one succeeded", "# the first")
        .doesNotContain(name + "/one");
    publish(copy(name, "", at + "/a-south"));
    assertThat(copy(name, "one", "again"))
        .contains("  one: { run: ./a, host: life-pier }   # the first\n  again: { run: ./a");
    publish(copy(name, "one", "again"));
    assertThat(refusal("/definitions/copy", new FindingViews.CopyRequest("stream", name, "", name)))
        .contains("already");
    assertThat(
            refusal("/definitions/copy", new FindingViews.CopyRequest("stream", name, "", "A b")))
        .contains("is not a valid name");
    assertThat(
            refusal("/definitions/copy", new FindingViews.CopyRequest("stream", name, "no", "x")))
        .contains("has no job no");
  }

  private ParcelViews.PackedView pack(boolean needs, String... streams) throws Exception {
    return post(
        ParcelViews.PackedView.class,
        "/parcels/packed",
        new ParcelViews.PackRequest(List.of(streams), List.of(), needs, false));
  }

  private static ParcelViews.PromoteRequest promote(String parcel, String map) {
    return new ParcelViews.PromoteRequest(parcel, map, 30, "tested");
  }

  @Test
  void aParcelComesBackWithNamesMappedAndIsUndoneAtOnce() throws Exception {
    String yaml =
        "business-calendar: "
            + at
            + "\nworking: weekdays\n---\nrecipient: "
            + at
            + "-desk\nmail: [a@b.example]\n---\nrecipient: "
            + at
            + "-night\nmail: [n@b.example]\n---\nstream: "
            + at
            + "/a\nowner: "
            + at
            + "-desk\ncalendar: "
            + at
            + "\nparameters: { deck: all }\nschedule: { days: business days of "
            + at
            + ", at: \"05:00\", zone: UTC }\njobs:\n  one: { run: \"./a life-pier ${deck}\", host: life-pier } # runs at life-pier\n";
    publish(yaml);
    ParcelViews.PackedView packed = pack(true, at + "/a");
    assertThat(packed.about().definitions())
        .containsExactlyInAnyOrder("stream " + at + "/a", "business-calendar " + at);
    assertThat(packed.about().expects())
        .containsExactlyInAnyOrder("host life-pier", "recipient " + at + "-desk");
    send("DELETE", "/definitions/stream?name=" + encoded(at + "/a"), null);
    String map =
        "hosts: { life-pier: life-quay }\nrecipients: { "
            + at
            + "-desk: "
            + at
            + "-night }\nparameters: { "
            + at
            + "/a: { deck: main } }\n";
    ParcelViews.ParcelPreview preview =
        post(ParcelViews.ParcelPreview.class, "/parcels/preview", promote(packed.parcel(), map));
    assertThat(preview.missing()).isEmpty();
    assertThat(preview.preview().gained()).isPositive();
    Views.PublishResult taken =
        post(Views.PublishResult.class, "/parcels", promote(packed.parcel(), map));
    assertThat(taken.added()).containsExactly("stream " + at + "/a");
    assertThat(text(Kind.STREAM, at + "/a"))
        .contains("owner: " + at + "-night", "deck: main", "host: life-quay }")
        .contains("./a life-pier")
        .contains("# runs at life-pier");
    assertThat(versions("stream", at + "/a").get(0).origin())
        .matches(
            "parcel from .*, revision \\d+ \\(packed by life-author, .* UTC, sum [0-9a-f]{12}\\)");
    post(Views.PublishResult.class, "/definitions/revert", undo(taken.revision(), false));
    assertThat(engine.definitions().stream(at + "/a")).isEmpty();
  }

  @Test
  void hostsInTemplatesAndTablesAreMappedToo() throws Exception {
    publish(template("Round") + "---\n" + table("name,host\na,life-pier\nb,life-quay"));
    String parcel = pack(true, at + "/a").parcel();
    send("DELETE", "/definitions/for-each?name=" + at, null);
    publish("host: life-other\n");
    post(
        Views.PublishResult.class, "/parcels", promote(parcel, "hosts: { life-pier: life-other }"));
    assertThat(engine.definitions().stream(at + "/a").orElseThrow().jobs().get(0).placement())
        .hasToString("life-other");
    assertThat(engine.definitions().stream(at + "/b").orElseThrow().jobs().get(0).placement())
        .hasToString("life-quay");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          hosts: { life-pier: life-nowhere }  | the map leads to what is not here: there is no host "life-nowhere"
          hosts: { life-pier: ~ }             | the map says nothing of what life-pier under "hosts" is there
          hsts: { a: b }                      | unknown key "hsts" in the map; did you mean "hosts"?
          hosts: life-pier                    | "hosts" of the map needs names and what they are there
          a: [                                | the map is not YAML
          just text                           | the map needs keys
          """)
  void aMapWithAGapIsRefused(String map, String expected) throws Exception {
    publish(stream(at + "/a", "./a"));
    assertThat(refusal("/parcels", promote(pack(false, at + "/a").parcel(), map)))
        .contains(expected);
  }

  @Test
  void whatIsMissingHereIsNamed() throws Exception {
    publish("host: " + at + "\n---\n" + stream(at + "/a", "./a").replace("life-pier", at));
    String parcel = pack(false, at + "/a").parcel();
    send("DELETE", "/definitions/stream?name=" + encoded(at + "/a"), null);
    send("DELETE", "/definitions/host?name=" + at, null);
    ParcelViews.ParcelPreview preview =
        post(ParcelViews.ParcelPreview.class, "/parcels/preview", promote(parcel, ""));
    assertThat(preview.missing()).containsExactly("host " + at);
    assertThat(preview.preview().sound()).isFalse();
    long before = engine.revision();
    assertThat(post(Views.PublishResult.class, "/parcels", promote(parcel, "")).sound()).isFalse();
    assertThat(engine.revision()).isEqualTo(before);
  }

  @Test
  void aParcelThatIsNotAsItWasPackedIsRefused() throws Exception {
    publish(stream(at + "/a", "./a"));
    byte[] good = Base64.getDecoder().decode(pack(false, at + "/a").parcel());
    assertThat(refusedBytes(new byte[0])).contains("it has no manifest.json");
    assertThat(refusedBytes("plain text".getBytes(StandardCharsets.UTF_8)))
        .contains("this is not a parcel");
    assertThat(refusedBytes(Arrays.copyOf(good, good.length / 2))).contains("parcel");
    assertThat(refusedBytes(changed(good, (name, text) -> text.replace("./a", "./evil"))))
        .contains("was changed after it was packed");
    assertThat(
            refusedBytes(
                changed(good, (name, text) -> text.replace("\"format\" : 1", "\"format\" : 2"))))
        .contains("the parcel has format 2; this service reads up to 1");
    assertThat(
            refusedBytes(
                changed(
                    good,
                    (name, text) ->
                        text.replace("\"needs\" : \"0.1.0\"", "\"needs\" : \"0.1.1\""))))
        .contains("needs Purser 0.1.1 or newer; this is 0.1.0");
    assertThat(
            refusedBytes(
                changed(
                    good, (name, text) -> name.equals("manifest.json") ? "{\"format\": 1" : text)))
        .contains("cannot be read");
    assertThat(
            refusedBytes(
                changed(
                    good, (name, text) -> name.equals("manifest.json") ? "{\"format\": 1}" : text)))
        .contains("cannot be read");
    assertThat(
            refusedBytes(
                changed(
                    good,
                    (name, text) ->
                        name.equals("manifest.json")
                            ? text.replaceAll("(?s)\"contents\" : \\[.*?]", "\"contents\" : []")
                            : text)))
        .contains("has a file that its manifest does not name");
    assertThat(refusal("/parcels", promote("not base 64!", ""))).contains("not in base 64");
  }

  private String refusedBytes(byte[] parcel) throws Exception {
    String text = Base64.getEncoder().encodeToString(parcel);
    return refusal(
        "/parcels", promote(text.isEmpty() ? "UEsFBgAAAAAAAAAAAAAAAAAAAAAAAA==" : text, ""));
  }

  private static byte[] changed(byte[] parcel, BiFunction<String, String, String> change)
      throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    try (ZipInputStream in = new ZipInputStream(new ByteArrayInputStream(parcel));
        ZipOutputStream zip = new ZipOutputStream(out)) {
      for (ZipEntry entry = in.getNextEntry(); entry != null; entry = in.getNextEntry()) {
        String text = new String(in.readAllBytes(), StandardCharsets.UTF_8);
        zip.putNextEntry(new ZipEntry(entry.getName()));
        zip.write(change.apply(entry.getName(), text).getBytes(StandardCharsets.UTF_8));
        zip.closeEntry();
      }
    }
    return out.toByteArray();
  }

  @Test
  void aTableOfManyRowsIsPublishedAndPreviewed() throws Exception {
    String rows =
        IntStream.rangeClosed(1, 500)
            .mapToObj(n -> "s" + n + ",life-pier")
            .collect(Collectors.joining("\n"));
    Views.PublishResult result = publish(template("Round") + "---\n" + table("name,host\n" + rows));
    assertThat(result.added()).hasSize(502);
    HttpResponse<String> preview =
        send(
            "POST",
            "/definitions/preview",
            new ScheduleViews.PreviewRequest(
                List.of(new Views.FileText("t.yaml", template("Other"))), 60));
    assertThat(JSON.readValue(preview.body(), ScheduleViews.PreviewView.class).definitions())
        .hasSize(501);
    assertThat(send("DELETE", "/definitions/for-each?name=" + at, null).statusCode())
        .isEqualTo(204);
  }
}
