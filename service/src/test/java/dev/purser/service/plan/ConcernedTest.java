package dev.purser.service.plan;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Kind;
import dev.purser.core.reading.SourceFile;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.List;
import java.util.function.Predicate;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Whose plan may be another because of a change. */
class ConcernedTest {
  private static final String WORLD =
      """
      host: pier
      ---
      business-calendar: office
      working: weekdays
      ---
      stream: a/first
      jobs: { one: { host: pier, run: x } }
      ---
      stream: a/inner
      jobs: { two: { host: pier, run: x, waits-for: a/first succeeded } }
      ---
      stream: a/outer
      jobs: { step: { stream: a/inner } }
      ---
      stream: a/after
      jobs: { three: { host: pier, run: x, waits-for: a/outer/step succeeded } }
      ---
      stream: a/other
      jobs: { four: { host: pier, run: x } }
      """;

  @ParameterizedTest
  @CsvSource({
    "stream, a/other, a/other",
    "stream, a/after, a/after",
    "stream, a/outer, a/outer a/after",
    "stream, a/first, a/first a/inner a/outer a/after",
    "business-calendar, office, a/first a/inner a/outer a/after a/other"
  })
  void thoseThatHaveChangedAndThoseThatNameThem(String kind, String name, String concerned) {
    Definitions world =
        DefinitionCheck.check(
                Definitions.none(),
                List.of(new SourceFile("w.yaml", WORLD)),
                LocalDate.of(2027, 3, 4))
            .definitions();
    Predicate<String> by =
        Concerned.by(
            List.of(world.document(Kind.of(kind).orElseThrow(), name).orElseThrow()), world);
    assertThat(world.streams().stream().map(one -> one.path()).filter(by))
        .containsExactlyInAnyOrderElementsOf(Arrays.asList(concerned.split(" ")));
  }
}
