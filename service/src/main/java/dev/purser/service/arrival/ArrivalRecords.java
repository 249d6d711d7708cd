package dev.purser.service.arrival;

import dev.purser.core.arrival.Arrival;
import dev.purser.core.arrival.ArrivalState;
import dev.purser.core.problem.Shorten;
import dev.purser.service.board.Turn;
import dev.purser.service.event.HappeningRow;
import dev.purser.service.people.Secrets;
import jakarta.persistence.EntityManager;
import jakarta.persistence.TypedQuery;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The records of arrivals: how they are written in a turn, and read. */
@Component
@Transactional(readOnly = true)
public class ArrivalRecords {
  private static final int LONGEST_NOTE = 1_200;
  private static final String PUT =
      "insert into arrival (id, identity, watch, place, path, business_date, size, modified,"
          + " file_key, checksum, found, ready, state, since, run, repeats, note)"
          + " values (?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?,?) on duplicate key update"
          + " identity=values(identity), business_date=values(business_date), size=values(size),"
          + " modified=values(modified), file_key=values(file_key), checksum=values(checksum),"
          + " ready=values(ready), state=values(state), since=values(since), run=values(run),"
          + " repeats=values(repeats), note=values(note)";

  /** The states that programs are told of. */
  private static final Set<String> TOLD =
      Set.of("ready", "used", "rejected", "unprocessed", "ignored");

  private final EntityManager rows;

  ArrivalRecords(EntityManager rows) {
    this.rows = rows;
  }

  // ---- writing

  static void put(Turn turn, Arrival one) {
    turn.write(
        PUT,
        one.id(),
        identity(one),
        one.watch(),
        one.place(),
        one.path(),
        one.date().map(LocalDate::toString).orElse(null),
        one.size(),
        Instant.ofEpochMilli(one.modified()),
        one.key(),
        one.checksum(),
        Instant.ofEpochMilli(one.found()),
        one.ready() == 0 ? null : Instant.ofEpochMilli(one.ready()),
        one.state().word(),
        Instant.ofEpochMilli(one.since()),
        one.run(),
        one.repeats(),
        cut(one.note()));
    if (TOLD.contains(one.state().word())) {
      Map<String, Object> data = new LinkedHashMap<>();
      data.put("arrival", one.id());
      data.put("watch", one.watch());
      data.put("place", one.place());
      data.put("path", one.path());
      data.put("date", one.date().map(LocalDate::toString).orElse(""));
      data.put("size", one.size());
      data.put("run", one.run());
      data.put("note", cut(one.note()));
      turn.write(
          HappeningRow.INSERT,
          HappeningRow.of(
                  "files",
                  Instant.ofEpochMilli(turn.now()),
                  one.state().word(),
                  one.path(),
                  "",
                  data)
              .values());
    }
  }

  static String cut(String note) {
    return Shorten.text(note, LONGEST_NOTE);
  }

  /** What stands for a file, wherever it is: the same for the same file only. */
  static String identity(String place, String path, long size, long modified, String key) {
    String plain = place + "\n" + path + "\n" + size + "\n" + modified;
    return Secrets.hash(key.isEmpty() ? plain : plain + "\n" + key);
  }

  static String identity(Arrival one) {
    return identity(one.place(), one.path(), one.size(), one.modified(), one.key());
  }

  // ---- reading

  /** What is not over. */
  List<Arrival> open() {
    return arrivals(
        rows.createQuery(
                "from ArrivalRow a where a.state in ('seen','settling','ready','taken',"
                    + "'unprocessed') order by a.id",
                ArrivalRow.class)
            .getResultList());
  }

  /** What was given to runs last, newest first. */
  List<Arrival> lastUsed(Instant since) {
    return arrivals(
        rows.createQuery(
                "from ArrivalRow a where a.state = 'used' and a.since > :since order by a.id desc",
                ArrivalRow.class)
            .setParameter("since", since)
            .setMaxResults(1_000)
            .getResultList());
  }

