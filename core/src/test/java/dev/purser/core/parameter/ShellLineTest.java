package dev.purser.core.parameter;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.Set;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class ShellLineTest {
  private static final Set<String> NAMES = Set.of("file.path", "file.name");

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "load ${file.path}            | load \"$PURSER_FILE_PATH\"",
        "load \"${file.path}\"        | load \"\"\"$PURSER_FILE_PATH\"\"\"",
        "load \"a ${ file.name } b\"  | load \"a \"\"$PURSER_FILE_NAME\"\" b\"",
        "load 'a ${file.name}'        | load 'a '\"$PURSER_FILE_NAME\"''",
        "load \\\"${file.name}        | load \\\"\"$PURSER_FILE_NAME\"",
        "load ${date} ${region}       | load ${date} ${region}",
        "load $${file.path}           | load $${file.path}",
        "load 'it''s' ${file.name}    | load 'it''s' \"$PURSER_FILE_NAME\""
      })
  void aNameStandsInQuotesThatFit(String line, String guarded) {
    assertThat(ShellLine.guard(line, NAMES)).isEqualTo(guarded);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "printf %s ${file.name}",
        "printf %s \"${file.name}\"",
        "printf %s ''${file.name}''",
        "printf %s \"\"${file.name}",
        "x=${file.name}; printf %s \"$x\""
      })
  void whateverAFileIsCalledTheShellTakesItAsOneWord(String line)
      throws IOException, InterruptedException {
    for (String name :
        new String[] {
          "two  words", "$(echo no)", "`echo no`", "a;b&c|d", "'\"\\", "*", "-n", "a\nb"
        }) {
      ProcessBuilder shell = new ProcessBuilder("sh", "-c", ShellLine.guard(line, NAMES));
      shell.environment().put("PURSER_FILE_NAME", name);
      Process process = shell.start();
      String out = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
      assertThat(process.waitFor()).isZero();
      assertThat(out).isEqualTo(name);
    }
  }
}
