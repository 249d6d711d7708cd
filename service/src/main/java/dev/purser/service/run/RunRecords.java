package dev.purser.service.run;

import dev.purser.core.plan.RunReference;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.problem.Shorten;
import dev.purser.core.run.RunState;
import jakarta.persistence.EntityManager;
import jakarta.persistence.TypedQuery;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.hibernate.SessionFactory;
import org.hibernate.StatelessSession;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Reads the records of runs. */
@Component
@Transactional(readOnly = true)
public class RunRecords {
  /** Runs of one job that a reference without a number may mean. */
  private static final int MOST_OF_A_DATE = 2_000;

  private static final int MOST_OF_THE_LAST_DATES = 200;

  private static final int MOST_NAMED = 6;
  private final EntityManager rows;

  RunRecords(EntityManager rows) {
    this.rows = rows;
  }

  /**
   * What to look for; an empty text or list and a null date mean any.
   *
   * @param from first business date
   * @param to last business date
   * @param stream its path, the end of its path, or a pattern with {@code *}
   * @param text part of a stream's or job's name or title; with {@code *} and {@code ?} a pattern
   */
  public record Filter(
      LocalDate from,
      LocalDate to,
      String stream,
      String job,
      List<String> states,
      String host,
      String department,
      String tag,
      String text) {
    /** All runs of a business date. */
    public static Filter of(LocalDate date) {
      return new Filter(date, date, "", "", List.of(), "", "", "", "");
    }
  }

  /** The run of an id. */
  public Optional<RunRow> byId(long id) {
    return Optional.ofNullable(rows.find(RunRow.class, id));
  }

  /** The runs of some ids that are there, by id. */
  public List<RunRow> byIds(List<Long> ids) {
    return ids.isEmpty()
        ? List.of()
        : rows.createQuery("from RunRow r where r.id in :ids order by r.id", RunRow.class)
            .setParameter("ids", ids)
            .getResultList();
  }

  /**
   * The run that a person means.
   *
   * @param which which of how many it is, and why that one; empty where nothing had to be chosen
   */
  public record Meant(RunRow run, String which) {}

  /**
   * The run that a person means: by its id, its whole reference, or any unambiguous tail of it.
   * Without a number it is one of its date, and without a date one of the last dates: the only one,
   * else the one that is open, else the last that is due.
   *
   * @throws NotUnderstood where the text is no reference, or means jobs of several streams
   */
  public Optional<Meant> byReference(String text) {
    if (text.matches("\\d{1,18}")) {
      return byId(Long.parseLong(text)).map(run -> new Meant(run, ""));
    }
    List<RunRow> found = called(text);
    List<RunRow> exact = found.stream().filter(run -> isCalled(text, run)).toList();
    List<RunRow> meant = exact.isEmpty() ? found : exact;
    if (meant.stream().map(run -> run.stream).distinct().count() > 1) {
      throw new NotUnderstood(
          "\""
              + text
              + "\" means several runs: "
              + Shorten.names(meant.stream().map(RunRow::reference).sorted().toList(), MOST_NAMED));
    }
    return choose(meant, text.indexOf('@') < 0 ? "the last dates" : "that date");
  }

  private static boolean isCalled(String text, RunRow run) {
    return (text + "@").startsWith(run.stream + "/" + run.job + "@");
  }

  /** What a reference or a tail of one may mean, of the last dates where it says none. */
  private List<RunRow> called(String text) {
    boolean dated = text.indexOf('@') >= 0;
    boolean jobOnly = text.indexOf('/') < 0;
    RunReference reference =
        (dated || !jobOnly
                ? RunReference.parse((jobOnly ? "any/" : "") + text + (dated ? "" : "@1970-01-01"))
                : Optional.<RunReference>empty())
            .orElseThrow(
                () ->
                    new NotUnderstood(
                        "\""
                            + text
                            + "\" is not a run; expected one such as"
                            + " passenger/night-manifest/file-manifest@2027-03-04#1"));
    StringBuilder query =
        new StringBuilder(
            "from RunRow r where r.job = :job and (r.stream = :stream or r.stream like :tail)");
    Map<String, Object> values = new HashMap<>();
    values.put("job", reference.job());
    values.put("stream", reference.stream());
    values.put("tail", jobOnly ? "%" : "%/" + reference.stream());
    if (dated) {
      query.append(" and r.businessDate = :date");
      values.put("date", reference.date());
    }
    if (text.indexOf('#') >= 0) {
      query.append(" and r.number = :number");
      values.put("number", reference.number());
    }
    TypedQuery<RunRow> typed =
        rows.createQuery(
            query.append(" order by r.businessDate desc, r.number desc").toString(), RunRow.class);
    values.forEach(typed::setParameter);
    return typed.setMaxResults(dated ? MOST_OF_A_DATE : MOST_OF_THE_LAST_DATES).getResultList();
  }

