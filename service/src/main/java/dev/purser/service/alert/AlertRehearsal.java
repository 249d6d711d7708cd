package dev.purser.service.alert;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.AlertLevel;
import dev.purser.core.alert.AlertRule;
import dev.purser.core.alerting.PastJudge;
import dev.purser.core.definition.AlertRules;
import dev.purser.core.definition.Commitment;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Stream;
import dev.purser.service.Settings;
import jakarta.persistence.EntityManager;
import java.sql.Timestamp;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** How often rules would have made alerts, from the records of runs and alerts. */
@Component
@Transactional(readOnly = true)
public class AlertRehearsal {
  private static final int MOST_RUNS = 1_000_000;
  private static final int EXAMPLES = 20;
  private static final int NIGHT_FROM = 22;
  private static final int NIGHT_TO = 6;

  /** Runs of so many days more are read, so that it is known how long jobs usually took. */
  private static final int BEFORE = 30;

  private final EntityManager rows;
  private final Settings settings;
  private final Clock clock;

  AlertRehearsal(EntityManager rows, Settings settings, Clock clock) {
    this.rows = rows;
    this.settings = settings;
    this.clock = clock;
  }

  /**
   * What a rule would have made.
   *
   * @param origin where it stands
   * @param condition what it asks for
   * @param count how many
   * @param before how many there would have been by the rules that hold now, of the same kind and
   *     for the same jobs
   * @param atNight how many of them between 22:00 and 06:00 on the site's clock
   * @param mostOnDay how many on the date with the most
   * @param tell who would have been told
   * @param answered whether the records can say it; else nothing is counted
   * @param examples the last ones
   */
  public record Rehearsed(
      String kind,
      String origin,
      String condition,
      boolean none,
      String urgency,
      int count,
      int before,
      int atNight,
      int mostOnDay,
      Set<String> tell,
      boolean answered,
      List<Example> examples) {}

  /** An alert that would have come. */
  public record Example(String reference, Instant at, String text) {}

  /**
   * A rehearsal.
   *
   * @param runs how many past runs there were
   * @param notes what the records cannot say
   */
  public record Outcome(
      Instant from, Instant to, int runs, List<Rehearsed> rules, List<String> notes) {}

  private record Key(AlertKind kind, String origin, String condition) {}

  private static final class Tally {
    private final AlertRule rule;
    private final List<Example> all = new ArrayList<>();
    private final Set<String> tell = new LinkedHashSet<>();
    private final Map<LocalDate, Integer> byDay = new HashMap<>();
    private int before;
    private int atNight;

    Tally(AlertRule rule) {
      this.rule = rule;
    }
  }

  /**
   * Rehearses the rules that stand in some definitions.
   *
   * @param now the definitions as they are
   * @param then as they would be
   * @param documents those whose rules are rehearsed
   * @param days how far back, today included
   */
  public Outcome of(Definitions now, Definitions then, List<Document> documents, int days) {
    Instant to = clock.instant();
    Instant from =
        to.atZone(settings.zone())
            .toLocalDate()
            .minusDays(days - 1L)
            .atStartOfDay(settings.zone())
            .toInstant();
    Map<Key, Tally> tallies = tallies(documents);
    List<String> notes = new ArrayList<>();
    if (tallies.isEmpty()) {
      notes.add("no rule of alerts stands in these files");
      return new Outcome(from, to, 0, List.of(), notes);
    }
    int runs = judgeRuns(now, then, tallies, from, to, notes);
    readAlerts(now, then, tallies, from, to, notes);
    List<Rehearsed> all = new ArrayList<>();
    tallies.forEach((key, tally) -> all.add(rehearsed(key, tally)));
    return new Outcome(from, to, runs, all, notes);
  }

  private static Rehearsed rehearsed(Key key, Tally tally) {
    int size = tally.all.size();
    List<Example> last = new ArrayList<>(tally.all);
    last.sort(Comparator.comparing(Example::at).reversed());
    return new Rehearsed(
        key.kind().word(),
        key.origin(),
        key.condition(),
        tally.rule.none(),
        tally.rule.isUrgent().word(),
        size,
        tally.before,
        tally.atNight,
        tally.byDay.values().stream().max(Integer::compare).orElse(0),
        tally.tell,
        PastJudge.answersFor(key.kind()) || !tally.rule.none(),
        List.copyOf(last.subList(0, Math.min(EXAMPLES, size))));
  }

