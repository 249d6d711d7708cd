package dev.purser.service.commitment;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.Mockito.mock;

import dev.purser.core.forecast.PromiseOutlook;
import dev.purser.core.forecast.PromiseOutlook.Standing;
import dev.purser.service.board.Engine;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** How a promise stands, for people who know no job names. */
class StandingsTest {
  private static Standings standingsAt(Instant now) {
    return new Standings(mock(Engine.class), Clock.fixed(now, ZoneOffset.UTC));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          KEPT   | 21:31 | 0    | kept         | kept at 21:31; 22:00 was promised
          MISSED | 22:10 | 1    | missed       | done at 22:10; 22:00 was promised
          LATE   | 22:20 | 1    | late         | not done, although 22:00 was promised; probably at 22:20
          LATE   |       | 1    | late         | not done, although 22:00 was promised
          OPEN   | 21:40 | 0.1  | will be kept | will be kept, probably at 21:40; 22:00 was promised
          OPEN   | 21:58 | 0.45 | in danger    | a chance of 45 % of being late: probably at 21:58; 22:00 was promised
          OPEN   | 22:30 | 0.97 | will be late | a chance of 97 % of being late: probably at 22:30; 22:00 was promised
          OPEN   |       | 0.97 | will be late | a chance of 97 % of being late; 22:00 was promised
          OPEN   |       | NaN  | open         | nobody can say yet; 22:00 was promised
          """)
  void itIsAWordAndASentence(
      Standing standing, String end, double chance, String word, String sentence) {
    PromiseOutlook outlook =
        Foreseen.of(
            Foreseen.promised("filed", Foreseen.DATE),
            standing,
            end == null ? null : Foreseen.at(end),
            chance);
    assertThat(Standings.word(outlook)).isEqualTo(word);
    assertThat(standingsAt(Foreseen.BEGIN).sentence(outlook)).isEqualTo(sentence);
  }

  @Test
  void whatIsNotOfTodaySaysOfWhichDateItIs() {
    PromiseOutlook outlook =
        Foreseen.of(
            Foreseen.promised("filed", Foreseen.DATE), Standing.OPEN, Foreseen.at("22:30"), 0.5);
    assertThat(standingsAt(Foreseen.BEGIN.minus(Duration.ofDays(1))).sentence(outlook))
        .isEqualTo(
            "a chance of 50 % of being late: probably at 22:30 on 2027-03-04; 22:00 on 2027-03-04"
                + " was promised");
  }
}
