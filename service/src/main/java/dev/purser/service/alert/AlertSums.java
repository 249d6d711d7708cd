package dev.purser.service.alert;

import dev.purser.service.Settings;
import jakarta.persistence.EntityManager;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** How many alerts there were, and what became of them: what to mend, and which rule to drop. */
@Component
@Transactional(readOnly = true)
public class AlertSums {
  private static final int MOST = 300_000;

  private final EntityManager rows;
  private final Settings settings;

  AlertSums(EntityManager rows, Settings settings) {
    this.rows = rows;
    this.settings = settings;
  }

  /**
   * What came of one rule for one kind and one stream.
   *
   * @param stream empty for what is about no run
   * @param takenOn somebody took it on
   * @param byPerson somebody closed it without taking it on
   * @param byItself its cause was gone before anybody took it on
   * @param ignored it is open for more than a day, and nobody has taken it on
   * @param parts how many of all were part of another
   */
  public record Sum(
      String kind,
      String rule,
      String stream,
      int count,
      int takenOn,
      int byPerson,
      int byItself,
      int ignored,
      int parts) {}

  /**
   * All of a time.
   *
   * @param days by date on the site's clock, then by kind; every date is there
   * @param sums those of which there were most first
   */
  public record Sums(Map<LocalDate, Map<String, Integer>> days, List<Sum> sums) {}

  private record Key(String kind, String rule, String stream) {}

  /**
   * Counts.
   *
   * @param now the end
   * @param days how many dates, today's included
   */
  public Sums of(Instant now, int days) {
    LocalDate today = now.atZone(settings.zone()).toLocalDate();
    LocalDate first = today.minusDays(days - 1L);
    Map<LocalDate, Map<String, Integer>> byDay = new TreeMap<>();
    first.datesUntil(today.plusDays(1)).forEach(date -> byDay.put(date, new TreeMap<>()));
    Map<Key, int[]> sums = new LinkedHashMap<>();
    for (Object[] row :
        rows.createQuery(
                "select a.opened, a.kind, a.rule, a.stream, a.acknowledged, a.closed, (select"
                    + " count(s) from AlertStepRow s where s.alert = a.id and s.what = 'closed' and"
                    + " s.who <> ''), coalesce(t.partOf, 0) from AlertRow a left join TellingRow t"
                    + " on t.alert = a.id where a.opened >= :from",
                Object[].class)
            .setParameter("from", first.atStartOfDay(settings.zone()).toInstant())
            .setMaxResults(MOST)
            .getResultList()) {
      Instant opened = (Instant) row[0];
      LocalDate date = opened.atZone(settings.zone()).toLocalDate();
      byDay.computeIfAbsent(date, any -> new TreeMap<>()).merge((String) row[1], 1, Integer::sum);
      int[] sum =
          sums.computeIfAbsent(
              new Key((String) row[1], (String) row[2], (String) row[3]), any -> new int[7]);
      sum[0]++;
      sum[whatBecame(row, opened, now)]++;
      sum[5] += ((Number) row[7]).longValue() == 0 ? 0 : 1;
    }
    List<Sum> all = new ArrayList<>();
    sums.forEach(
        (key, n) ->
            all.add(
                new Sum(key.kind(), key.rule(), key.stream(), n[0], n[1], n[2], n[3], n[4], n[5])));
    all.sort(Comparator.comparingInt(Sum::count).reversed());
    return new Sums(byDay, all);
  }

  /** Where it is counted: 1 taken on, 2 closed by a person, 3 by itself, 4 ignored, 6 young. */
  private static int whatBecame(Object[] row, Instant opened, Instant now) {
    if (row[4] != null) {
      return 1;
    }
    if (row[5] != null) {
      return ((Number) row[6]).longValue() > 0 ? 2 : 3;
    }
    return opened.isBefore(now.minusSeconds(86_400)) ? 4 : 6;
  }
}
