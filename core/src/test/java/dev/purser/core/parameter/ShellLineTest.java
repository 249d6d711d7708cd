package dev.purser.core.parameter;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.MethodSource;

class ShellLineTest {
  private static final Parameters NONE = Parameters.NONE;

  private static ShellLine line() {
    return new ShellLine(NONE, name -> name.startsWith("file."));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "load ${port}                   | load \"$PURSER_WORD_1\"",
        "load \"${port}\"               | load \"\"\"$PURSER_WORD_1\"\"\"",
        "load \"a ${ port } b\"         | load \"a \"\"$PURSER_WORD_1\"\" b\"",
        "load 'a ${file.name}'          | load 'a '\"$PURSER_WORD_1\"''",
        "load \\\"${port}               | load \\\"\"$PURSER_WORD_1\"",
        "load ${port} ${x} ${port}      | load \"$PURSER_WORD_1\" \"$PURSER_WORD_2\" \"$PURSER_WORD_1\"",
        "load ${value rows of load}     | load \"$PURSER_WORD_1\"",
        "load ${date} ${run} ${attempt} | load ${date} ${run} ${attempt}",
        "load ${date - 1 month}         | load ${date - 1 month}",
        "load $${port}                  | load $${port}",
        "load 'it''s' ${port}           | load 'it''s' \"$PURSER_WORD_1\"",
        "a # don't ${port}              | a # don't \"$PURSER_WORD_1\"",
        "a b#'${port}'                  | a b#''\"$PURSER_WORD_1\"''",
      })
  void aValueStandsInQuotesThatFit(String text, String guarded) {
    assertThat(line().guard(text)).isEqualTo(guarded);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "${x}                                  | BARE",
        "\"${x}\"                              | DOUBLE",
        "'${x}'                                | SINGLE",
        "\"$(load ${x})\"                      | BARE",
        "\"$(load \"${x}\")\"                  | DOUBLE",
        "\"$(load '${x}')\"                    | SINGLE",
        "(load ${x})                           | BARE",
        "$(case a in a) load;; esac; go ${x})  | BARE",
        "\"$(case a in a) b;; esac)${x}\"      | DOUBLE",
        "\"$${y:-it's}${x}\"                   | DOUBLE",
        "$((${x} + 1))                         | ARITHMETIC",
        "\"$(( 2 * (${x}) ))\"                 | ARITHMETIC",
        "$(( $(rows ${x}) ))                   | BARE",
        "((${x} > 1))                          | ARITHMETIC",
        "[[ ${x} -eq 1 ]]                      | DOUBLE_BRACKETS",
        "[[ -f a ]] && load ${x}               | BARE",
        "a=`load ${x}`                         | BACKTICKS",
        "\"`load '${x}'`\"                     | BACKTICKS",
        "$'${x}'                               | DOLLAR_QUOTES",
        "cat <<< ${x}                          | BARE",
        "$((1 << 2)); load ${x}                | BARE",
        "echo \\`${x}                          | BARE",
        "echo '`'${x}                          | BARE",
      })
  void itIsKnownWhereAPlaceholderStands(String text, ShellPlace place) {
    assertThat(ShellLine.values(text)).extracting(ShellLine.Found::place).containsExactly(place);
  }

  @Test
  void aHereDocumentEndsWhereItsWordStands() {
    String text = "cat <<'END' <<-\tMORE\na ${a}\nEND\n\tb ${b}\n\tMORE\nload ${c}";
    assertThat(ShellLine.values(text))
        .extracting(one -> one.inside() + " " + one.place())
        .containsExactly("a HERE_DOCUMENT", "b HERE_DOCUMENT", "c BARE");
    assertThat(ShellLine.values("cat <<END\n${date}\nEND")).isEmpty();
  }

  @Test
  void whereNoValueCanStandThatIsSaidWithWhatCanBeWritten() {
    assertThatThrownBy(() -> line().guard("echo $((${rows} + 1))"))
        .isInstanceOf(PlaceholderText.PlaceholderException.class)
        .hasMessage(
            "${rows} cannot stand where the shell calculates; use expr, as in $(expr ${rows} + 1)");
    assertThatThrownBy(() -> line().guard("cat <<E\n${rows}\nE"))
        .hasMessageContaining("v=${rows}, and write $v there");
  }

  @Test
  void shellTextIsPutInAsItIsAndValuesInItAreWords() {
    Parameters given =
        NONE.with(
            Parameters.Origin.STREAM,
            Given.NONE
                .and("opts", "-v \"--to=${port}\"", true)
                .and("port", "x\"; id; echo \"", false));
    ShellLine line = new ShellLine(given, given.names()::contains);
    assertThat(line.guard("load ${opts} 'a'"))
        .isEqualTo("load -v \"--to=\"\"$PURSER_WORD_1\"\"\" 'a'");
    assertThat(line.words()).isEqualTo(Map.of("PURSER_WORD_1", "${port}"));
    Parameters started =
        given
            .with(Parameters.Origin.SCHEDULE, Map.of("opts", "; id"))
            .with(Parameters.Origin.STEP, Map.of("opts", "; id"))
            .with(Parameters.Origin.START, Map.of("opts", "; id"));
    assertThat(started.of("opts").orElseThrow().value()).isEqualTo("-v \"--to=${port}\"");
    assertThat(
            given
                .with(Parameters.Origin.JOB, Map.of("opts", "-q"))
                .of("opts")
                .orElseThrow()
                .shell())
        .isFalse();
  }

  @Test
  void shellTextThatAsksForItselfIsRefused() {
    Parameters circle =
        NONE.with(
            Parameters.Origin.SITE, Given.NONE.and("a", "-x ${b}", true).and("b", "-y ${a}", true));
    assertThatThrownBy(() -> new ShellLine(circle, name -> false).guard("load ${a}"))
        .isInstanceOf(PlaceholderText.CircleException.class)
        .hasMessage("parameters go in a circle: a → b → a");
  }

  /** The bounds of a window are ours, also where no value can stand. */
  @Test
  void boundsOfWindowsAreText() {
    ShellLine line = new ShellLine(NONE, name -> true);
    assertThat(line.guard("cat <<E\n${window.start}\nE")).isEqualTo("cat <<E\n${window.start}\nE");
    assertThat(ShellLine.values("`x ${window.start | yyyy}`")).isEmpty();
    Parameters given = NONE.with(Parameters.Origin.START, Map.of("window.start", "; id"));
    assertThat(new ShellLine(given, name -> true).guard("x ${window.start}"))
        .isEqualTo("x \"$PURSER_WORD_1\"");
  }

  /** A name that hides a date or one of ours is a value like others. */
  @Test
  void aParameterThatIsCalledDateIsOneWordToo() {
    Parameters hidden = NONE.with(Parameters.Origin.START, Map.of("date", "; id"));
    assertThat(new ShellLine(hidden, name -> false).guard("load ${date}"))
        .isEqualTo("load \"$PURSER_WORD_1\"");
  }

  private static final List<String> HOSTILE =
      List.of(
          "two  words",
          "x\"; touch pwned; echo \"",
          "'; touch pwned; '",
          "$(touch pwned)",
          "`touch pwned`",
          "a;touch pwned&touch pwned|touch pwned",
          "'\"\\",
          "*",
          "-n",
          "a\nb",
          "${HOME}",
          "a[$(touch pwned)]",
          ") touch pwned (",
          "} ; touch pwned",
          "\\",
          "#",
          "");

  static Stream<String> linesInEveryStateOfQuotes() {
    return Stream.of(
        "printf %s ${x}",
        "printf %s \"${x}\"",
        "printf %s '${x}'",
        "printf %s ''${x}''",
        "printf %s \"\"${x}",
        "x=${x}; printf %s \"$x\"",
        "printf %s \"$(printf %s. ${x})\" | sed '$s/\\.$//'",
        "(printf %s \"${x}\")",
        "f() { printf %s \"$1\"; }; f ${x}",
        "printf %s \"$${nothing:-}\"\"${x}\"",
        "case ${x} in *) printf %s '${x}';; esac",
        "# it's a comment\nprintf %s \"${x}\"",
        "cat <<'E' >/dev/null\nit's\nE\nprintf %s ${x}",
        "if [ -n a${x} ]; then printf %s ${x}; fi",
        "for one in ${x}; do printf %s \"$one\"; done",
        "{ printf %s \"${x}\"; } 2>/dev/null");
  }

  @ParameterizedTest
  @MethodSource("linesInEveryStateOfQuotes")
  void whateverAValueIsTheShellTakesItAsOneWord(String text, @TempDir Path here)
      throws IOException, InterruptedException {
    for (String shell : List.of("sh", "bash")) {
      for (String value : HOSTILE) {
        assertThat(said(shell, text, value, here)).as(shell + ": " + value).isEqualTo(value);
      }
    }
    assertThat(here.resolve("pwned")).doesNotExist();
  }

  private static String said(String shell, String text, String value, Path here)
      throws IOException, InterruptedException {
    ShellLine line = line();
    ProcessBuilder builder = new ProcessBuilder(shell, "-c", line.guard(text).replace("$${", "${"));
    line.words().keySet().forEach(variable -> builder.environment().put(variable, value));
    Path out = Files.createTempFile(here, "out", "");
    Process process =
        builder
            .directory(here.toFile())
            .redirectErrorStream(true)
            .redirectOutput(out.toFile())
            .start();
    process.waitFor();
    return Files.readString(out, StandardCharsets.UTF_8);
  }
}
