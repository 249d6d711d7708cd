package dev.purser.service.run;

import dev.purser.core.job.Shape;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.service.Settings;
import dev.purser.service.active.Active;
import io.micrometer.core.instrument.Counter;
import io.micrometer.core.instrument.MeterRegistry;
import jakarta.persistence.EntityManager;
import jakarta.persistence.Query;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Collection;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.IntSupplier;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Lets the past go: by age, by number, or by hand. Each step is a small transaction of its own, and
 * each round takes a few seconds at the most, so that nobody notices.
 */
@Component
public class Retention {
  private static final Logger LOG = LoggerFactory.getLogger(Retention.class);
  private static final int STEP = 200;

  /** For so long programs can fetch what they missed of files and commitments. */
  private static final Duration KEEP_HAPPENINGS = Duration.ofDays(30);

  /** Runs that a person may delete at once: their ids are held meanwhile. */
  private static final int MOST_AT_ONCE = 200_000;

  private static final long ROUND_MILLIS = 5_000;
  private static final long PAUSE_MILLIS = 20;

  /**
   * What hangs on runs, in the order in which it goes; attempts before runs, so none is orphaned.
   */
  private static final List<String> PARTS =
      List.of(
          "output_piece",
          "query_result_piece",
          "query_result",
          "run_value",
          "moment",
          "remote_call",
          "begun_attempt",
          "transfer_file",
          "attempt");

  private final EntityManager rows;
  private final TransactionTemplate transactions;
  private final Active service;
  private final Settings settings;
  private final Clock clock;
  private final Counter gone;

  Retention(
      EntityManager rows,
      TransactionTemplate transactions,
      Active service,
      Settings settings,
      Clock clock,
      MeterRegistry meters) {
    this.rows = rows;
    this.transactions = transactions;
    this.service = service;
    this.settings = settings;
    this.clock = clock;
    this.gone = meters.counter("purser.retention.runs");
  }

  /**
   * How much of the past there is, or goes.
   *
   * @param children runs below the steps of the others, and parts of them; they are among {@code
   *     runs}
   * @param outputBytes of output as it is kept
   */
  public record Amount(long runs, long children, long attempts, long moments, long outputBytes) {}

  /** Which runs are meant, with all that is below them. */
  public record Meant(List<Long> runs, int children) {}

