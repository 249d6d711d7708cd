package dev.purser.service.alert;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class NextLooksTest {
  private static final Instant OPENED = Instant.parse("2027-03-04T20:00:00Z");
  private static final NextLooks BOTH =
      new NextLooks(
          List.of(
              new NextLooks.Step(900_000, List.of("chief")),
              new NextLooks.Step(3_600_000, List.of("master"))),
          600_000);

  @Test
  void whatIsKeptIsReadAsItWas() {
    assertThat(NextLooks.of(BOTH.toText())).isEqualTo(BOTH);
    assertThat(NextLooks.of((String) null).isNone()).isTrue();
  }

  /** The next step, or the next reminder, whichever comes first. */
  @ParameterizedTest
  @CsvSource({
    "0, 20:00, 20:10",
    "0, 20:10, 20:15",
    "1, 20:15, 20:25",
    "1, 20:55, 21:00",
    "2, 21:00, 21:10",
  })
  void theNextLookIsTheEarlierOfBoth(int looks, String told, String next) {
    assertThat(BOTH.next(OPENED, looks, at(told))).contains(at(next));
  }

  @ParameterizedTest
  @CsvSource({
    "0, 20:14, ''",
    "0, 20:15, chief",
    "1, 20:59, ''",
    "1, 21:00, master",
    "2, 23:00, ''"
  })
  void aStepIsDueOnceItsTimeHasCome(int looks, String now, String who) {
    Optional<NextLooks.Step> due = BOTH.due(OPENED, looks, at(now));
    assertThat(due.map(step -> step.tell().get(0)).orElse("")).isEqualTo(who);
  }

  @Test
  void withoutEitherThereIsNothingToLookFor() {
    NextLooks none = new NextLooks(List.of(), 0);
    assertThat(none.first(OPENED)).isEmpty();
    assertThat(none.next(OPENED, 3, OPENED)).isEmpty();
  }

  private static Instant at(String time) {
    return Instant.parse("2027-03-04T" + time + ":00Z");
  }
}
