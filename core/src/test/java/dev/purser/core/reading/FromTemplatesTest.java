package dev.purser.core.reading;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Made;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Command;
import dev.purser.core.problem.Problem;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * Streams made from templates: filled, deviating, made of rows, and everything that can be wrong.
 */
class FromTemplatesTest {
  private static final LocalDate TODAY = LocalDate.of(2027, 1, 4);

  private static final String SITE = "host: quay\n---\nhost: depot\n---\n";

  private static final String TEMPLATE =
      """
      template: round
      parameters:
        pier: { type: name, help: The pier. }
        at: { type: time, default: "05:10" }
        host: { allowed: [quay, depot] }
        note: { default: "" }
      of-stream:
        stream: piers/$<pier>
        title: Round of $<pier>
        about: $<note>
        schedule: { days: weekdays, at: $<at>, zone: Europe/Oslo }
        jobs:
          count: { from-template: count, with: { what: $<pier> }, host: $<host> }
          report: { run: "./report.sh $<pier> ${date}", host: $<host>, waits-for: count succeeded }
      ---
      template: count
      parameters: { what: {} }
      of-job: { run: ./count.sh $<what>, usually: 3m, host: depot }
      """;

  private static DefinitionCheck.Result check(Definitions existing, SourceFile... files) {
    return DefinitionCheck.check(existing, List.of(files), TODAY);
  }

  private static DefinitionCheck.Result check(String more) {
    return check(Definitions.none(), new SourceFile("a.yaml", SITE + TEMPLATE + "---\n" + more));
  }

  private static List<String> errors(DefinitionCheck.Result result) {
    return result.problems().stream().filter(Problem::isError).map(Problem::toString).toList();
  }

  private static Definitions sound(String more) {
    DefinitionCheck.Result result = check(more);
    assertThat(result.problems()).isEmpty();
    return result.definitions();
  }

  private static Made made(Definitions definitions, String stream) {
    return definitions.document(Kind.STREAM, stream).flatMap(Document::made).orElseThrow();
  }

  @Test
  void aStreamIsItsTemplateWithItsValues() {
    Definitions all =
        sound(
            """
            stream: piers/oban
            from-template: round
            with: { pier: oban, host: quay }
            """);
    Stream stream = all.stream("piers/oban").orElseThrow();
    assertThat(stream.title()).isEqualTo("Round of oban");
    assertThat(stream.about()).as("an empty value takes its key away").isEmpty();
    assertThat(stream.schedule().get(0)).hasToString(stream.schedule().get(0).toString());
    assertThat(stream.job("count").orElseThrow().work()).isEqualTo(new Command("./count.sh oban"));
    assertThat(stream.job("report").orElseThrow().work())
        .as("what is filled at a run stays")
        .isEqualTo(new Command("./report.sh oban ${date}"));
    assertThat(made(all, "piers/oban").values())
        .isEqualTo(Map.of("pier", "oban", "at", "05:10", "host", "quay", "note", ""));
    assertThat(made(all, "piers/oban").templates()).containsExactlyInAnyOrder("round", "count");
    assertThat(all.document(Kind.STREAM, "piers/oban").orElseThrow().text())
        .as("it is kept as it was written")
        .contains("from-template: round");
  }

  @Test
  void whatIsFilledCanBeReadByItselfAndMeansTheSame() {
    Definitions all =
        sound(
            """
            stream: piers/oban
            from-template: round
            with: { pier: oban, host: quay, note: "a: b # c\\nand 'more'" }
            """);
    Document document = all.document(Kind.STREAM, "piers/oban").orElseThrow();
    Definitions alone =
        check(Definitions.none(), new SourceFile("b.yaml", SITE + document.whole())).definitions();
    assertThat(alone.stream("piers/oban")).isEqualTo(all.stream("piers/oban"));
  }

