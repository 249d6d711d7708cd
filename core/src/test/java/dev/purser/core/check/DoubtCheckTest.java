package dev.purser.core.check;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.definition.Definitions;
import dev.purser.core.problem.Problem;
import dev.purser.core.reading.SourceFile;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What is allowed but can hardly be meant. */
class DoubtCheckTest {
  private static final String HOST = "host: pier\nlabels: [stone]\n---\n";

  private static DefinitionCheck.Result check(String text) {
    return DefinitionCheck.check(
        Definitions.none(), List.of(new SourceFile("t.yaml", text)), LocalDate.of(2027, 3, 4));
  }

  private static void expect(String text, String warning) {
    DefinitionCheck.Result result = check(HOST + text);
    assertThat(result.isSound()).as(text).isTrue();
    if (warning == null) {
      assertThat(result.problems()).as(text).isEmpty();
    } else {
      assertThat(result.problems()).extracting(Problem::message).containsExactly(warning);
    }
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "host: pier, run: x, usually: 20m to 30m, stop-after: 10m"
            + "|a/b/go usually takes 20m to 30m, but stop-after ends it after 10m",
        "host: pier, run: x, usually: 20m to 30m, stop-after: 20m|",
        "host: pier, run: x, stop-after: 1s|",
        "approve: \"Go?\", answer: { remind: 2h, lapses: 2h }"
            + "|nobody would be reminded of a/b/go: it lapses after 2h, and the reminder is due"
            + " after 2h",
        "approve: \"Go?\", answer: { remind: 30m, lapses: 2h }|",
        "approve: \"Go?\", answer: { remind: 30m }|",
      })
  void ofJobs(String job, String warning) {
    expect("stream: a/b\njobs: { go: { " + job + " } }\n", warning);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "labels: [stone]|",
        "labels: [wood]|the host group \"quays\" is empty: no host has the label wood",
        "labels: [wood, stone]"
            + "|the host group \"quays\" is empty: no host has all the labels stone, wood",
        "hosts: [pier]|",
      })
  void ofGroups(String line, String warning) {
    expect("host-group: quays\n" + line + "\n", warning);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "22:00|06:00|05:00|07:00|22:00 to 06:00 and 05:00 to 07:00",
        "22:00|06:00|06:00|07:00|",
        "08:00|24:00|23:00|01:00|08:00 to 24:00 and 23:00 to 01:00",
        "08:00|24:00|00:00|08:00|",
      })
  void ofSpans(String from, String to, String from2, String to2, String overlap) {
    expect(
        "capacity: crane\nunits: 4\nzone: UTC\nspans:\n"
            + String.format("  - { from: \"%s\", to: \"%s\", units: 2 }%n", from, to)
            + String.format("  - { from: \"%s\", to: \"%s\", units: 3 }%n", from2, to2),
        overlap == null
            ? null
            : "the spans "
                + overlap
                + " of the capacity \"crane\" overlap; where both hold, the first counts: 2 units");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "host: pier, run: x, stop-after: 0s",
        "approve: \"Go?\", answer: { remind: 0m }",
        "approve: \"Go?\", answer: { lapses: 0s }",
      })
  void nothingIsNotALengthOfTime(String job) {
    DefinitionCheck.Result result = check(HOST + "stream: a/b\njobs: { go: { " + job + " } }\n");
    assertThat(result.isSound()).isFalse();
    assertThat(result.problems())
        .singleElement()
        .extracting(Problem::message)
        .asString()
        .contains("expected a duration of at least 1s");
  }
}