  /** A round of letting go. */
  @Scheduled(fixedDelayString = "PT1M", initialDelayString = "PT1M")
  public void letGo() {
    if (!service.isActive()) {
      return;
    }
    try {
      long end = System.nanoTime() + Duration.ofMillis(ROUND_MILLIS).toNanos();
      Instant now = clock.instant();
      List<IntSupplier> steps =
          List.of(
              () -> output(now.minus(settings.keepOutputFor())),
              () -> runs(now.minus(settings.keepRunsFor())),
              this::tooMany,
              () -> arrivals(now.minus(settings.keepArrivalsFor())),
              () -> alerts(now.minus(settings.keepRunsFor())),
              () -> old("happening", "at", now.minus(KEEP_HAPPENINGS)),
              () -> old("start_key", "at", now.minus(Duration.ofDays(7))),
              () -> old("enrolment_token", "expires", now.minus(Duration.ofDays(30))),
              () -> old("audit", "at", now.minus(settings.keepAuditFor())));
      for (IntSupplier step : steps) {
        while (System.nanoTime() < end && step.getAsInt() > 0) {
          Thread.sleep(PAUSE_MILLIS);
        }
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    } catch (RuntimeException e) {
      LOG.warn("cannot take past runs off the board just now: {}", e.toString());
    }
  }

  private int inStep(IntSupplier step) {
    Integer done = transactions.execute(status -> step.getAsInt());
    return done == null ? 0 : done;
  }

  private int old(String table, String column, Instant before) {
    return inStep(
        () ->
            sql("delete from " + table + " where " + column + " < :before limit " + STEP)
                .setParameter("before", before)
                .executeUpdate());
  }

  /** What is not over stays. */
  private int arrivals(Instant before) {
    return inStep(
        () ->
            sql("delete from arrival where since < :before and state in ('used','rejected',"
                    + "'ignored') limit "
                    + STEP)
                .setParameter("before", before)
                .executeUpdate());
  }

  private int output(Instant before) {
    return inStep(
        () -> {
          List<?> old =
              sql("select distinct p.run, p.attempt from output_piece p join attempt a on a.run ="
                      + " p.run and a.number = p.attempt where a.ended < :before limit "
                      + STEP)
                  .setParameter("before", before)
                  .getResultList();
          for (Object one : old) {
            Object[] key = (Object[]) one;
            sql("delete from output_piece where run = :run and attempt = :attempt")
                .setParameter("run", key[0])
                .setParameter("attempt", key[1])
                .executeUpdate();
          }
          return old.size();
        });
  }

  /** What is still on the board stays: its dates are not closed yet. */
  private LocalDate closed() {
    return LocalDate.ofInstant(clock.instant(), settings.zone()).minusDays(2);
  }

  private int runs(Instant before) {
    return inStep(
        () -> {
          List<Long> old =
              ids(
                  sql("select id from run where ended < :before and business_date < :closed and"
                          + " id < (select max(id) from run) order by ended limit "
                          + STEP)
                      .setParameter("before", before)
                      .setParameter("closed", closed()));
          return delete(old);
        });
  }

  /** Where there are more runs than are kept, the oldest go. */
  private int tooMany() {
    if (settings.keepRuns() <= 0) {
      return 0;
    }
    return inStep(
        () -> {
          long all = ((Number) sql("select count(*) from run").getSingleResult()).longValue();
          long over = Math.min(all - settings.keepRuns(), STEP);
          if (over <= 0) {
            return 0;
          }
          return delete(
              ids(
                  sql("select id from run where ended is not null and business_date < :closed and"
                          + " id < (select max(id) from run) order by ended limit "
                          + over)
                      .setParameter("closed", closed())));
        });
  }

  private int alerts(Instant before) {
    return inStep(
        () -> {
          List<Long> old =
              ids(
                  sql("select id from alert where closed < :before limit " + STEP)
                      .setParameter("before", before));
          if (!old.isEmpty()) {
            for (String part : List.of("delivery", "notice", "alert_telling", "alert_act")) {
              sql("delete from " + part + " where alert in :ids")
                  .setParameter("ids", old)
                  .executeUpdate();
            }
            sql("delete from alert where id in :ids").setParameter("ids", old).executeUpdate();
          }
          return old.size();
        });
  }

  private int delete(List<Long> ids) {
    if (ids.isEmpty()) {
      return 0;
    }
    sql("insert ignore into past_run (stream, job, business_date, known_by, number, due, started,"
            + " ended, outcome, exit_code, host, attempts, imported) select stream, job,"
            + " business_date, concat('#', number), number, due, started, ended, state, exit_code,"
            + " host, attempts, false from run where id in :ids and started is not null and ended is"
            + " not null and state in ('succeeded', 'failed')")
        .setParameter("ids", ids)
        .executeUpdate();
    for (String part : PARTS) {
      sql("delete from " + part + " where run in :ids").setParameter("ids", ids).executeUpdate();
    }
    sql("delete from run where id in :ids").setParameter("ids", ids).executeUpdate();
    gone.increment(ids.size());
    return ids.size();
  }

  // ---- by hand

  /**
   * Which runs a wish means: those of the filter that are over and off the board, and all that is
   * below their steps and parts.
   */
  public Meant meant(RunRecords.Filter filter, RunRecords records) {
    Set<Long> found = new LinkedHashSet<>();
    Set<Long> children = new LinkedHashSet<>();
    String cursor = "";
    List<RunRow> page = records.list(filter, cursor, 1_000);
    while (!page.isEmpty()) {
      for (RunRow row : page) {
        if (isPast(row)) {
          found.add(row.id);
          if (Shape.of(row.kind) == Shape.RUNS) {
            children.addAll(below(row));
          }
        }
      }
      if (found.size() + children.size() > MOST_AT_ONCE) {
        throw new NotUnderstood(
            "that is more than "
                + MOST_AT_ONCE
                + " runs: say less at once, such as a shorter span of dates");
      }
      cursor = RunRecords.cursorAfter(page.get(page.size() - 1));
      page = page.size() < 1_000 ? List.of() : records.list(filter, cursor, 1_000);
    }
    children.removeAll(found);
    found.addAll(children);
    return new Meant(List.copyOf(found), children.size());
  }

  private boolean isPast(RunRow row) {
    return row.ended != null && row.businessDate.isBefore(closed());
  }

  private List<Long> below(RunRow step) {
    String path = step.stream + "/" + step.job;
    return ids(
        sql("select id from run where (stream = :path or stream like :below) and business_date ="
                + " :date and number = :number and ended is not null")
            .setParameter("path", path)
            .setParameter("below", path.replace("_", "\\_").replace("%", "\\%") + "/%")
            .setParameter("date", step.businessDate)
            .setParameter("number", step.number));
  }

  /** How much that is. */
  public Amount amount(Meant meant) {
    long attempts = 0;
    long moments = 0;
    long bytes = 0;
    for (int i = 0; i < meant.runs().size(); i += STEP) {
      List<Long> some = meant.runs().subList(i, Math.min(i + STEP, meant.runs().size()));
      attempts += count("select count(*) from attempt where run in :ids", some);
      moments += count("select count(*) from moment where run in :ids", some);
      bytes += count("select sum(length(data)) from output_piece where run in :ids", some);
    }
    return new Amount(meant.runs().size(), meant.children(), attempts, moments, bytes);
  }

  private long count(String text, Collection<Long> ids) {
    Object found = sql(text).setParameter("ids", ids).getSingleResult();
    return found == null ? 0 : ((Number) found).longValue();
  }

  /** Deletes them, in small steps. */
  public void delete(Meant meant) {
    for (int i = 0; i < meant.runs().size(); i += STEP) {
      List<Long> some = meant.runs().subList(i, Math.min(i + STEP, meant.runs().size()));
      inStep(() -> delete(some));
    }
  }

  /** Rows and bytes of the tables that grow, by name; bytes as the database counts them. */
  public Map<String, long[]> sizes() {
    Map<String, long[]> sizes = new java.util.TreeMap<>();
    for (Object one :
        sql("select table_name, table_rows, data_length + index_length from"
                + " information_schema.tables where table_schema = database()")
            .getResultList()) {
      Object[] row = (Object[]) one;
      sizes.put(
          (String) row[0],
          new long[] {((Number) row[1]).longValue(), ((Number) row[2]).longValue()});
    }
    return sizes;
  }

  private Query sql(String text) {
    return rows.createNativeQuery(text);
  }

  private static List<Long> ids(Query query) {
    List<?> found = query.getResultList();
    return found.stream().map(one -> ((Number) one).longValue()).toList();
  }
}