  /** Of several, the latest first, the one that is meant. */
  private static Optional<Meant> choose(List<RunRow> all, String of) {
    if (all.size() < 2) {
      return all.stream().findFirst().map(run -> new Meant(run, ""));
    }
    List<RunRow> due =
        all.stream().filter(run -> !run.state.equals(RunState.PLANNED.word())).toList();
    List<RunRow> open =
        due.stream().filter(run -> !RunState.of(run.state).orElseThrow().isEnded()).toList();
    RunRow chosen =
        open.size() == 1 ? open.get(0) : due.isEmpty() ? all.get(all.size() - 1) : due.get(0);
    String because =
        open.size() == 1
            ? "the only one that is open"
            : due.isEmpty() ? "the next" : "the last that is due";
    return Optional.of(
        new Meant(
            chosen,
            "of "
                + all.size()
                + " runs of "
                + of
                + " "
                + chosen.businessDate
                + "#"
                + chosen.number
                + " is meant, "
                + because));
  }

  /**
   * Runs in the order of business date, due time and id.
   *
   * @param cursor what the page before gave; empty for the first
   */
  public List<RunRow> list(Filter filter, String cursor, int limit) {
    return list(filter, cursor, limit, false);
  }

  /** The same, or the other way round. */
  public List<RunRow> list(Filter filter, String cursor, int limit, boolean newestFirst) {
    String after = newestFirst ? "<" : ">";
    String way = newestFirst ? " desc" : "";
    StringBuilder query = new StringBuilder("from RunRow r where 1 = 1");
    Map<String, Object> values = new HashMap<>();
    where(filter, query, values);
    if (!cursor.isEmpty()) {
      String[] parts = cursor.split(",", -1);
      query.append(
          " and (r.businessDate > :cd or (r.businessDate = :cd and (r.due > :cu or (r.due = :cu and"
                  .replace(">", after)
              + " r.id "
              + after
              + " :ci))))");
      try {
        values.put("cd", LocalDate.parse(parts[0]));
        values.put("cu", Instant.parse(parts[1]));
        values.put("ci", Long.parseLong(parts[2]));
      } catch (RuntimeException e) {
        throw new NotUnderstood("\"" + cursor + "\" is not a cursor of this list", e);
      }
    }
    query.append(" order by r.businessDate" + way + ", r.due" + way + ", r.id" + way);
    TypedQuery<RunRow> typed = rows.createQuery(query.toString(), RunRow.class);
    values.forEach(typed::setParameter);
    return typed.setMaxResults(limit).getResultList();
  }

  /** How many runs there are. */
  public long count(Filter filter) {
    StringBuilder query = new StringBuilder("select count(r) from RunRow r where 1 = 1");
    Map<String, Object> values = new HashMap<>();
    where(filter, query, values);
    TypedQuery<Long> typed = rows.createQuery(query.toString(), Long.class);
    values.forEach(typed::setParameter);
    return typed.getSingleResult();
  }

  /** The cursor after a run. */
  public static String cursorAfter(RunRow run) {
    return run.businessDate + "," + run.due + "," + run.id;
  }

  private static void where(Filter filter, StringBuilder query, Map<String, Object> values) {
    if (filter.from() != null) {
      query.append(" and r.businessDate >= :from");
      values.put("from", filter.from());
    }
    if (filter.to() != null) {
      query.append(" and r.businessDate <= :to");
      values.put("to", filter.to());
    }
    if (!filter.states().isEmpty()) {
      query.append(" and r.state in :states");
      values.put("states", filter.states());
    }
    if (!filter.tag().isEmpty()) {
      query.append(" and r.tags like :tag");
      values.put("tag", "%," + filter.tag() + ",%");
    }
    equal("department", filter.department(), query, values);
    equal("job", filter.job(), query, values);
    equal("host", filter.host(), query, values);
    if (!filter.stream().isEmpty()) {
      query.append(
          " and (r.stream = :stream or r.stream like :tail or r.stream like :below"
              + " or r.stream like :tailBelow)");
      String stream = pattern(filter.stream());
      values.put("stream", filter.stream());
      values.put("tail", filter.stream().contains("*") ? stream : "%/" + stream);
      values.put("below", stream + "/%");
      values.put("tailBelow", "%/" + stream + "/%");
    }
    if (!filter.text().isEmpty()) {
      query.append(
          " and (concat(r.stream, '/', r.job) like :text or lower(r.title) like :text"
              + " or lower(r.streamTitle) like :text)");
      values.put("text", "%" + pattern(filter.text().toLowerCase(Locale.ROOT)) + "%");
    }
  }

