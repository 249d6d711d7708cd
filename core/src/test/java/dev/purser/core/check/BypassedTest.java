package dev.purser.core.check;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.reading.SourceFile;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Only ola may answer: starting a job alone does not get round the question. */
class BypassedTest {
  private static final Definitions ALL =
      DefinitionCheck.check(
              Definitions.none(),
              List.of(
                  new SourceFile(
                      "f",
                      """
                      host: quay-north
                      ---
                      stream: inner
                      jobs:
                        ask: { approve: May it go?, answer: { by: [ola] } }
                      ---
                      stream: night
                      jobs:
                        count: { host: quay-north, run: x }
                        shall: { approve: Shall it?, answer: { by: [ola, kari] }, waits-for: count succeeded }
                        anybody: { approve: Anyone? }
                        next: { host: quay-north, run: x, waits-for: shall succeeded }
                        last: { host: quay-north, run: x, waits-for: next succeeded or count succeeded }
                        step: { stream: inner }
                        over: { host: quay-north, run: x, waits-for: step succeeded }
                        free: { host: quay-north, run: x, waits-for: anybody succeeded }
                      ---
                      stream: other
                      jobs:
                        far: { host: quay-north, run: x, waits-for: night/last ended }
                      """)),
              LocalDate.of(2027, 3, 1))
          .definitions();

  @ParameterizedTest
  @CsvSource({
    "night, count, NONE",
    "night, shall, NONE",
    "night, next, night/shall",
    "night, last, night/shall",
    "night, over, night/step/ask",
    "night, free, NONE",
    "other, far, night/shall"
  })
  void theQuestionBeforeAJobIsFound(String path, String job, String question) {
    Stream stream = ALL.stream(path).orElseThrow();
    assertThat(
            Bypassed.by(ALL, stream, stream.job(job).orElseThrow(), "ida")
                .map(Bypassed.Question::path)
                .orElse("NONE"))
        .isEqualTo(question);
    assertThat(Bypassed.by(ALL, stream, stream.job(job).orElseThrow(), "ola")).isEmpty();
  }
}
