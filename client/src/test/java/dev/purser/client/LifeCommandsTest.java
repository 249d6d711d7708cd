package dev.purser.client;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.wire.api.FindingViews;
import dev.purser.wire.api.NeighbourViews;
import dev.purser.wire.api.ParcelViews;
import dev.purser.wire.api.ScheduleViews;
import dev.purser.wire.api.TemplateViews;
import dev.purser.wire.api.VersionViews;
import dev.purser.wire.api.Views;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Commands about the life of a definition: what they ask, and how they say what comes back. */
class LifeCommandsTest extends PlayedService {
  private static final Instant AT = Instant.parse("2027-03-04T10:00:00Z");
  private static final Views.PublishResult DONE =
      new Views.PublishResult(
          true,
          7,
          List.of(),
          List.of("stream a/b"),
          List.of(),
          List.of("stream a/c"),
          1,
          2,
          3,
          4,
          1,
          0,
          null,
          List.of());

  private static VersionViews.VersionView version(long revision, String action) {
    return new VersionViews.VersionView(
        "stream", "a/b", revision, AT, "ada", "new tank", action, "", "", 2, 5, revision == 3);
  }

  @Test
  void versionsAreListedAndOneIsShownBesideTheOther() {
    answers.put(
        "/api/v1/definitions/stream/versions", List.of(version(3, "changed"), version(1, "added")));
    assertThat(run(new VersionCommands.Versions(), "a/b"))
        .contains("2 fields, in force", "added", "new tank", "5");
    answers.put(
        "/api/v1/definitions/stream/version",
        new VersionViews.VersionTextView(
            version(3, "changed"),
            "stream: a/b\n",
            1,
            "",
            List.of(new ScheduleViews.FieldChange("jobs.a.run", "./old", ""))));
    assertThat(run(new VersionCommands.Versions(), "stream", "a/b", "--show", "3"))
        .contains("held against revision 1", "jobs.a.run: ./old → (nothing)", "stream: a/b");
    assertThat(run(new VersionCommands.Versions())).contains("of which definition?");
  }

  @ParameterizedTest
  @CsvSource({
    "'a/b',                    say either",
    "'--to 3',                 say either",
    "'a/b --to 3 --publication 4', say either",
    "'a/b --to 3',             withdrawn  stream a/c",
    "'host quay --to 3',       published as revision 7",
    "'--publication 4',        changed  stream a/b"
  })
  void whatIsToBeAsItWasMustBeSaidInOneWay(String words, String expected) {
    answers.put("/api/v1/definitions/revert", DONE);
    assertThat(run(new VersionCommands.Revert(), words.split(" "))).contains(expected);
  }

  @Test
  void aTemplateSaysWhatHangsOnItAndIsOther() {
    answers.put(
        "/api/v1/templates/t",
        new TemplateViews.TemplateView(
            "t",
            "Title",
            "",
            "stream",
            List.of(
                new TemplateViews.TemplateParameterView("a", "name", null, List.of(), "help"),
                new TemplateViews.TemplateParameterView("b", "text", "", List.of("x", "y"), "")),
            List.of(
                new TemplateViews.MadeView(
                    "s/1", "t", List.of("t"), "rows", 4, Map.of(), List.of("title")))));
    assertThat(run(new TemplateCommands.Templates(), "t"))
        .contains("$<a>  name; must be given  (help)", "one of x, y; may be left out")
        .contains("s/1  row 4 of for-each rows", "other than the template: title");
  }

  @Test
  void aTemplateIsMadeOfStreamsInFiles() throws IOException {
    Path file = folder.resolve("s.yaml");
    Files.writeString(
        file,
        "host: q\n---\nstream: p/a\njobs: { j: { run: ./a, host: q } }\n---\n"
            + "stream: p/b\njobs: { j: { run: ./b, host: q } }\n");
    assertThat(
            run(
                new TemplateCommands.MadeOf(),
                "t",
                "--stream",
                "p/a",
                "p/b",
                "--files",
                file.toString()))
        .contains("stream: p/$<name>", "run: ./$<name>");
    assertThat(
            run(new TemplateCommands.MadeOf(), "t", "--stream", "p/c", "--files", file.toString()))
        .contains("there is no stream p/c");
  }