  /** A pattern of people as one of the database: its own signs mean themselves. */
  private static String pattern(String text) {
    return text.replace("\\", "\\\\")
        .replace("%", "\\%")
        .replace("_", "\\_")
        .replace('*', '%')
        .replace('?', '_');
  }

  private static void equal(
      String field, Object value, StringBuilder query, Map<String, Object> values) {
    if (value != null && !value.equals("")) {
      query.append(" and r.").append(field).append(" = :").append(field);
      values.put(field, value);
    }
  }

  /**
   * All runs that the board must know: open ones, and those of dates not before the given one. They
   * are many, and only read: so nothing keeps them or watches them for changes.
   */
  public List<RunRow> forBoard(LocalDate from) {
    SessionFactory sessions = rows.getEntityManagerFactory().unwrap(SessionFactory.class);
    try (StatelessSession session = sessions.openStatelessSession()) {
      return session
          .createSelectionQuery(
              "from RunRow r where r.businessDate >= :from or r.state not in"
                  + " ('succeeded','failed','cancelled','skipped') order by r.id",
              RunRow.class)
          .setParameter("from", from)
          .getResultList();
    }
  }

  /** All rows of a small table. */
  public <T> List<T> all(Class<T> type) {
    return rows.createQuery("from " + type.getSimpleName(), type).getResultList();
  }

  /**
   * Ended runs of a job: those of a date, or those that ended lately.
   *
   * @param date null for any
   */
  public List<RunRow> ended(String path, LocalDate date, Instant since) {
    int slash = path.lastIndexOf('/');
    TypedQuery<RunRow> query =
        rows.createQuery(
                "from RunRow r where r.stream = :stream and r.job = :job and r.ended >= :since"
                    + (date == null ? "" : " and r.businessDate = :date")
                    + " order by r.id",
                RunRow.class)
            .setParameter("stream", path.substring(0, Math.max(slash, 0)))
            .setParameter("job", path.substring(slash + 1))
            .setParameter("since", since);
    if (date != null) {
      query.setParameter("date", date);
    }
    return query.getResultList();
  }

  /** A stream's runs on record over a span of dates. */
  public List<RunRow> ofStream(String stream, LocalDate from, LocalDate to) {
    return rows.createQuery(
            "from RunRow r where (r.stream = :stream or r.stream like :below)"
                + " and r.businessDate between :from and :to",
            RunRow.class)
        .setParameter("stream", stream)
        .setParameter("below", stream + "/%")
        .setParameter("from", from)
        .setParameter("to", to)
        .getResultList();
  }

  /** The runs right below a step, or its parts, as they are on record. */
  public List<RunRow> below(RunRow step) {
    return rows.createQuery(
            "from RunRow r where r.stream = :stream and r.businessDate = :date"
                + " and r.number = :number order by r.id",
            RunRow.class)
        .setParameter("stream", step.stream + "/" + step.job)
        .setParameter("date", step.businessDate)
        .setParameter("number", step.number)
        .getResultList();
  }

  /** How long a start of a stream has taken lately, from due to the last end; 15 min if unknown. */
  public Duration usualSpan(String stream, Instant since) {
    Map<String, long[]> spans = new HashMap<>();
    for (Object[] row :
        rows.createQuery(
                "select r.businessDate, r.number, r.due, r.ended from RunRow r where r.stream ="
                    + " :stream and r.ended > :since and r.due > :since",
                Object[].class)
            .setParameter("stream", stream)
            .setParameter("since", since)
            .getResultList()) {
      long due = ((Instant) row[2]).toEpochMilli();
      long ended = ((Instant) row[3]).toEpochMilli();
      spans.merge(
          row[0] + "#" + row[1],
          new long[] {due, ended},
          (a, b) -> new long[] {Math.min(a[0], b[0]), Math.max(a[1], b[1])});
    }
    long[] sorted = spans.values().stream().mapToLong(span -> span[1] - span[0]).sorted().toArray();
    return sorted.length == 0
        ? Duration.ofMinutes(15)
        : Duration.ofMillis(Math.max(60_000, sorted[sorted.length / 2]));
  }

