package dev.purser.core.trial;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.definition.Document;
import dev.purser.core.definition.Spot;
import dev.purser.core.definition.Stream;
import dev.purser.core.prerequisite.PrerequisiteParser;
import dev.purser.core.problem.Problem;
import dev.purser.core.reading.DefinitionReader;
import dev.purser.core.reading.SourceFile;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** A stream as it is tried, and where its jobs stand. */
class TrialTest {
  private static final String NIGHT =
      """
      stream: passenger/night     # every night
      owner: passenger-ops
      alerts-to: [night-desk]
      alerts: [ { kind: failed, tell: [night-desk] } ]
      schedule: { days: every day, at: "21:30", zone: UTC }
      paused: no
      parameters: { deck: all }
      places: { close: 40 120 }
      jobs:
        close: { host: any of quays, run: "./close ${deck}", usually: 1m } # as it is
        ask: { approve: "Now?", waits-for: close succeeded and fleet/rosters succeeded }
        file:
          host: quay-north
          alerts: [ { kind: late, none: yes } ]
          waits-for: passenger/night/ask succeeded and (file feed arrived or close failed)
          run: ./file
      """;

  private static Document read(String yaml) {
    DefinitionReader.Reading reading =
        DefinitionReader.read(List.of(new SourceFile("a.yaml", yaml)));
    assertThat(reading.problems()).filteredOn(Problem::isError).isEmpty();
    return reading.documents().get(0);
  }

  @Test
  void itStartsByNothingTellsNobodyAndWaitsForNoOther() {
    String path = Trial.path(7, "passenger/night");
    Document tried = read(Trial.text(read(NIGHT), path, Optional.of("ledger"), Others.IGNORED));
    Stream stream = (Stream) tried.value();
    assertThat(Stream.isTrial(stream.path())).isTrue();
    assertThat(stream.startsByItself()).isFalse();
    assertThat(stream.owner()).isEmpty();
    assertThat(stream.alertsTo()).isEmpty();
    assertThat(stream.alerts()).isEmpty();
    assertThat(stream.jobs()).allMatch(job -> job.alerts().isEmpty());
    assertThat(stream.parameters().texts()).containsEntry("deck", "all");
    assertThat(stream.job("close").orElseThrow().placement()).hasToString("ledger");
    assertThat(stream.job("ask").orElseThrow().waitsFor()).hasToString("Optional[close succeeded]");
    assertThat(stream.job("file").orElseThrow().waitsFor())
        .hasToString("Optional[" + path + "/ask succeeded]");
    assertThat(tried.text()).contains("# every night", "usually: 1m } # as it is");
  }

  @Test
  void itKeepsItsHostsAndAsksOthersWhereThatIsWanted() {
    Document tried =
        read(
            Trial.text(
                read(NIGHT),
                Trial.path(7, "passenger/night"),
                Optional.empty(),
                Others.WAITED_FOR));
    Stream stream = (Stream) tried.value();
    assertThat(stream.job("close").orElseThrow().placement()).hasToString("any of quays");
    assertThat(stream.job("ask").orElseThrow().waitsFor())
        .hasToString("Optional[close succeeded and fleet/rosters succeeded]");
  }

  private static Stream played(String waitsFor) {
    String text =
        "stream: p/a\njobs:\n  # First.\n  own: { run: x, host: q }\n  it: { run: x, host: q,"
            + " waits-for: '"
            + waitsFor
            + "' }\n";
    Document tried = read(Trial.text(read(text), "trial/7/p/a", Optional.empty(), Others.PLAYED));
    assertThat(tried.text()).contains("# First.\n", "  own: { run: x, host: q }\n");
    return (Stream) tried.value();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "own succeeded                        | own succeeded | ''",
        "x/y succeeded and x/y failed         | play-x-y succeeded and play-x-y failed | play-x-y",
        "x/y failed or file f arrived         | play-x-y failed or play-file-f succeeded | play-x-y, play-file-f",
        "own succeeded on the previous business date | play-own succeeded | play-own",
        "p/a/own failed and x/y ended         | trial/7/p/a/own failed and play-x-y ended | play-x-y",
        "x/y succeeded if planned             | play-x-y succeeded | play-x-y",
        "not (x/y skipped)                    | not play-x-y skipped | play-x-y",
        "x/y ended with code 3 and own failed | own failed | ''",
        "value rows of x/y > 1                | '' | ''",
        "x/y running                          | '' | ''",
        "x/y succeeded and x-y/z succeeded and x/y-z succeeded | play-x-y succeeded and play-x-y-z succeeded and play-x-y-z-2 succeeded | play-x-y, play-x-y-z, play-x-y-z-2",
      })
  void whatIsPlayedIsAQuestionInTheTry(String waitsFor, String instead, String questions) {
    Stream stream = played(waitsFor);
    assertThat(stream.job("it").orElseThrow().waitsFor().map(Object::toString).orElse(""))
        .isEqualTo(instead);
    assertThat(stream.jobs().stream().map(job -> job.name()))
        .filteredOn(name -> name.startsWith("play-"))
        .containsExactlyInAnyOrder(questions.isEmpty() ? new String[0] : questions.split(", "));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "a succeeded                                    | a succeeded",
        "x/y succeeded                                  | ''",
        "file f arrived                                 | ''",
        "a succeeded and x/y failed and b failed        | a succeeded and b failed",
        "a succeeded and (b failed or x/y failed)       | a succeeded",
        "a succeeded and (b failed or c failed)         | a succeeded and (b failed or c failed)",
        "not (x/y failed)                               | ''",
        "not (a failed and x/y failed)                  | not a failed",
        "value rows of a > 1 and value rows of x/y > 1  | value rows of a > 1",
      })
  void whatIsLeftOutCountsAsMet(String whole, String left) {
    assertThat(
            Leaving.replaced(
                    PrerequisiteParser.parse(whole).prerequisite(),
                    leaf ->
                        Optional.of(leaf)
                            .filter(
                                one ->
                                    one.targets().stream()
                                        .anyMatch(target -> !target.name().contains("/"))))
                .map(Object::toString)
                .orElse(""))
        .isEqualTo(left);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "40 120         | 40 120",
        "-40   -120     | -40 -120",
        "100000 0       | 100000 0",
        "100001 0       | ''",
        "40             | ''",
        "40 120 3       | ''",
        "1.5 2          | ''",
        "999999999999 1 | ''",
        "a b            | ''",
      })
  void aPlaceIsTwoWholeNumbers(String text, String spot) {
    assertThat(Spot.of(text).map(one -> one.x() + " " + one.y()).orElse("")).isEqualTo(spot);
  }

  @Test
  void aPlaceOfNoJobIsAWarningAndOneThatIsNoneAnError() {
    DefinitionReader.Reading reading =
        DefinitionReader.read(
            List.of(
                new SourceFile(
                    "a.yaml", NIGHT.replace("close: 40 120", "clsoe: 1 2, ask: here, file: 3 4"))));
    assertThat(reading.problems())
        .extracting(Problem::message)
        .anyMatch(
            text -> text.contains("there is no job clsoe to be placed") && text.contains("close"))
        .anyMatch(text -> text.contains("where ask stands is two whole numbers, such as: 40 120"));
  }
}
