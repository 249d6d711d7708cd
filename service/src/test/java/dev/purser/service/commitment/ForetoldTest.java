package dev.purser.service.commitment;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dev.purser.core.commitment.Promised;
import dev.purser.core.forecast.PromiseOutlook.Standing;
import dev.purser.service.OnDatabase;
import dev.purser.service.outlook.OutlookKeeper;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.jdbc.core.JdbcTemplate;

/** What was foretold, held against what came, on a real database. */
class ForetoldTest extends OnDatabase {
  @Autowired private Foretold foretold;
  @Autowired private JdbcTemplate database;

  @BeforeEach
  void begin() {
    database.update("delete from foretold");
    database.update("delete from promise_end");
  }

  /** One promise of a date: foretold with a likely end and a chance, and done some time later. */
  private void day(LocalDate date, String name, int likely, double chance, int done) {
    Promised promised = Foreseen.promised(name, date);
    Instant by = promised.by().orElseThrow();
    Instant end = by.plus(Duration.ofMinutes(likely));
    for (Instant now = promised.begin().minus(Duration.ofMinutes(4));
        now.isBefore(by);
        now = now.plus(Duration.ofMinutes(1))) {
      foretold.keep(Foreseen.of(promised, Standing.OPEN, end, chance), now);
    }
    Standing came = done <= 0 ? Standing.KEPT : Standing.MISSED;
    foretold.keep(Foreseen.of(promised, came, by.plus(Duration.ofMinutes(done)), 0), by);
  }

  private Foretold.Measure measure(LocalDate from, String horizon) {
    return foretold.measures(from).stream()
        .filter(one -> one.horizon().equals(horizon))
        .findFirst()
        .orElseThrow();
  }

  @Test
  void whatWasSaidIsHeldAgainstWhatCame() {
    LocalDate first = LocalDate.of(2027, 5, 1);
    day(first, "filed", -30, 0.1, -35); // before the likely end
    day(first.plusDays(1), "filed", -30, 0.1, -22); // after it, by the latest
    day(first.plusDays(2), "filed", -5, 0.5, 15); // warned of, and late
    day(first.plusDays(3), "filed", -5, 0.6, -2); // warned of in vain
    Foretold.Measure hour = measure(first, "1h");
    assertThat(hour.count()).isEqualTo(4);
    assertThat(hour.within90()).isEqualTo(0.75);
    assertThat(hour.within50()).isEqualTo(0.25);
    assertThat(hour.minutesOff()).isCloseTo((5 + 8 + 20 + 3) / 4.0, within(0.01));
    assertThat(hour.late()).isEqualTo(1);
    assertThat(hour.warned()).isEqualTo(1);
    assertThat(hour.cameToNothing()).isEqualTo(1);
    assertThat(measure(first, "begin").count()).isEqualTo(4);
    assertThat(measure(first, "15m").count()).isEqualTo(4);
    // it began two hours before: nothing could be said four hours before
    assertThat(measure(first, "4h").count()).isZero();
    assertThat(measure(first.plusDays(2), "1h").count()).isEqualTo(2);
    assertThat(measure(first.plusDays(9), "1h").within90()).isNaN();
  }

  @Test
  void aServiceThatStartsAnewKeepsNothingTwice() {
    LocalDate date = LocalDate.of(2027, 7, 1);
    day(date, "again", -30, 0.1, -35);
    foretold.kept(new OutlookKeeper.Kept(List.of())); // forgets
    day(date, "again", -10, 0.9, 20);
    assertThat(measure(date, "1h").count()).isEqualTo(1);
    assertThat(measure(date, "1h").within90()).isEqualTo(1);
    assertThat(measure(date, "1h").late()).isZero();
  }
}
