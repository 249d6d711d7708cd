package dev.purser.service.commitment;

import dev.purser.core.commitment.Promised;
import dev.purser.core.forecast.PromiseOutlook;
import dev.purser.service.board.Engine;
import dev.purser.service.event.HappeningRow;
import dev.purser.service.outlook.OutlookKeeper;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Keeps what was foretold of promises, at their beginning and at certain times before them, and
 * holds it against what came.
 */
@Component
public class Foretold {
  private static final String END = "end";

  /** How long before the promise; the beginning of the date comes first. */
  private static final Map<String, Duration> HORIZONS = new LinkedHashMap<>();

  static {
    HORIZONS.put("begin", null);
    HORIZONS.put("4h", Duration.ofHours(4));
    HORIZONS.put("2h", Duration.ofHours(2));
    HORIZONS.put("1h", Duration.ofHours(1));
    HORIZONS.put("15m", Duration.ofMinutes(15));
  }

  private final Engine engine;
  private final EntityManager rows;
  private final TransactionTemplate transactions;
  private final Clock clock;

  /** By reference of the promise: the horizons, and the end, that are kept already. */
  private final Map<String, Set<String>> kept = new HashMap<>();

  Foretold(Engine engine, EntityManager rows, TransactionTemplate transactions, Clock clock) {
    this.engine = engine;
    this.rows = rows;
    this.transactions = transactions;
    this.clock = clock;
  }

  /** Keeps what is due to be kept of an outlook; outlooks come from several threads. */
  @EventListener
  synchronized void kept(OutlookKeeper.Kept outlook) {
    if (engine.isActive()) {
      Set<String> there = new HashSet<>();
      outlook.promises().forEach(promise -> there.add(promise.promised().reference()));
      kept.keySet().retainAll(there);
      outlook.promises().forEach(promise -> keep(promise, clock.instant()));
    }
  }

  void keep(PromiseOutlook promise, Instant now) {
    Promised promised = promise.promised();
    boolean over =
        promise.standing() == PromiseOutlook.Standing.KEPT
            || promise.standing() == PromiseOutlook.Standing.MISSED;
    Set<String> own = kept.computeIfAbsent(promised.reference(), any -> new HashSet<>());
    if (over && own.add(END)) {
      end(promised, promise.end());
    }
    if (over || promised.by().isEmpty()) {
      return;
    }
    Instant by = promised.by().get();
    HORIZONS.forEach(
        (horizon, before) -> {
          Instant from =
              before == null ? promised.begin().minus(Duration.ofMinutes(5)) : by.minus(before);
          Instant to = before == null ? promised.begin() : from.plus(before.dividedBy(4));
          boolean due = !now.isBefore(from) && now.isBefore(to);
          if (due && own.add(horizon)) {
            put(promise, horizon, now);
          }
        });
  }

  private void put(PromiseOutlook promise, String horizon, Instant now) {
    Promised promised = promise.promised();
    transactions.executeWithoutResult(
        any ->
            rows.createNativeQuery(
                    "insert ignore into foretold (commitment, business_date, number, horizon, made,"
                        + " promised, p10, p50, p90, chance_late) values (:name, :date, :number,"
                        + " :horizon, :made, :by, :p10, :p50, :p90, :late)")
                .setParameter("name", promised.commitment().name())
                .setParameter("date", promised.date())
                .setParameter("number", promised.number())
                .setParameter("horizon", horizon)
                .setParameter("made", now)
                .setParameter("by", promised.by().orElse(null))
                .setParameter("p10", at(promise.earliestEnd()))
                .setParameter("p50", at(promise.end()))
                .setParameter("p90", at(promise.latestEnd()))
                .setParameter("late", promise.canSayLate() ? promise.chanceLate() : null)
                .executeUpdate());
  }

  private void end(Promised promised, long done) {
    transactions.executeWithoutResult(
        any -> {
          int fresh =
              rows.createNativeQuery(
                      "insert ignore into promise_end (commitment, business_date, number,"
                          + " promised, done) values (:name, :date, :number, :by, :done)")
                  .setParameter("name", promised.commitment().name())
                  .setParameter("date", promised.date())
                  .setParameter("number", promised.number())
                  .setParameter("by", promised.by().orElse(null))
                  .setParameter("done", at(done))
                  .executeUpdate();
          if (fresh > 0) {
            rows.persist(happening(promised, at(done)));
          }
        });
  }

  /** What programs are told of a promise that is over. */
  private static HappeningRow happening(Promised promised, Instant done) {
    Instant by = promised.by().orElse(null);
    boolean kept = done != null && (by == null || !done.isAfter(by));
    Map<String, Object> data = new LinkedHashMap<>();
    data.put("title", promised.commitment().title());
    data.put("date", promised.date().toString());
    data.put("promised", by == null ? "" : by.toString());
    data.put("done", done == null ? "" : done.toString());
    return HappeningRow.of(
        "commitments",
        done == null ? promised.begin() : done,
        done == null ? "over" : kept ? "kept" : "missed",
        promised.reference(),
        promised.commitment().department(),
        data);
  }

  private static Instant at(long millis) {
    return millis == 0 ? null : Instant.ofEpochMilli(millis);
  }