  @Test
  void aParcelIsPackedHereAndPromotedThere() throws IOException {
    byte[] zip = "a zip".getBytes(StandardCharsets.UTF_8);
    ParcelViews.ParcelView about =
        new ParcelViews.ParcelView(
            "test", AT, "ada", 4, List.of("stream a/b"), List.of("host q"), "", "abc");
    answers.put(
        "/api/v1/parcels/packed",
        new ParcelViews.PackedView(about, Base64.getEncoder().encodeToString(zip)));
    Path file = folder.resolve("a.parcel");
    assertThat(run(new ParcelCommands.Pack(), "a/b", "--to", file.toString()))
        .contains("packed 1 definition of revision 4 of test", "expected there", "host q");
    assertThat(Files.readAllBytes(file)).isEqualTo(zip);
    new Login("http://127.0.0.1:" + server.getAddress().getPort(), "other").keep("live");
    answers.put(
        "/api/v1/parcels/preview",
        new ParcelViews.ParcelPreview(
            about,
            List.of("host q"),
            new ScheduleViews.PreviewView(
                false, 3, null, null, List.of(), 0, 0, 0, List.of(), List.of(), List.of(), 0,
                List.of(), List.of())));
    assertThat(run(new ParcelCommands.Promote(), file.toString(), "--to", "live", "--preview"))
        .contains("missing at live", "host q", "not signed", "not sound");
    answers.put("/api/v1/parcels", DONE);
    assertThat(run(new ParcelCommands.Promote(), file.toString(), "--to", "live"))
        .contains("to undo it: purser --at live revert --publication 7");
    assertThat(run(new ParcelCommands.Promote(), file.toString(), "--to", "test"))
        .contains("you are not logged in as test", "there is live");
    assertThat(run(new ParcelCommands.Promote(), file.toString(), "--to", "../x"))
        .contains("is not the name of a login");
    assertThat(run(new ParcelCommands.Logins())).contains("(usual)", "live");
  }

  @Test
  void whatDiffersBetweenTwoServicesIsTold() {
    new Login("http://127.0.0.1:" + server.getAddress().getPort(), "other").keep("live");
    answers.put(
        "/api/v1/definitions",
        List.of(
            new Views.DefinitionView(
                "stream", "a/b", "A", "stream: a/b\n", 3, AT, "ada", List.of(), "", null, "")));
    answers.put(
        "/api/v1/environment", new NeighbourViews.EnvironmentView("test", 3, "", List.of()));
    assertThat(run(new DifferencesCommand(), "--to", "live"))
        .contains("nothing differs: 1 definition the same on both sides");
  }

  private static NeighbourViews.DifferenceView difference(String name, String standing) {
    return new NeighbourViews.DifferenceView(
        "stream",
        name,
        "",
        standing,
        4,
        AT,
        "ada",
        9,
        AT,
        "berit",
        List.of(new ScheduleViews.FieldChange("schedule.at", "05:15", "05:30")),
        40,
        List.of("draft 3 there, berit"));
  }

  @Test
  void aNeighbourIsHeldAgainstTheServiceWithWhatIsToBeDoneFirst() {
    NeighbourViews.EnvironmentView side =
        new NeighbourViews.EnvironmentView(
            "test",
            31,
            "",
            List.of(
                new NeighbourViews.OnItsWayView(
                    "draft 3", "Two quays", "berit", LocalDate.of(2027, 3, 9), List.of())));
    answers.put(
        "/api/v1/neighbours/test",
        new NeighbourViews.ComparisonView("test", side, side, AT, 40, Map.of("newer there", 1)));
    answers.put(
        "/api/v1/neighbours/test/differences",
        List.of(difference("a/a", "only here"), difference("b/b", "newer there")));
    assertThat(run(new NeighbourCommands.Neighbours(), "test"))
        .contains(
            "test is environment test at revision 31", "40 definitions the same", "1 newer there")
        .contains("on its way there: draft 3 of berit, Two quays, goes live for 2027-03-09");
    assertThat(run(new DifferencesCommand(), "--with", "test", "--fields"))
        .containsSubsequence("b/b", "newer there", "and 39 more", "draft 3 there, berit", "a/a")
        .contains("stream b/b, here → there:", "schedule.at: 05:15 → 05:30");
  }