  @Test
  void ownKeysAreDeviationsAndWinAndTakeAway() {
    Definitions all =
        sound(
            """
            stream: piers/oban
            from-template: round
            with: { pier: oban, host: quay }
            title: The odd one
            jobs:
              count: { host: depot, usually: ~ }
              sweep: { run: ./sweep.sh, host: quay }
            """);
    Stream stream = all.stream("piers/oban").orElseThrow();
    assertThat(stream.title()).isEqualTo("The odd one");
    assertThat(stream.jobs()).hasSize(3);
    assertThat(stream.job("count").orElseThrow().usually()).isEmpty();
    assertThat(made(all, "piers/oban").deviations())
        .containsExactly("jobs.count.host", "jobs.count.usually", "jobs.sweep", "title");
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "table:\n  - { pier: oban }\n  - { pier: skye, at: \"06:00\" }\n",
        "table: |\n  pier,at\n  oban,\n  skye,06:00\n",
        "table: \"pier,at\\noban,\\nskye,06:00\"\n",
        "table-file: piers.csv\n",
        "table-file: ./piers.csv   # the list of the harbour office\n"
      })
  void eachRowMakesAStream(String table) {
    DefinitionCheck.Result result =
        check(
            Definitions.none(),
            new SourceFile(
                "d/a.yaml",
                SITE
                    + TEMPLATE
                    + "---\nfor-each: rounds\nfrom-template: round\nwith: { host: quay }\n"
                    + table
                    + "deviations: { piers/skye: { title: The far one of $<pier> } }\n"),
            new SourceFile("d/piers.csv", "\uFEFFpier,at\r\noban,\r\n\"skye\",06:00\r\n"));
    assertThat(result.problems()).isEmpty();
    Definitions all = result.definitions();
    assertThat(all.names(Kind.STREAM)).containsExactly("piers/oban", "piers/skye");
    assertThat(all.stream("piers/skye").orElseThrow().title()).isEqualTo("The far one of skye");
    assertThat(made(all, "piers/skye").inWords())
        .isEqualTo("row 2 of for-each rounds, from template round");
    Document forEach = all.document(Kind.FOR_EACH, "rounds").orElseThrow();
    Definitions again =
        check(
                Definitions.none(),
                new SourceFile("k.yaml", SITE + TEMPLATE + "---\n" + forEach.text()))
            .definitions();
    assertThat(List.copyOf(again.streams()))
        .as("what is kept is whole, without any file beside it")
        .isEqualTo(List.copyOf(all.streams()));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '\u0000',
      textBlock =
          """
          stream: p/a\\nfrom-template: rond | a.yaml:25:16: error: unknown template "rond"; did you mean "round"?
          stream: p/a\\nfrom-template: count | a.yaml:25:16: error: the template "count" makes a job, not a stream
          stream: p/a\\nfrom-template: round | a.yaml:25:16: error: template "round" needs a value for pier, host, under "with"
          stream: p/a\\nfrom-template: round\\nwith: { pier: oban, hst: quay } | a.yaml:25:16: error: "hst" is not a parameter of template "round"; did you mean "host"?
          stream: p/a\\nfrom-template: round\\nwith: { pier: oban, host: sloop } | a.yaml:25:16: error: host: "sloop" is not allowed; it is one of quay, depot
          stream: p/a\\nfrom-template: round\\nwith: { pier: oban, host: quay, at: "25:00" } | a.yaml:25:16: error: at: "25:00" is not a time of day such as 07:00
          stream: p/a\\nfrom-template: round\\nwith: { pier: oban, host: quay }\\nschedule: { days: sometimes } | a.yaml:27:19: error: cannot read "sometimes"
          stream: p/a\\nwith: { a: b }\\njobs: { b: { from-template: count, with: { what: c } } } | a.yaml:25:7: error: "with" needs "from-template" beside it
          stream: p/a\\njobs: { b: { from-template: count, with: { what: "$(rm -rf /)" } } } | a.yaml:25:29: error: the value "$(rm -rf /)" of what would become a piece of "run" in template "count"
          stream: p/a\\njobs: { b: { from-template: round, with: {} } } | a.yaml:25:29: error: the template "round" makes a stream, not a job
          for-each: r\\nfrom-template: rond\\ntable: [] | a.yaml:25:16: error: unknown template "rond"; did you mean "round"?
          for-each: r\\nfrom-template: count\\ntable: [] | a.yaml:24:1: error: the template "count" makes jobs; a for-each needs one of a stream ("of-stream")
          for-each: r\\nfrom-template: round | a.yaml:24:11: error: it needs either "table" or "table-file"
          for-each: r\\nfrom-template: round\\ntable-file: ../x.csv | a.yaml:26:13: error: the file "../x.csv" is not here
          for-each: r\\nfrom-template: round\\ntable-file: piers.yaml | a.yaml:26:13: error: the file "piers.yaml" is not here
          for-each: r\\nfrom-template: round\\ntable: ¦\\n  pier,hots\\n  oban,quay | a.yaml:27:1: error: the column "hots" is not a parameter of template "round"; did you mean "host"?
          for-each: r\\nfrom-template: round\\ntable: ¦\\n  pier\\n  oban | a.yaml:24:1: error: template "round" needs a value for host: a column of the table, or one under "with"
          for-each: r\\nfrom-template: round\\ntable: ¦\\n  pier,host,at\\n  oban,quay\\n  skye,quay,06:00 | a.yaml:28:1: error: row 1 has 2 cells; the first line names 3 columns
          for-each: r\\nfrom-template: round\\ntable: ¦\\n  pier,host\\n  oban,quay\\n  skye,sloop | a.yaml:29:1: error: row 2 (pier skye), column "host": "sloop" is not allowed; it is one of quay, depot
          for-each: r\\nfrom-template: round\\ntable: ¦\\n  pier,host\\n  oban,quay\\n  oban,depot | a.yaml:29:1: error: the stream "piers/oban" is defined twice; first in a.yaml line 28
          for-each: r\\nfrom-template: round\\ntable: ¦\\n  pier,pier\\n  oban,quay | a.yaml:27:1: error: two columns are named "pier"
          for-each: r\\nfrom-template: round\\ntable: ¦\\n  pier,host\\n  "oban,quay | a.yaml:28:1: error: this is not CSV
          for-each: r\\nfrom-template: round\\ntable: "" | a.yaml:26:1: error: the table is empty; its first line names the columns
          for-each: r\\nfrom-template: round\\ntable: [{ pier: oban, host: quay }]\\ndeviations: { piers/obann: { title: x } } | a.yaml:24:1: error: no row makes a stream "piers/obann", which stands under "deviations"; did you mean "piers/oban"?
          for-each: r\\nfrom-template: round\\ntable: [{ pier: oban, host: quay }]\\ndeviations: { piers/oban: { titel: x } } | a.yaml:26:9: error: unknown key "titel" in a stream; did you mean "title"? (in deviations of for-each "r", line 27)
          template: loop\\nof-job: { from-template: loop } | a.yaml:24:1: error: the template "loop" comes from itself: loop from loop
          template: loop\\nof-job: { from-template: more }\\n---\\ntemplate: more\\nof-job: { from-template: loop } | a.yaml:24:1: error: the template "loop" comes from itself: loop from more from loop
          template: t\\nof-job: { run: "./a $<b>" } | a.yaml:25:16: error: $<b> is none of its parameters; none is defined
          template: t | a.yaml:24:11: error: a template needs either "of-stream" or "of-job": what it makes
          template: t\\nparameters: { a: { type: tme } }\\nof-job: { run: "./a $<a>" } | a.yaml:25:26: error: unknown type "tme"; did you mean "time"?
          template: t\\nparameters: { a: { type: time, default: noon } }\\nof-job: { run: "./a $<a>" } | a.yaml:25:41: error: "noon" is not a time of day such as 07:00
          template: t\\nparameters: { a: { default: x } }\\nof-job: { run: ./a, host: quay, stop-after: $<a> } | a.yaml:26:45: error: cannot use "x" for "stop-after"
          """)
  void whatIsWrongIsSaidAtItsPlace(String text, String expected) {
    List<String> errors = errors(check(text.replace("\\n", "\n").replace('¦', '|')));
    assertThat(errors).isNotEmpty();
    assertThat(errors.get(0)).startsWith(expected);
  }

  @Test
  void whatATemplateMakesWrongIsSaidWhereItIsUsedAndWhereItStands() {
    DefinitionCheck.Result result =
        check(
            Definitions.none(),
            new SourceFile(
                "a.yaml",
                """
                template: t
                parameters: { long: {} }
                of-job:
                  run: ./a
                  host: depot
                  usually: $<long>
                ---
                host: depot
                ---
                stream: a/b
                jobs: { c: { from-template: t, with: { long: ages } } }
                """));
    assertThat(errors(result))
        .containsExactly(
            "a.yaml:11:29: error: cannot use \"ages\" for \"usually\"; expected a duration such as"
                + " 4m, or a range such as 4m to 9m (in template \"t\", line 6)");
    assertThat(result.problems().get(0).message()).contains("looked at with samples");
  }

  @Test
  void aChangedTemplateMakesAnewWhatHangsOnItAndNothingElse() {
    Definitions before =
        sound(
            """
            for-each: rounds
            from-template: round
            with: { host: quay }
            table: [{ pier: oban }, { pier: skye }]
            ---
            stream: piers/by-hand
            from-template: round
            with: { pier: x, host: depot }
            ---
            stream: other/one
            jobs: { a: { run: ./a, host: quay } }
            """);
    String changed = TEMPLATE.replace("title: Round of", "title: Daily round of");
    DefinitionReader.Reading reading =
        FromTemplates.filled(
            DefinitionReader.read(List.of(new SourceFile("t.yaml", changed))), before);
    assertThat(reading.documents())
        .extracting(Document::name)
        .containsExactlyInAnyOrder("round", "count", "piers/oban", "piers/skye", "piers/by-hand");
    Definitions after = DefinitionCheck.check(before, reading, TODAY).definitions();
    assertThat(after.stream("piers/by-hand").orElseThrow().title()).isEqualTo("Daily round of x");
    DefinitionReader.Reading same =
        FromTemplates.filled(
            DefinitionReader.read(List.of(new SourceFile("t.yaml", TEMPLATE))), before);
    assertThat(same.documents()).extracting(Document::name).containsExactly("round", "count");
  }

  @Test
  void aTemplateThatWouldBreakAStreamInForceIsRefused() {
    Definitions before =
        sound("stream: piers/a\nfrom-template: round\nwith: { pier: a, host: quay }\n");
    DefinitionCheck.Result result =
        check(
            before,
            new SourceFile(
                "t.yaml", TEMPLATE.replace("note: {", "berth: { type: number }\n  note: {")));
    assertThat(errors(result)).hasSize(1);
    assertThat(errors(result).get(0))
        .startsWith("stream piers/a (in force):2:16: error:")
        .contains("needs a value for berth");
  }

  @Test
  void aTemplateThatOnlyDeviationsUseMakesTheirRowsAnewToo() {
    Definitions before =
        sound(
            """
            template: extra
            of-job: { run: ./extra, host: depot }
            ---
            for-each: rounds
            from-template: round
            with: { host: quay }
            table: [{ pier: oban }, { pier: skye }]
            deviations: { piers/skye: { jobs: { more: { from-template: extra } } } }
            """);
    Definitions after =
        check(
                before,
                new SourceFile(
                    "t.yaml", "template: extra\nof-job: { run: ./other, host: depot }\n"))
            .definitions();
    assertThat(after.stream("piers/skye").orElseThrow().job("more").orElseThrow().work())
        .isEqualTo(new Command("./other"));
  }

  @Test
  void aTableThatCouldNotBeReadAgainIsRefused() {
    String rows = "p,quay," + "x".repeat(3_000) + "\n";
    StringBuilder csv = new StringBuilder("pier,host,note\n");
    for (int n = 0; n < 1_400; n++) {
      csv.append('p').append(n).append(rows.substring(1));
    }
    DefinitionCheck.Result result =
        check(
            Definitions.none(),
            new SourceFile(
                "a.yaml",
                SITE + TEMPLATE + "---\nfor-each: r\nfrom-template: round\ntable-file: t.csv\n"),
            new SourceFile("t.csv", csv.toString()));
    assertThat(errors(result).get(0))
        .contains("with the rows of its file it has", "split the table");
  }

  @Test
  void aRowThatIsTakenOutTakesItsStreamAwayUnlessSomebodyUsesIt() {
    String rounds = "for-each: rounds\nfrom-template: round\nwith: { host: quay }\ntable: ";
    Definitions before = sound(rounds + "[{ pier: oban }, { pier: skye }]\n");
    SourceFile less = new SourceFile("r.yaml", rounds + "[{ pier: oban }]\n");
    assertThat(check(before, less).definitions().names(Kind.STREAM)).containsExactly("piers/oban");
    Definitions used =
        check(
                before,
                new SourceFile(
                    "u.yaml",
                    "stream: x/y\n"
                        + "jobs: { a: { run: ./a, host: quay, waits-for: piers/skye/count succeeded } }"))
            .definitions();
    assertThat(errors(check(used, less)).get(0))
        .contains("\"piers/skye/count\" would be gone", "x/y/a still uses it");
  }

  @Test
  void aStreamOfARowIsNotWrittenByHandAsWell() {
    Definitions before =
        sound(
            "for-each: rounds\n"
                + "from-template: round\n"
                + "table: [{ pier: oban, host: quay }]\n");
    DefinitionCheck.Result result =
        check(
            before,
            new SourceFile("x.yaml", "stream: piers/oban\njobs: { a: { run: ./a, host: quay } }"));
    assertThat(errors(result).get(0))
        .contains(
            "the stream \"piers/oban\" is row 1 of for-each rounds, from template round; change"
                + " that");
  }

  @Test
  void aTemplateIsUsedByWhatHangsOnIt() {
    Definitions all =
        sound(
            "stream: piers/a\nfrom-template: round\nwith: { pier: a, host: quay }\n---\n"
                + "for-each: r\nfrom-template: round\ntable: [{ pier: b, host: quay }]\n");
    assertThat(DefinitionCheck.usersOf(all, Kind.TEMPLATE, "round"))
        .containsExactly("for-each r", "piers/a", "piers/b");
    assertThat(DefinitionCheck.usersOf(all, Kind.TEMPLATE, "count")).contains("template round");
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "x\njobs: { evil: { run: id } }",
        "${value x of y}",
        "$<pier>",
        "a\u0007b",
        "' \" # : { [ & * ! | >",
        "null",
        "~"
      })
  void aValueStaysAValue(String hostile) {
    StringBuilder csv = new StringBuilder("pier,host,note\noban,quay,\"");
    csv.append(hostile.replace("\"", "\"\"")).append("\"\n");
    DefinitionCheck.Result result =
        check(
            Definitions.none(),
            new SourceFile(
                "a.yaml",
                SITE + TEMPLATE + "---\nfor-each: r\nfrom-template: round\ntable-file: t.csv\n"),
            new SourceFile("t.csv", csv.toString()));
    assertThat(errors(result)).isEmpty();
    Stream stream = result.definitions().stream("piers/oban").orElseThrow();
    assertThat(stream.about()).isEqualTo(hostile.strip());
    assertThat(stream.jobs()).hasSize(2);
    String kept = result.definitions().document(Kind.FOR_EACH, "r").orElseThrow().text();
    assertThat(
            check(Definitions.none(), new SourceFile("k.yaml", SITE + TEMPLATE + "---\n" + kept))
                .definitions()
                .stream("piers/oban"))
        .contains(stream);
  }

  @Test
  void everyErrorOfALongTableIsNamedByItsRow() {
    String rows =
        IntStream.rangeClosed(1, 300)
            .mapToObj(n -> "p" + n + "," + (n % 100 == 0 ? "sloop" : "quay"))
            .collect(Collectors.joining("\n"));
    List<String> errors =
        new ArrayList<>(
            errors(
                check(
                    Definitions.none(),
                    new SourceFile(
                        "a.yaml",
                        SITE
                            + TEMPLATE
                            + "---\nfor-each: r\nfrom-template: round\ntable-file: t.csv\n"),
                    new SourceFile("t.csv", "pier,host\n" + rows))));
    assertThat(errors).hasSize(3);
    assertThat(errors.get(0)).startsWith("t.csv:101:1: error: row 100 (pier p100)");
  }
}
