package dev.purser.service.history;

import dev.purser.core.definition.Definitions;
import dev.purser.core.history.PastRun;
import dev.purser.core.learning.Learned;
import jakarta.persistence.EntityManager;
import jakarta.persistence.Query;
import java.sql.Date;
import java.sql.Timestamp;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.transaction.interceptor.TransactionAspectSupport;

/**
 * Runs of the past, those on record as well as those that are kept when their rows go and those
 * that were imported; and what is learned from them. It is read anew when the business date
 * changes.
 */
@Component
@Transactional(readOnly = true)
public class PastRuns {
  private static final int LOOK_BACK_DAYS = 400;
  private static final int MOST_OF_JOB = 150;
  private static final int MOST = 3_000_000;
  private static final int STEP = 500;
  private static final String COLUMNS = "stream, job, business_date, number, due, started, ended, ";

  private final EntityManager rows;
  private Past past = new Past(LocalDate.MIN, Map.of());
  private Definitions learnedOf;
  private long version;
  private Learned learned;

  /** What had happened before a business date, by full path of the job, oldest first. */
  private record Past(LocalDate before, Map<String, List<PastRun>> byJob) {}

  PastRuns(EntityManager rows) {
    this.rows = rows;
  }

  /** Runs of dates before one, by full path of the job, oldest first. */
  public synchronized Map<String, List<PastRun>> before(LocalDate date) {
    if (!past.before().equals(date)) {
      past = new Past(date, read(date.minusDays(LOOK_BACK_DAYS), date, MOST_OF_JOB));
      learned = null;
    }
    return past.byJob();
  }

  /** What is learned from them for definitions. */
  public synchronized Learned learned(Definitions definitions, LocalDate date) {
    Map<String, List<PastRun>> byJob = before(date);
    if (learned == null || learnedOf != definitions) {
      List<PastRun> all = new ArrayList<>();
      byJob.values().forEach(all::addAll);
      learned = Learned.of(definitions, all, date);
      learnedOf = definitions;
    }
    return learned;
  }

  /** What is known is read anew when it is asked for next. */
  public synchronized void forget() {
    past = new Past(LocalDate.MIN, Map.of());
    version++;
  }

  /** It grows whenever something else is known. */
  public synchronized long version() {
    return version;
  }

  private Map<String, List<PastRun>> read(LocalDate from, LocalDate before, int mostOfJob) {
    Map<Long, Instant> first = new HashMap<>();
    for (Object each :
        sql(
            "select a.run, min(a.started) from attempt a join run r on r.id = a.run where r.attempts"
                + " > 1 and r.business_date >= :from and r.business_date < :before and a.started is"
                + " not null group by a.run",
            from,
            before)) {
      Object[] row = (Object[]) each;
      first.put(((Number) row[0]).longValue(), instant(row[1]));
    }
    Map<String, List<PastRun>> found = new HashMap<>();
    Set<String> seen = new HashSet<>();
    for (Object each :
        sql(
            "select "
                + COLUMNS
                + "state, exit_code, host, attempts, id from run where business_date >= :from and"
                + " business_date < :before and started is not null and state in ('succeeded',"
                + " 'failed') order by ended desc",
            from,
            before)) {
      Object[] row = (Object[]) each;
      PastRun run = run(row, first.get(((Number) row[11]).longValue()));
      seen.add(key(run));
      add(found, run, mostOfJob);
    }
    for (Object each :
        sql(
            "select "
                + COLUMNS
                + "outcome, exit_code, host, attempts from past_run where business_date >= :from and"
                + " business_date < :before and started is not null and ended is not null and outcome"
                + " in ('succeeded', 'failed') order by ended desc",
            from,
            before)) {
      PastRun run = run((Object[]) each, null);
      if (!seen.contains(key(run))) {
        add(found, run, mostOfJob);
      }
    }
    found.replaceAll(
        (path, runs) -> {
          List<PastRun> sorted = new ArrayList<>(runs);
          sorted.sort(Comparator.comparingLong(PastRun::start));
          return sorted;
        });
    return found;
  }

  private static String key(PastRun run) {
    return run.path() + "@" + run.date() + "#" + run.number();
  }

  private static void add(Map<String, List<PastRun>> found, PastRun run, int mostOfJob) {
    List<PastRun> of = found.computeIfAbsent(run.path(), any -> new ArrayList<>());
    if (of.size() < mostOfJob) {
      of.add(run);
    }
  }