  private static Map<Key, Tally> tallies(List<Document> documents) {
    Map<Key, Tally> all = new LinkedHashMap<>();
    for (Document document : documents) {
      if (document.value() instanceof AlertLevel level) {
        level.rules().forEach(rule -> put(all, document.name(), rule));
      } else if (document.value() instanceof Commitment commitment) {
        commitment.alerts().forEach(rule -> put(all, "commitment " + commitment.name(), rule));
      } else if (document.value() instanceof Stream stream) {
        stream.alerts().forEach(rule -> put(all, "stream " + stream.path(), rule));
        stream
            .jobs()
            .forEach(
                job -> job.alerts().forEach(rule -> put(all, "job " + stream.pathOf(job), rule)));
      }
    }
    return all;
  }

  private static void put(Map<Key, Tally> all, String origin, AlertRule rule) {
    all.put(new Key(rule.kind(), origin, rule.condition()), new Tally(rule));
  }

  private static Key key(PastJudge.Would would) {
    return new Key(would.kind(), would.origin(), would.rule().condition());
  }

  // ---- from the records of runs

  private int judgeRuns(
      Definitions now,
      Definitions then,
      Map<Key, Tally> tallies,
      Instant from,
      Instant to,
      List<String> notes) {
    PastJudge is = new PastJudge(now.alertRules());
    PastJudge would = new PastJudge(then.alertRules());
    boolean wantsValues = tallies.keySet().stream().anyMatch(key -> key.kind() == AlertKind.VALUE);
    List<PastJudge.Past> past = past(from.minusSeconds(BEFORE * 86_400L), to, wantsValues);
    int runs = 0;
    int without = 0;
    for (PastJudge.Past one : past) {
      List<PastJudge.Would> before = is.of(one);
      List<PastJudge.Would> found = would.of(one);
      if (one.ended() < from.toEpochMilli()) {
        continue;
      }
      runs++;
      without += one.values().isEmpty() ? 1 : 0;
      for (PastJudge.Would alert : found) {
        Tally tally = tallies.get(key(alert));
        if (tally != null) {
          count(
              tally,
              new Example(alert.reference(), Instant.ofEpochMilli(alert.at()), alert.text()),
              names(alert.rule(), alert.path(), then));
        }
      }
      for (PastJudge.Would alert : before) {
        var effective = then.alertRules().ofJob(alert.path()).get(alert.kind());
        effective.rules().stream()
            .map(rule -> tallies.get(new Key(alert.kind(), effective.origin(), rule.condition())))
            .filter(tally -> tally != null)
            .findFirst()
            .ifPresent(tally -> tally.before++);
      }
    }
    if (wantsValues && without > 0) {
      notes.add(
          "of "
              + without
              + " of "
              + runs
              + " runs it is not on record what they handed back: they count for no value");
    }
    return runs;
  }

  private void count(Tally tally, Example example, Set<String> names) {
    tally.all.add(example);
    tally.tell.addAll(names);
    var local = example.at().atZone(settings.zone());
    tally.byDay.merge(local.toLocalDate(), 1, Integer::sum);
    tally.atNight += local.getHour() >= NIGHT_FROM || local.getHour() < NIGHT_TO ? 1 : 0;
  }

  private static Set<String> names(AlertRule rule, String path, Definitions then) {
    if (!rule.tell().isEmpty()) {
      return new LinkedHashSet<>(rule.tell());
    }
    Set<String> names = new LinkedHashSet<>();
    then.streamAt(Definitions.streamOf(path))
        .ifPresent(
            stream -> {
              names.add(stream.owner());
              names.addAll(stream.alertsTo());
            });
    names.removeIf(name -> !then.isAddressee(name));
    return names;
  }