  long lastId() {
    Long last =
        rows.createQuery("select max(a.id) from ArrivalRow a", Long.class).getSingleResult();
    return last == null ? 0 : last;
  }

  /** The arrivals of some files, by identity. */
  Map<String, List<Arrival>> byIdentity(Collection<String> identities) {
    Map<String, List<Arrival>> found = new HashMap<>();
    if (!identities.isEmpty()) {
      for (ArrivalRow row :
          rows.createQuery("from ArrivalRow a where a.identity in :all", ArrivalRow.class)
              .setParameter("all", identities)
              .getResultList()) {
        found.computeIfAbsent(row.identity, any -> new ArrayList<>()).add(row.arrival());
      }
    }
    return found;
  }

  /** The arrivals of a watch with some contents, oldest first. */
  List<Arrival> byContent(String watch, Collection<String> checksums) {
    return checksums.isEmpty()
        ? List.of()
        : arrivals(
            rows.createQuery(
                    "from ArrivalRow a where a.watch = :watch and a.checksum in :all and a.state"
                        + " <> 'ignored' order by a.id",
                    ArrivalRow.class)
                .setParameter("watch", watch)
                .setParameter("all", checksums)
                .getResultList());
  }

  private static List<Arrival> arrivals(List<ArrivalRow> found) {
    return found.stream().map(ArrivalRow::arrival).toList();
  }

  /** Since when there are watches, by name. */
  Map<String, Instant> begun() {
    Map<String, Instant> all = new HashMap<>();
    rows.createQuery("from FileWatchBegunRow", FileWatchBegunRow.class)
        .getResultList()
        .forEach(row -> all.put(row.watch, row.since));
    return all;
  }

  /** Used files of a place that wait to be moved or removed. */
  List<ArrivalRow> toTidy(String place) {
    return rows.createQuery(
            "from ArrivalRow a where a.tidy = 'pending' and a.place = :place order by a.id",
            ArrivalRow.class)
        .setParameter("place", place)
        .setMaxResults(5_000)
        .getResultList();
  }

  /**
   * What is asked of the records.
   *
   * @param watch empty for all
   * @param states empty for all
   * @param date of the files; empty for all
   * @param place empty for all
   * @param text part of the path; empty for all
   * @param run that has them; 0 for all
   * @param before only those with a lower number; 0 for the newest
   * @param changedSince only those that came into their state after this
   */
  public record Filter(
      String watch,
      List<String> states,
      Optional<LocalDate> date,
      String place,
      String text,
      long run,
      long before,
      Optional<Instant> changedSince) {
    /** All of a watch. */
    public static Filter ofWatch(String watch) {
      return new Filter(watch, List.of(), Optional.empty(), "", "", 0, 0, Optional.empty());
    }

    /** The same, of paths with some text in them. */
    public Filter with(String part) {
      return new Filter(watch, states, date, place, part, run, before, changedSince);
    }
  }

  /**
   * Arrivals, newest first.
   *
   * @param most rows at most
   */
  public List<ArrivalRow> list(Filter filter, int most) {
    return filtered("select a ", filter, ArrivalRow.class, " order by a.id desc")
        .setMaxResults(most)
        .getResultList();
  }

  /** How many there are, whatever the page. */
  public long count(Filter filter) {
    Filter all =
        new Filter(
            filter.watch(),
            filter.states(),
            filter.date(),
            filter.place(),
            filter.text(),
            filter.run(),
            0,
            filter.changedSince());
    return filtered("select count(a) ", all, Long.class, "").getSingleResult();
  }