  private List<?> sql(String text, LocalDate from, LocalDate before) {
    return rows.createNativeQuery(text)
        .setParameter("from", from)
        .setParameter("before", before)
        .setMaxResults(MOST)
        .getResultList();
  }

  private static PastRun run(Object[] row, Instant firstStart) {
    Instant started = firstStart == null ? instant(row[5]) : firstStart;
    return new PastRun(
        (String) row[0],
        (String) row[1],
        row[2] instanceof LocalDate date ? date : ((Date) row[2]).toLocalDate(),
        ((Number) row[3]).intValue(),
        millis(instant(row[4])),
        millis(started),
        millis(instant(row[6])),
        PastRun.Outcome.of((String) row[7]).orElse(PastRun.Outcome.CANCELLED),
        row[8] == null ? -1 : ((Number) row[8]).intValue(),
        (String) row[9],
        ((Number) row[10]).intValue());
  }

  private static long millis(Instant at) {
    return at == null ? 0 : at.toEpochMilli();
  }

  private static Instant instant(Object column) {
    if (column == null) {
      return null;
    }
    return column instanceof Timestamp stamp
        ? stamp.toInstant()
        : ((LocalDateTime) column).toInstant(ZoneOffset.UTC);
  }

  // ---- taking in

  /**
   * Takes in runs that were not ours.
   *
   * @param wanted each is known by its job, date and number, without a number by its start; what is
   *     known already is left as it is
   * @param tryOnly whether it is only counted
   * @return how many were new
   */
  @Transactional
  public int take(Collection<PastRun> wanted, boolean tryOnly) {
    int taken = 0;
    List<PastRun> some = new ArrayList<>(wanted);
    for (int i = 0; i < some.size(); i += STEP) {
      taken += insert(some.subList(i, Math.min(i + STEP, some.size())));
    }
    if (taken > 0) {
      taken -= deleteWhatIsAmongTheRuns(some);
    }
    if (tryOnly) {
      TransactionAspectSupport.currentTransactionStatus().setRollbackOnly();
    } else {
      forget();
    }
    return taken;
  }

  private int deleteWhatIsAmongTheRuns(List<PastRun> some) {
    return rows.createNativeQuery(
            "delete p from past_run p join run r on r.stream = p.stream and r.job = p.job and"
                + " r.business_date = p.business_date and r.number = p.number where p.imported and"
                + " p.number > 0 and p.business_date >= :from and p.business_date <= :to")
        .setParameter(
            "from", some.stream().map(PastRun::date).min(LocalDate::compareTo).orElseThrow())
        .setParameter(
            "to", some.stream().map(PastRun::date).max(LocalDate::compareTo).orElseThrow())
        .executeUpdate();
  }

  /** The runs of one business date, in the order of their starts. */
  public List<PastRun> of(LocalDate date) {
    List<PastRun> found = new ArrayList<>();
    read(date, date.plusDays(1), Integer.MAX_VALUE).values().forEach(found::addAll);
    found.sort(Comparator.comparingLong(PastRun::start));
    return found;
  }

  private int insert(List<PastRun> some) {
    String values = "(?,?,?,?,?,?,?,?,?,?,?,?,true),".repeat(some.size());
    Query query =
        rows.createNativeQuery(
            "insert ignore into past_run (stream, job, business_date, known_by, number, due, started,"
                + " ended, outcome, exit_code, host, attempts, imported) values "
                + values.substring(0, values.length() - 1));
    int place = 1;
    for (PastRun run : some) {
      query.setParameter(place++, run.stream());
      query.setParameter(place++, run.job());
      query.setParameter(place++, run.date());
      query.setParameter(
          place++,
          run.number() > 0 ? "#" + run.number() : Instant.ofEpochMilli(run.start()).toString());
      query.setParameter(place++, run.number());
      query.setParameter(place++, at(run.due()));
      query.setParameter(place++, at(run.start()));
      query.setParameter(place++, at(run.end()));
      query.setParameter(place++, run.outcome().word());
      query.setParameter(place++, run.exitCode() < 0 ? null : run.exitCode());
      query.setParameter(place++, run.host());
      query.setParameter(place++, run.attempts());
    }
    return query.executeUpdate();
  }

  private static Instant at(long millis) {
    return millis == 0 ? null : Instant.ofEpochMilli(millis);
  }
}
