package dev.purser.service.run;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.history.PastRun;
import dev.purser.core.reading.SourceFile;
import dev.purser.service.OnDatabase;
import dev.purser.service.Settings;
import dev.purser.service.action.Actions;
import dev.purser.service.action.Start;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.history.PastRuns;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.service.publish.Publisher;
import io.micrometer.core.instrument.simple.SimpleMeterRegistry;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.time.Duration;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.transaction.support.TransactionTemplate;

/** What leaves, and what must not, on a real database. */
class RetentionTest extends OnDatabase {
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");
  private static final String MINE = " from run where stream = 'past/a'";

  @Autowired private EntityManager rows;
  @Autowired private TransactionTemplate transactions;
  @Autowired private Settings settings;
  @Autowired private Clock clock;
  @Autowired private JdbcTemplate database;
  @Autowired private Publisher publisher;
  @Autowired private Actions actions;
  @Autowired private PlanKeeper plan;
  @Autowired private PastRuns known;

  private Retention retention(long keepRuns) {
    Settings with =
        new Settings(
            settings.zone(),
            settings.keepOutput(),
            Duration.ofDays(30),
            Duration.ofDays(100),
            keepRuns,
            settings.keepArrivalsFor(),
            settings.keepAuditFor(),
            settings.calendarWarning(),
            settings.missedAfter(),
            settings.mailFrom(),
            settings.environment(),
            false,
            false,
            settings.consoleAddress(),
            Duration.ZERO,
            "",
            "",
            "",
            "",
            32473);
    return new Retention(rows, transactions, () -> true, with, clock, new SimpleMeterRegistry());
  }

  /** Runs that ended so many days ago, each with an attempt, a moment and output. */
  private void past(int... daysAgo) {
    publisher.publish(
        List.of(
            new SourceFile(
                "test.yaml",
                "host: shed\n---\nstream: past/a\njobs:\n  one: { host: shed, run: x }\n---\n"
                    + "stream: past/newest\njobs:\n  one: { host: shed, run: x }\n")),
        Optional.empty(),
        IDA,
        "test");
    for (String table : List.of("attempt", "moment", "output_piece")) {
      database.update("delete from " + table + " where run in (select id" + MINE + ")");
    }
    database.update("delete" + MINE);
    for (int i = 0; i < daysAgo.length; i++) {
      long run = start("past/a");
      String when = "utc_timestamp() - interval " + daysAgo[i] + " day";
      database.update(
          "update run set state='succeeded', started="
              + when
              + " - interval 5 minute, ended="
              + when
              + ", business_date=date("
              + when
              + "), number="
              + (1_000 + i)
              + " where id="
              + run);
      database.update(
          "insert into attempt (run, number, host, sent, ended, note, output_total, output_kept,"
              + " output_complete) values ("
              + run
              + ", 1, 'shed', "
              + when
              + ", "
              + when
              + ", '', 1, 1, true)");
      database.update(
          "insert into output_piece (run, attempt, start, length, data) values ("
              + run
              + ", 1, 0, 1, 'x')");
    }
    start("past/newest"); // the newest stays in any case, so that no id is given again
  }

  private long start(String stream) {
    Start wish = Start.of(stream, Optional.empty(), plan.today());
    return actions.start(wish, Optional.empty(), IDA, "").get(0);
  }

  private long count(String query) {
    return database.queryForObject("select count(*)" + query, Long.class);
  }

  private long orphans() {
    long all = 0;
    for (String table : List.of("attempt", "moment", "output_piece")) {
      all += count(" from " + table + " t left join run r on r.id = t.run where r.id is null");
    }
    return all;
  }

  @Test
  void byAgeOutputLeavesFirstThenTheRunWithAllThatHangsOnIt() {
    past(1, 20, 50, 99, 101, 300);
    retention(0).letGo();
    assertThat(count(MINE)).isEqualTo(4);
    assertThat(count(" from output_piece p join run r on r.id = p.run where r.stream = 'past/a'"))
        .as("output of 1 and 20 days")
        .isEqualTo(2);
    assertThat(orphans()).isZero();
    retention(0).letGo();
    assertThat(count(MINE)).as("once more changes nothing").isEqualTo(4);
  }

  @Test
  void byNumberTheOldestLeaveAndWhatIsOnTheBoardStays() {
    past(0, 1, 10, 20, 30, 40);
    long others = count(" from run where stream <> 'past/a'");
    retention(others + 4).letGo();
    assertThat(
            database.queryForList(
                "select datediff(utc_date(), business_date)" + MINE + " order by 1", Long.class))
        .containsExactly(0L, 1L, 10L, 20L);
    retention(1).letGo();
    assertThat(count(MINE)).as("yesterday and today are not closed").isEqualTo(2);
    assertThat(orphans()).isZero();
  }

  @Test
  void inSmallStepsAsManyAsAreNeeded() {
    past(200);
    long id = database.queryForObject("select max(id)" + MINE, Long.class);
    for (int i = 1; i <= 450; i++) {
      database.update("insert into moment (run, at, state, note) values (" + id + ",now(),'x','')");
    }
    database.update("update run set ended = '2000-01-01' where id = " + id);
    retention(0).letGo();
    assertThat(count(" from moment where run = " + id)).isZero();
  }

  @Test
  void forecastsGoOnKnowingRunsThatAreGone() {
    database.update("delete from past_run where stream = 'past/a'");
    past(120, 3);
    LocalDate gone = database.queryForObject("select min(business_date)" + MINE, LocalDate.class);
    List<PastRun> before = known.of(gone);
    assertThat(before).filteredOn(run -> run.stream().equals("past/a")).hasSize(1);
    assertThat(known.take(before, false)).as("it is among the runs").isZero();
    assertThat(count(" from past_run where stream = 'past/a'")).isZero();
    retention(0).letGo();
    assertThat(count(MINE)).isEqualTo(1);
    assertThat(known.of(gone)).isEqualTo(before);
    assertThat(known.take(before, false)).as("it is known").isZero();
  }
}