  private <T> TypedQuery<T> filtered(String select, Filter filter, Class<T> type, String order) {
    Map<String, Object> values = new HashMap<>();
    List<String> where = new ArrayList<>();
    if (!filter.watch().isEmpty()) {
      where.add("a.watch = :watch");
      values.put("watch", filter.watch());
    }
    if (!filter.states().isEmpty()) {
      where.add("a.state in :states");
      values.put("states", filter.states());
    }
    if (filter.date().isPresent()) {
      where.add("a.businessDate = :date");
      values.put("date", filter.date().get());
    }
    if (!filter.place().isEmpty()) {
      where.add("a.place = :place");
      values.put("place", filter.place());
    }
    if (!filter.text().isEmpty()) {
      where.add("lower(a.path) like :text escape '!'");
      String text = filter.text().toLowerCase(java.util.Locale.ROOT);
      values.put("text", "%" + text.replaceAll("([!%_])", "!$1") + "%");
    }
    if (filter.run() != 0) {
      where.add("a.run = :run");
      values.put("run", filter.run());
    }
    if (filter.changedSince().isPresent()) {
      where.add("a.since > :changed");
      values.put("changed", filter.changedSince().get());
    }
    if (filter.before() != 0) {
      where.add("a.id < :before");
      values.put("before", filter.before());
    }
    String condition = where.isEmpty() ? "" : " where " + String.join(" and ", where);
    TypedQuery<T> query = rows.createQuery(select + "from ArrivalRow a" + condition + order, type);
    values.forEach(query::setParameter);
    return query;
  }

  /** The arrival of a number. */
  public Optional<ArrivalRow> byId(long id) {
    return Optional.ofNullable(rows.find(ArrivalRow.class, id));
  }

  /** Some arrivals by number. */
  public List<ArrivalRow> byIds(Collection<Long> ids) {
    return ids.isEmpty()
        ? List.of()
        : rows.createQuery("from ArrivalRow a where a.id in :ids order by a.id", ArrivalRow.class)
            .setParameter("ids", ids)
            .getResultList();
  }

  /**
   * When the first file of each business date was whole.
   *
   * @param date of the file, or on which it came
   */
  public record First(String watch, LocalDate date, Instant ready) {}

  /** The first arrivals of business dates since a time, newest date first. */
  public List<First> firsts(Instant since) {
    return rows
        .createQuery(
            "select a.watch, a.businessDate, min(a.ready) from ArrivalRow a where a.found > :since"
                + " and a.ready is not null and a.businessDate is not null"
                + " and a.state in ('ready','taken','used','unprocessed')"
                + " group by a.watch, a.businessDate order by a.businessDate desc",
            Object[].class)
        .setParameter("since", since)
        .getResultList()
        .stream()
        .map(row -> new First((String) row[0], (LocalDate) row[1], (Instant) row[2]))
        .toList();
  }

  /**
   * When the files of a business date were whole.
   *
   * @param dated whether paths name the date; else those count, too, that nobody has taken yet and
   *     that came between two times
   */
  List<Instant> readyOn(String watch, LocalDate date, boolean dated, Instant from, Instant to) {
    return rows.createQuery(
            "select a.ready from ArrivalRow a where a.watch = :watch and a.ready is not null"
                + " and a.state in ('ready','taken','used','unprocessed') and (a.businessDate ="
                + " :date or (:dated = false and a.businessDate is null and a.ready >= :from and"
                + " a.ready < :to))",
            Instant.class)
        .setParameter("watch", watch)
        .setParameter("date", date)
        .setParameter("dated", dated)
        .setParameter("from", from)
        .setParameter("to", to)
        .getResultList();
  }

  /** How many arrivals of each watch are in each state, of those found since a time. */
  public Map<String, Map<ArrivalState, Long>> counts(Instant since) {
    Map<String, Map<ArrivalState, Long>> counts = new HashMap<>();
    for (Object[] row :
        rows.createQuery(
                "select a.watch, a.state, count(a) from ArrivalRow a where a.found > :since or"
                    + " a.state in ('seen','settling','ready','taken','unprocessed')"
                    + " group by a.watch, a.state",
                Object[].class)
            .setParameter("since", since)
            .getResultList()) {
      counts
          .computeIfAbsent((String) row[0], any -> new HashMap<>())
          .put(ArrivalState.of((String) row[1]).orElseThrow(), (Long) row[2]);
    }
    return counts;
  }
}
