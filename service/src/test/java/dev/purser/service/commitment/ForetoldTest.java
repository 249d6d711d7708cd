package dev.purser.service.commitment;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dev.purser.core.commitment.Promised;
import dev.purser.core.forecast.PromiseOutlook.Standing;
import dev.purser.service.OnDatabase;
import dev.purser.service.alert.AlertRow;
import dev.purser.service.alert.AlertStepRow;
import dev.purser.service.outlook.OutlookKeeper;
import jakarta.persistence.EntityManager;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.transaction.support.TransactionTemplate;

/** What was foretold, held against what came, on a real database. */
class ForetoldTest extends OnDatabase {
  @Autowired private Foretold foretold;
  @Autowired private JdbcTemplate database;
  @Autowired private EntityManager rows;
  @Autowired private TransactionTemplate transactions;

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

  /** An alert about a promise, opened so many minutes before its time. */
  private void warned(LocalDate date, String name, int before) {
    Promised promised = Foreseen.promised(name, date);
    transactions.executeWithoutResult(
        any -> {
          AlertRow alert = new AlertRow();
          alert.kind = "late";
          alert.about = "commitment";
          alert.reference = promised.reference();
          alert.stream = "";
          alert.title = name;
          alert.text = "";
          alert.urgency = "warning";
          alert.rule = "built in";
          alert.ownKey = promised.reference();
          alert.cause = "";
          alert.opened = promised.by().orElseThrow().minus(Duration.ofMinutes(before));
          alert.closed = promised.by().orElseThrow();
          alert.acknowledgedBy = "";
          alert.closedBecause = "it was over";
          rows.persist(alert);
          AlertStepRow step = AlertStepRow.of(alert, "opened", "", "likely late", alert.opened);
          step.kind = "will-be-late";
          rows.persist(step);
        });
  }

  @Test
  void whatPeopleWereToldInTruthIsCountedByTheirAlerts() {
    LocalDate first = LocalDate.of(2027, 8, 1);
    day(first, "told", -30, 0.1, -35);
    day(first.plusDays(1), "told", -5, 0.6, -2); // warned of in vain
    day(first.plusDays(2), "told", -5, 0.5, 15); // late, and nobody was told before
    for (int late = 3; late <= 5; late++) {
      day(first.plusDays(late), "told", -5, 0.5, 15);
      warned(first.plusDays(late), "told", late * 20);
    }
    warned(first.plusDays(1), "told", 30);
    Foretold.Measure told = measure(first, Foretold.ALERTS);
    assertThat(told.count()).isEqualTo(6);
    assertThat(told.late()).isEqualTo(4);
    assertThat(told.warned()).isEqualTo(3);
    assertThat(told.cameToNothing()).isEqualTo(1);
    assertThat(told.minutesBefore()).isCloseTo(80, within(0.01));
    assertThat(measure(first.plusDays(60), Foretold.ALERTS).minutesBefore()).isNaN();
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
