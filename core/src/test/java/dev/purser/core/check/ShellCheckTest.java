package dev.purser.core.check;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.parameter.Parameters;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.problem.Problem;
import dev.purser.core.reading.SourceFile;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class ShellCheckTest {
  private static final LocalDate TODAY = LocalDate.of(2027, 3, 1);

  private static DefinitionCheck.Result check(String text) {
    return DefinitionCheck.check(
        Definitions.none(), List.of(new SourceFile("t.yaml", "host: pier\n---\n" + text)), TODAY);
  }

  private static String problems(String text) {
    return String.join("\n", check(text).problems().stream().map(Problem::toString).toList());
  }

  private static String stream(String parameters, String line) {
    return "stream: fuel/take\nparameters: "
        + parameters
        + "\nschedule: { days: every day, at: \"06:00\", zone: UTC }\njobs:\n"
        + "  go:\n    host: pier\n    run: |\n      "
        + line
        + "\n";
  }

  /** What changed when values became words, and nothing else, is named with its value. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "-v --fast   | take ${opts}            | true",
        "-v --fast   | take \"${opts}\"        | false",
        "-v --fast   | take '${opts}'          | false",
        "-v          | take ${opts}            | false",
        "*.csv       | take ${opts}            | true",
        "$HOME/x     | take \"${opts}\"        | true",
        "it''s       | take \"${opts}\"        | false",
        "it''s       | take '${opts}'          | true",
        "${date}     | take ${opts}            | false",
        "${date}.csv | take ${opts}            | false",
      })
  void aValueThatAShellWouldHaveReadIsNamed(String value, String line, boolean warned) {
    String said = problems(stream("{ opts: '" + value + "' }", line));
    if (warned) {
      assertThat(said)
          .contains("t.yaml:9:")
          .contains("${opts} is one word here, though its value \"" + value.replace("''", "'"))
          .contains("opts: { value: …, shell: yes }");
    } else {
      assertThat(said).isEmpty();
    }
  }

  @Test
  void shellTextThatItsAuthorDeclaredIsNotWarnedOf() {
    assertThat(problems(stream("{ opts: { value: -v --fast, shell: yes } }", "take ${opts}")))
        .isEmpty();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '!',
      value = {
        "echo $((${n} + 1)) | where the shell calculates; use expr, as in $(expr ${n} + 1)",
        "echo `load ${n}`   | in backticks; write $(…)",
        "[[ ${n} -eq 1 ]]   | in [[ … ]]; write [ … ]",
        "echo $'a${n}'      | in $'…'; write '…' instead",
      })
  void whereAValueCannotStandTheFormThatWorksIsSaid(String line, String said) {
    assertThat(problems(stream("{ n: 1 }", line))).contains("${n} cannot stand " + said);
  }

  @Test
  void aHereDocumentTakesDatesButNoValues() {
    assertThat(problems(stream("{ n: 1 }", "cat <<E\n      ${n}\n      E")))
        .contains("${n} cannot stand in a here-document");
    assertThat(problems(stream("{ n: 1 }", "cat <<E\n      ${date} ${run}\n      E"))).isEmpty();
  }

  @Test
  void aCheckBeforeWorkIsACommandLineToo() {
    assertThat(
            problems(
                "stream: a/b\nparameters: { n: 1 }\njobs: { go: { host: pier, run: x, only-if:"
                    + " \"test $((${n})) = 1\" } }\n"))
        .contains("${n} cannot stand where the shell calculates");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "schedule: { days: every day, at: '06:00', zone: UTC, parameters: { opts: -x } }"
            + "| entry 1 of the schedule of a/b gives a value to \"opts\"",
        "about: nothing | ",
      })
  void noScheduleEntryReplacesShellText(String schedule, String said) {
    String told =
        problems(
            "stream: a/b\nparameters: { opts: { value: -v --fast, shell: yes } }\n"
                + schedule
                + "\njobs: { go: { host: pier, run: \"x ${opts}\" } }\n");
    assertThat(told).contains(said == null ? "" : said);
    assertThat(told.isEmpty()).isEqualTo(said == null);
  }

  @Test
  void noStepReplacesOrDeclaresShellText() {
    String inner =
        "stream: a/inner\nparameters: { opts: { value: -v --fast, shell: yes }, n: 1 }\njobs: { go:"
            + " { host: pier, run: \"x ${opts} ${n}\" } }\n---\n";
    String outer = "stream: a/outer\njobs: { in: { stream: a/inner, parameters: { %s } } }\n";
    assertThat(problems(inner + outer.formatted("opts: -x")))
        .contains("the step a/outer/in gives a value to \"opts\", which is declared shell text");
    assertThat(problems(inner + outer.formatted("n: { value: 2 3, shell: yes }")))
        .contains("the step a/outer/in cannot declare \"n\" shell text");
  }

  @Test
  void noStartReplacesShellTextAndItsRunsKeepIt() {
    Definitions all =
        check(stream("{ opts: { value: -v --fast, shell: yes }, n: 1 }", "take ${opts} ${n}"))
            .definitions();
    Stream stream = all.stream("fuel/take").orElseThrow();
    assertThatThrownBy(() -> byHand(all, stream, Map.of("opts", "; id")))
        .isInstanceOf(NotUnderstood.class)
        .hasMessageContaining("\"opts\" of fuel/take is a piece of a command line");
    Parameters started = byHand(all, stream, Map.of("n", "; id")).get(0).parameters();
    assertThat(started.of("opts").orElseThrow().shell()).isTrue();
    assertThat(started.of("n")).contains(new Parameters.Effective("; id", Parameters.Origin.START));
  }

  private static List<PlannedRun> byHand(
      Definitions all, Stream stream, Map<String, String> parameters) {
    return new Planner(all)
        .byHand(
            stream,
            new Planner.ByHand(
                Optional.empty(),
                false,
                parameters,
                TODAY,
                1,
                TODAY.atStartOfDay().toInstant(ZoneOffset.UTC),
                ZoneOffset.UTC,
                Set.of()));
  }
}