  /**
   * How well was foretold at one horizon. Shares are 0 to 1, NaN where there is nothing to count.
   *
   * @param late how many were late
   * @param warned how many of these had a chance of being late of at least what they warn at
   * @param cameToNothing how many that had were kept
   * @param minutesBefore of the alerts: how long before the promised time a late end was warned of,
   *     the middle one; NaN for all else
   */
  public record Measure(
      String horizon,
      int count,
      double within90,
      double within50,
      double minutesOff,
      int late,
      int warned,
      int cameToNothing,
      double minutesBefore) {}

  /** The measure of what people were told in truth, by alerts of kind will-be-late. */
  static final String ALERTS = "alerts";

  /** How well was foretold of promises from a date on, by horizon. */
  public List<Measure> measures(LocalDate from) {
    List<Measure> found = new ArrayList<>();
    for (String horizon : HORIZONS.keySet()) {
      List<?> all =
          transactions.execute(
              any ->
                  rows.createNativeQuery(
                          "select f.commitment,"
                              + " timestampdiff(microsecond, f.p50, e.done) / 60000000,"
                              + " e.done <= f.p90, e.done <= f.p50, f.chance_late,"
                              + " e.done > f.promised from foretold f join promise_end e on"
                              + " e.commitment = f.commitment and e.business_date = f.business_date"
                              + " and e.number = f.number where f.horizon = :horizon and"
                              + " f.business_date >= :from and e.done is not null")
                      .setParameter("horizon", horizon)
                      .setParameter("from", from)
                      .getResultList());
      found.add(measure(horizon, all));
    }
    found.add(alerts(from));
    return found;
  }

  /** What came of the warnings that people got. */
  private Measure alerts(LocalDate from) {
    Map<String, Instant> warned = new HashMap<>();
    List<?> ends =
        transactions.execute(
            any -> {
              for (Object[] row :
                  rows.createQuery(
                          "select a.reference, min(s.at) from AlertRow a join AlertStepRow s on"
                              + " s.alert = a.id where a.about = 'commitment' and s.kind ="
                              + " 'will-be-late' and s.what in ('opened', 'changed') and a.opened >="
                              + " :from group by a.reference",
                          Object[].class)
                      .setParameter(
                          "from", from.minusDays(1).atStartOfDay(ZoneOffset.UTC).toInstant())
                      .getResultList()) {
                warned.put((String) row[0], (Instant) row[1]);
              }
              return rows.createNativeQuery(
                      "select commitment, business_date, number, promised, done > promised from"
                          + " promise_end where business_date >= :from and promised is not null and"
                          + " done is not null")
                  .setParameter("from", from)
                  .getResultList();
            });
    List<Double> before = new ArrayList<>();
    int late = 0;
    int cameToNothing = 0;
    for (Object each : ends) {
      Object[] row = (Object[]) each;
      int number = ((Number) row[2]).intValue();
      Instant at = warned.get(row[0] + "@" + row[1] + (number == 1 ? "" : "#" + number));
      boolean isLate = isTrue(row[4]);
      late += isLate ? 1 : 0;
      cameToNothing += !isLate && at != null ? 1 : 0;
      if (isLate && at != null) {
        before.add(Duration.between(at, instant(row[3])).toMillis() / 60_000.0);
      }
    }
    before.sort(Double::compare);
    double middle = before.isEmpty() ? Double.NaN : before.get(before.size() / 2);
    return new Measure(
        ALERTS,
        ends.size(),
        Double.NaN,
        Double.NaN,
        Double.NaN,
        late,
        before.size(),
        cameToNothing,
        middle);
  }

  private static Instant instant(Object column) {
    return column instanceof java.sql.Timestamp stamp
        ? stamp.toInstant()
        : column instanceof java.time.LocalDateTime local
            ? local.toInstant(ZoneOffset.UTC)
            : (Instant) column;
  }

  private Measure measure(String horizon, List<?> all) {
    int ends = 0;
    int within90 = 0;
    int within50 = 0;
    double off = 0;
    int late = 0;
    int warned = 0;
    int cameToNothing = 0;
    for (Object each : all) {
      Object[] row = (Object[]) each;
      double warnAt =
          engine
              .definitions()
              .commitment((String) row[0])
              .map(commitment -> commitment.warnAt())
              .orElse(0.4);
      boolean isLate = isTrue(row[5]);
      boolean isWarned = row[4] != null && ((Number) row[4]).doubleValue() >= warnAt;
      if (row[1] != null) {
        ends++;
        off += Math.abs(((Number) row[1]).doubleValue());
        within90 += isTrue(row[2]) ? 1 : 0;
        within50 += isTrue(row[3]) ? 1 : 0;
      }
      late += isLate ? 1 : 0;
      warned += isLate && isWarned ? 1 : 0;
      cameToNothing += !isLate && isWarned ? 1 : 0;
    }
    return new Measure(
        horizon,
        all.size(),
        (double) within90 / ends,
        (double) within50 / ends,
        off / ends,
        late,
        warned,
        cameToNothing,
        Double.NaN);
  }

  private static boolean isTrue(Object column) {
    return column instanceof Boolean is ? is : column != null && ((Number) column).intValue() != 0;
  }
}