  private List<PastJudge.Past> past(Instant from, Instant to, boolean wantsValues) {
    Map<Long, Map<String, String>> values = wantsValues ? values(from) : Map.of();
    List<PastJudge.Past> all = new ArrayList<>();
    for (Object[] row :
        rows.createQuery(
                "select r.id, r.stream, r.job, r.businessDate, r.number, r.started, r.ended,"
                    + " r.state, r.attempts from RunRow r where r.ended >= :from and r.ended <= :to"
                    + " order by r.ended",
                Object[].class)
            .setParameter("from", from)
            .setParameter("to", to)
            .setMaxResults(MOST_RUNS)
            .getResultList()) {
      String path = row[1] + "/" + row[2];
      all.add(
          new PastJudge.Past(
              path,
              path + "@" + row[3] + "#" + row[4],
              millis((Instant) row[5]),
              millis((Instant) row[6]),
              (String) row[7],
              (Integer) row[8],
              Optional.of(values.getOrDefault((Long) row[0], Map.of()))));
    }
    for (Object[] row : forgotten(from, to)) {
      String path = row[0] + "/" + row[1];
      all.add(
          new PastJudge.Past(
              path,
              path + "@" + row[2] + "#" + row[3],
              millis(utc(row[4])),
              millis(utc(row[5])),
              (String) row[6],
              ((Number) row[7]).intValue(),
              Optional.empty()));
    }
    all.sort(Comparator.comparingLong(PastJudge.Past::ended));
    return all;
  }

  @SuppressWarnings("unchecked")
  private List<Object[]> forgotten(Instant from, Instant to) {
    return rows.createNativeQuery(
            "select stream, job, business_date, number, started, ended, outcome, attempts from"
                + " past_run where ended >= :from and ended <= :to and started is not null order by"
                + " ended",
            Object[].class)
        .setParameter("from", from)
        .setParameter("to", to)
        .setMaxResults(MOST_RUNS)
        .getResultList();
  }

  private Map<Long, Map<String, String>> values(Instant from) {
    Map<Long, Map<String, String>> all = new HashMap<>();
    for (Object row :
        rows.createNativeQuery(
                "select v.run, v.name, v.value from run_value v join run r on r.id = v.run where"
                    + " r.ended >= :from",
                Object[].class)
            .setParameter("from", from)
            .getResultList()) {
      Object[] one = (Object[]) row;
      all.computeIfAbsent(((Number) one[0]).longValue(), any -> new HashMap<>())
          .put((String) one[1], (String) one[2]);
    }
    return all;
  }

  private static Instant utc(Object time) {
    return time instanceof Instant instant
        ? instant
        : time instanceof Timestamp stamp
            ? stamp.toLocalDateTime().toInstant(ZoneOffset.UTC)
            : ((java.time.LocalDateTime) time).toInstant(ZoneOffset.UTC);
  }

  private static long millis(Instant at) {
    return at == null ? 0 : at.toEpochMilli();
  }

  // ---- from the record of alerts

  /** What comes of more than runs is known from the alerts that there were. */
  private void readAlerts(
      Definitions now,
      Definitions then,
      Map<Key, Tally> tallies,
      Instant from,
      Instant to,
      List<String> notes) {
    List<AlertKind> kinds =
        tallies.keySet().stream()
            .map(Key::kind)
            .filter(kind -> !PastJudge.answersFor(kind))
            .distinct()
            .toList();
    if (kinds.isEmpty()) {
      return;
    }
    for (AlertRow alert :
        rows.createQuery(
                "from AlertRow a where a.kind in :kinds and a.opened >= :from and a.opened <= :to"
                    + " order by a.id",
                AlertRow.class)
            .setParameter("kinds", kinds.stream().map(AlertKind::word).toList())
            .setParameter("from", from)
            .setParameter("to", to)
            .setMaxResults(MOST_RUNS)
            .getResultList()) {
      AlertKind kind = AlertKind.of(alert.kind).orElseThrow();
      AlertRules.Effective effective = effective(then, alert).get(kind);
      Tally tally = tallies.get(new Key(kind, effective.origin(), effective.rule().condition()));
      if (tally != null) {
        tally.before += effective(now, alert).get(kind).isOff() ? 0 : 1;
        if (!tally.rule.none()) {
          count(
              tally,
              new Example(alert.reference, alert.opened, alert.text),
              new LinkedHashSet<>(tally.rule.tell()));
        }
      }
    }
    notes.add(
        String.join(", ", kinds.stream().map(AlertKind::word).toList())
            + ": counted from the alerts on record; where a rule had switched them off, or a"
            + " deadline was another, that is not known");
  }

  private static Map<AlertKind, AlertRules.Effective> effective(
      Definitions definitions, AlertRow alert) {
    AlertRules rules = definitions.alertRules();
    if (alert.run != 0) {
      return rules.ofJob(alert.reference.replaceFirst("@.*", ""));
    }
    return definitions
        .commitment(alert.reference.replaceFirst("@.*", ""))
        .map(rules::of)
        .orElseGet(rules::ofSite);
  }
}