  /** Runs of a stream that are about windows, newest window first. */
  public List<RunRow> windows(String stream, int most) {
    return rows.createQuery(
            "from RunRow r where r.stream = :stream and r.windowStart is not null"
                + " order by r.windowStart desc, r.id",
            RunRow.class)
        .setParameter("stream", stream)
        .setMaxResults(most)
        .getResultList();
  }

  /** The highest id given so far; 0 for none. */
  public long lastId() {
    Long last = rows.createQuery("select max(r.id) from RunRow r", Long.class).getSingleResult();
    return last == null ? 0 : last;
  }

  /** Attempts of a run, first to last. */
  public List<AttemptRow> attempts(long run) {
    return rows.createQuery(
            "from AttemptRow a where a.run = :run order by a.number", AttemptRow.class)
        .setParameter("run", run)
        .getResultList();
  }

  /** What happened to a run, in order. */
  public List<MomentRow> moments(long run) {
    return rows.createQuery("from MomentRow m where m.run = :run order by m.id", MomentRow.class)
        .setParameter("run", run)
        .getResultList();
  }

  /** Earlier runs of the same job, newest first. */
  public List<RunRow> earlier(RunRow run, int limit) {
    return rows.createQuery(
            "from RunRow r where r.stream = :stream and r.job = :job and r.id <> :id"
                + " and r.state in ('succeeded','failed','cancelled') and r.due <= :due"
                + " order by r.ended desc",
            RunRow.class)
        .setParameter("stream", run.stream)
        .setParameter("job", run.job)
        .setParameter("id", run.id)
        .setParameter("due", run.due)
        .setMaxResults(limit)
        .getResultList();
  }

  /** Durations of successful runs in milliseconds by a job's full path, newest first. */
  public Map<String, List<Long>> durations(Instant since) {
    Map<String, List<Long>> found = new HashMap<>();
    List<Object[]> all =
        rows.createQuery(
                "select r.stream, r.job, r.started, r.ended from RunRow r where r.state ="
                    + " 'succeeded' and r.ended > :since and r.started is not null"
                    + " order by r.ended desc",
                Object[].class)
            .setParameter("since", since)
            .getResultList();
    for (Object[] row : all) {
      long millis = ((Instant) row[3]).toEpochMilli() - ((Instant) row[2]).toEpochMilli();
      found.computeIfAbsent(row[0] + "/" + row[1], path -> new ArrayList<>()).add(millis);
    }
    return found;
  }

  /** What each job handed back in its last success that handed back anything, by path and name. */
  public Map<String, Map<String, String>> lastValues(Instant since) {
    Map<String, Map<String, String>> found = new HashMap<>();
    for (Object[] row :
        rows.createQuery(
                "select r.stream, r.job, v.name, v.value from RunValueRow v join RunRow r on r.id ="
                    + " v.run where r.state = 'succeeded' and r.ended > :since order by r.ended",
                Object[].class)
            .setParameter("since", since)
            .getResultList()) {
      found
          .computeIfAbsent(row[0] + "/" + row[1], path -> new HashMap<>())
          .put((String) row[2], (String) row[3]);
    }
    return found;
  }

  /** The values of a name that earlier runs of a job handed back, newest first. */
  public List<Object[]> valueHistory(RunRow run, int limit) {
    return rows.createQuery(
            "select v.name, v.value, r.id, r.businessDate, r.number, r.ended from RunValueRow v join"
                + " RunRow r on r.id = v.run where r.stream = :stream and r.job = :job and r.due <="
                + " :due order by r.due desc",
            Object[].class)
        .setParameter("stream", run.stream)
        .setParameter("job", run.job)
        .setParameter("due", run.due)
        .setMaxResults(limit)
        .getResultList();
  }

  /** The references of runs, by id. */
  public Map<Long, String> references(List<Long> ids) {
    Map<Long, String> found = new HashMap<>();
    if (!ids.isEmpty()) {
      rows.createQuery("from RunRow r where r.id in :ids", RunRow.class)
          .setParameter("ids", ids)
          .getResultList()
          .forEach(row -> found.put(row.id, row.reference()));
    }
    return found;
  }

  /** The highest number of a stream's starts on a date; 0 for none. */
  public int lastNumber(String stream, LocalDate date) {
    Integer last =
        rows.createQuery(
                "select max(r.number) from RunRow r where r.stream = :stream"
                    + " and r.businessDate = :date",
                Integer.class)
            .setParameter("stream", stream)
            .setParameter("date", date)
            .getSingleResult();
    return last == null ? 0 : last;
  }
}