  @Test
  void whatIsBroughtIsFetchedAndTakenWithTheNeighboursMap() {
    answers.put(
        "/api/v1/neighbours",
        List.of(new NeighbourViews.NeighbourView("test", "test-site", "hosts: { a: b }")));
    answers.put(
        "/api/v1/neighbours/test/parcel",
        new ParcelViews.PackedView(
            new ParcelViews.ParcelView("test", AT, "looker", 31, List.of(), List.of(), "", "0"),
            "cGFyY2Vs"));
    answers.put("/api/v1/parcels", DONE);
    assertThat(run(new NeighbourCommands.Bring(), "test", "a/b", "--reason", "tried"))
        .contains("published as revision 7", "to undo it: purser revert --publication 7");
    assertThat(asked)
        .last()
        .asString()
        .contains("/api/v1/parcels", "hosts: { a: b }", "cGFyY2Vs", "tried");
    assertThat(run(new NeighbourCommands.Neighbours())).contains("test-site", "by its map");
    assertThat(run(new NeighbourCommands.Bring(), "test")).contains("name at least one stream");
    assertThat(run(new DifferencesCommand(), "--with", "test", "--kind", "steam"))
        .contains("did you mean \"stream\"?");
  }

  @Test
  void theWayIsFound() {
    answers.put(
        "/api/v1/definitions/uses", List.of(new FindingViews.UseView("stream", "a/b", "a/b/j")));
    assertThat(run(new FindingCommands.UsesCommand(), "host", "q")).contains("stream a/b", "a/b/j");
    answers.put("/api/v1/definitions/search", List.of());
    assertThat(run(new FindingCommands.Search(), "needle"))
        .contains("no definition has \"needle\" in it");
    answers.put(
        "/api/v1/definitions/left-over",
        List.of(new FindingViews.LeftOverView("capacity", "c", "unused", "nothing uses it")));
    assertThat(run(new FindingCommands.LeftOver())).contains("capacity c", "unused");
    answers.put("/api/v1/definitions/copy", new TemplateViews.DefinitionText("stream: a/c\n"));
    assertThat(run(new FindingCommands.Copy(), "a/b", "a/c")).isEqualTo("stream: a/c\n");
  }

  @Test
  void tablesTravelWithTheFilesThatNameThem() throws IOException {
    Files.createDirectory(folder.resolve("d"));
    Files.writeString(folder.resolve("d/t.csv"), "name\na\n");
    Files.writeString(
        folder.resolve("d/t.yaml"),
        "template: t\nparameters: { name: {} }\n"
            + "of-stream: { stream: p/$<name>, jobs: { j: { run: ./j, host: q } } }\n"
            + "---\nfor-each: f\nfrom-template: t\ntable-file: t.csv\n---\nhost: q\n");
    StringWriter out = new StringWriter();
    int code =
        Purser.run(
            new PrintWriter(out), new PrintWriter(out), "check", folder.resolve("d").toString());
    assertThat(out.toString()).contains("sound: 4 definitions");
    assertThat(code).isZero();
    Files.delete(folder.resolve("d/t.csv"));
    out = new StringWriter();
    code =
        Purser.run(
            new PrintWriter(out), new PrintWriter(out), "check", folder.resolve("d").toString());
    assertThat(out.toString()).contains("t.yaml:7:13: error: the file \"t.csv\" is not here");
    assertThat(code).isEqualTo(1);
  }

  @ParameterizedTest
  @CsvSource({
    "plain,                       'plain  '",
    "'  added    stream a_b',     '- added    stream a\\_b'",
    "'    field: a|b → <c>',      '- field: a\\|b → \\<c\\>'",
    "'        deeper',            '  - deeper'",
    "'',                          ''"
  })
  void aLineInMarkdownMeansItself(String line, String expected) {
    assertThat(Markdown.line(line)).isEqualTo(expected);
  }

  @Test
  void anAnswerInMarkdownIsATableThatNoCellBreaks() {
    answers.put(
        "/api/v1/definitions/search",
        List.of(new FindingViews.FoundLine("stream", "a/b", 2, "run: a | b *c*")));
    assertThat(run(new FindingCommands.Search(), "run", "--output", "markdown"))
        .contains("| definition | line | text |\n| --- | --- | --- |")
        .contains("| stream a/b | 2 | run: a \\| b \\*c\\* |");
  }
}
