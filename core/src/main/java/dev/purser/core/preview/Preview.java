package dev.purser.core.preview;

import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.DayExplainer;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.DaySet;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Stream;
import dev.purser.core.plan.Planner;
import dev.purser.core.plan.StreamStart;
import dev.purser.core.schedule.Schedule;
import dev.purser.core.schedule.StartTimes;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;

/**
 * Holds the starts of two sets of definitions against each other over a span of dates. Only streams
 * that have changed, or look at a calendar or period that has, are looked at; and of those only the
 * dates that differ, unless their schedules do.
 */
public final class Preview {
  /** How far ahead a change is looked at where nothing else is asked for, in days. */
  public static final int DAYS_AHEAD = 400;

  private static final int NEAR_DAYS = 10;

  private final Definitions before;
  private final Definitions after;
  private final LocalDate from;
  private final LocalDate to;
  private final Set<String> changedCalendars = new HashSet<>();
  private final Map<String, String> reasons = new HashMap<>();

  private Preview(Definitions before, Definitions after, LocalDate from, int days) {
    this.before = before;
    this.after = after;
    this.from = from;
    this.to = from.plusDays(days - 1L);
  }

  /** What happens to a start. */
  public enum What {
    /** It is new. */
    GAINED,
    /** It is no more. */
    LOST,
    /** It is at another time, or on another date. */
    MOVED
  }

  /**
   * A start that changes.
   *
   * @param date its business date; where it moves, the one before the change
   * @param at when it happens; where it moves, before the change
   * @param toDate where it moves, its new business date; else the same
   * @param toAt where it moves, when it happens then; else the same
   * @param runs how many runs it has
   * @param reason why it changes
   * @param guess whether it lies after what the calendars are known to
   * @param shift what a clock change does to it, where it is gained or moves to
   */
  public record StartChange(
      What what,
      LocalDate date,
      Instant at,
      LocalDate toDate,
      Instant toAt,
      int runs,
      String reason,
      boolean guess,
      StartTimes.Shift shift) {}

  /** The changes of a stream, in order of their dates. */
  public record StreamChange(String stream, String title, List<StartChange> changes) {
    /** How many runs are of a kind of change. */
    public int runs(What what) {
      return changes.stream().filter(one -> one.what() == what).mapToInt(StartChange::runs).sum();
    }
  }

  /**
   * All that changes.
   *
   * @param streams those of which something changes, by path
   * @param looked how many streams had to be looked at
   */
  public record Result(List<StreamChange> streams, int looked, LocalDate from, LocalDate to) {
    /** How many runs are of a kind of change. */
    public int runs(What what) {
      return streams.stream().mapToInt(stream -> stream.runs(what)).sum();
    }
  }

  /**
   * Looks at a change.
   *
   * @param from the first business date
   * @param days how many dates, at least 1
   */
  public static Result of(Definitions before, Definitions after, LocalDate from, int days) {
    return new Preview(before, after, from, days).look();
  }

  private Result look() {
    findChangedCalendars();
    Set<String> paths = new TreeSet<>();
    before.streams().forEach(stream -> paths.add(stream.path()));
    after.streams().forEach(stream -> paths.add(stream.path()));
    List<StreamChange> changes = new ArrayList<>();
    int looked = 0;
    for (String path : paths) {
      Optional<Stream> old = before.stream(path);
      Optional<Stream> now = after.stream(path);
      if (isAffected(old, now)) {
        looked++;
        List<StartChange> found = compare(old, now);
        if (!found.isEmpty()) {
          changes.add(new StreamChange(path, now.or(() -> old).orElseThrow().title(), found));
        }
      }
    }
    return new Result(changes, looked, from, to);
  }

  // ---- what is affected

  private void findChangedCalendars() {
    for (Kind kind : List.of(Kind.HOLIDAY_CALENDAR, Kind.BUSINESS_CALENDAR, Kind.PERIOD)) {
      Set<String> names = new TreeSet<>(before.names(kind));
      names.addAll(after.names(kind));
      for (String name : names) {
        Optional<Object> old = before.document(kind, name).map(Document::value);
        Optional<Object> now = after.document(kind, name).map(Document::value);
        if (!old.equals(now)) {
          changedCalendars.add((kind == Kind.PERIOD ? "period " : "") + name);
        }
      }
    }
  }

  private boolean isAffected(Optional<Stream> old, Optional<Stream> now) {
    if (!old.equals(now)) {
      return true;
    }
    Stream stream = now.orElseThrow();
    if (stream.schedule().isEmpty() || changedCalendars.isEmpty()) {
      return false;
    }
    return looksAtChanged(stream, before) || looksAtChanged(stream, after);
  }

  private boolean looksAtChanged(Stream stream, Definitions definitions) {
    Calendars calendars = definitions.calendarsOf(stream);
    for (DayRule rule : stream.dayRules()) {
      for (String name : calendars.lookedAtBy(rule)) {
        if (changedCalendars.contains(name) || isAnyChanged(calendars.periodsOf(name))) {
          return true;
        }
      }
      if (isAnyChanged(rule.periods())) {
        return true;
      }
    }
    return false;
  }

  private boolean isAnyChanged(Collection<String> periods) {
    return periods.stream().anyMatch(name -> changedCalendars.contains("period " + name));
  }

  // ---- comparing

  /** A start, and how many runs it has. */
  private record Start(StreamStart start, int runs) {}

  private List<StartChange> compare(Optional<Stream> old, Optional<Stream> now) {
    boolean sameSchedule =
        old.isPresent()
            && now.isPresent()
            && old.get().schedule().equals(now.get().schedule())
            && old.get().jobs().equals(now.get().jobs())
            && !now.get().hasWindows()
            && now.get().jobs().stream()
                .allMatch(job -> job.days().isEmpty() && job.onlyOn().isEmpty());
    List<Start> was;
    List<Start> is;
    if (sameSchedule) {
      DaySet differing = differing(old.get(), now.get());
      was = startsOn(old.get(), before, differing);
      is = startsOn(now.get(), after, differing);
    } else {
      was = old.map(stream -> starts(stream, before, from, to)).orElse(List.of());
      is = now.map(stream -> starts(stream, after, from, to)).orElse(List.of());
    }
    DaySet wasDates = old.map(stream -> dates(stream, before)).orElse(DaySet.empty(from, to));
    DaySet isDates = now.map(stream -> dates(stream, after)).orElse(DaySet.empty(from, to));
    return pair(was, is, wasDates.without(wasDates.without(isDates)), old, now);
  }

  /**
   * The dates on which an entry of the schedule is picked before the change or after it, not both.
   */
  private DaySet differing(Stream old, Stream now) {
    List<DaySet> all = new ArrayList<>(List.of(DaySet.empty(from, to)));
    for (int i = 0; i < now.schedule().size(); i++) {
      DaySet was = StartTimes.dates(old.schedule().get(i), from, to, before.calendarsOf(old));
      DaySet is = StartTimes.dates(now.schedule().get(i), from, to, after.calendarsOf(now));
      all.add(was.without(is));
      all.add(is.without(was));
    }
    return DaySet.union(all);
  }

  private DaySet dates(Stream stream, Definitions definitions) {
    DaySet dates = DaySet.empty(from, to);
    List<DaySet> all = new ArrayList<>(List.of(dates));
    for (Schedule entry : stream.schedule()) {
      all.add(StartTimes.dates(entry, from, to, definitions.calendarsOf(stream)));
    }
    return DaySet.union(all);
  }

  private static List<Start> startsOn(Stream stream, Definitions definitions, DaySet dates) {
    List<Start> starts = new ArrayList<>();
    for (LocalDate date : dates.days()) {
      starts.addAll(starts(stream, definitions, date, date));
    }
    return starts;
  }

  private static List<Start> starts(
      Stream stream, Definitions definitions, LocalDate first, LocalDate last) {
    Planner planner = new Planner(definitions);
    List<Start> starts = new ArrayList<>();
    for (StreamStart start : planner.starts(stream, first, last)) {
      int runs = planner.runsOf(stream, start);
      if (runs > 0) {
        starts.add(new Start(start, runs));
      }
    }
    return starts;
  }

  private List<StartChange> pair(
      List<Start> was, List<Start> is, DaySet kept, Optional<Stream> old, Optional<Stream> now) {
    NavigableMap<LocalDate, List<Start>> lost = byDate(was);
    NavigableMap<LocalDate, List<Start>> gained = byDate(is);
    List<StartChange> changes = new ArrayList<>();
    for (LocalDate date : new TreeSet<>(lost.keySet())) {
      if (gained.containsKey(date)) {
        sameDate(lost.remove(date), gained.remove(date), old, now, changes);
      }
    }
    boolean alike =
        Math.abs(lost.size() - gained.size()) <= 1 + Math.max(lost.size(), gained.size()) / 10;
    if (alike) {
      nearDates(lost, gained, kept, old, now, changes);
    }
    lost.values().forEach(all -> all.forEach(one -> changes.add(alone(What.LOST, one, old, now))));
    gained
        .values()
        .forEach(all -> all.forEach(one -> changes.add(alone(What.GAINED, one, old, now))));
    changes.sort(java.util.Comparator.comparing(StartChange::date).thenComparing(StartChange::at));
    return changes;
  }

  private static NavigableMap<LocalDate, List<Start>> byDate(List<Start> starts) {
    NavigableMap<LocalDate, List<Start>> byDate = new TreeMap<>();
    for (Start one : starts) {
      byDate.computeIfAbsent(one.start().date(), date -> new ArrayList<>()).add(one);
    }
    return byDate;
  }

  /**
   * Starts of one date: those at the same instant stay, with more runs or fewer; the rest move, as
   * far as they pair.
   */
  private void sameDate(
      List<Start> was,
      List<Start> is,
      Optional<Stream> old,
      Optional<Stream> now,
      List<StartChange> changes) {
    List<Start> lost = new ArrayList<>(was);
    List<Start> gained = new ArrayList<>();
    for (Start one : is) {
      Optional<Start> same =
          lost.stream().filter(other -> other.start().at().equals(one.start().at())).findFirst();
      same.ifPresent(lost::remove);
      if (same.isEmpty()) {
        gained.add(one);
      } else if (one.runs() > same.get().runs()) {
        changes.add(
            alone(What.GAINED, new Start(one.start(), one.runs() - same.get().runs()), old, now));
      } else if (one.runs() < same.get().runs()) {
        changes.add(
            alone(What.LOST, new Start(one.start(), same.get().runs() - one.runs()), old, now));
      }
    }
    int pairs = Math.min(lost.size(), gained.size());
    for (int i = 0; i < pairs; i++) {
      changes.add(moved(lost.get(i), gained.get(i), old, now));
    }
    lost.stream().skip(pairs).forEach(one -> changes.add(alone(What.LOST, one, old, now)));
    gained.stream().skip(pairs).forEach(one -> changes.add(alone(What.GAINED, one, old, now)));
  }

  /**
   * A date that is lost and one that is gained near it, with equally many starts and no date
   * between them that is kept: a move.
   */
  private void nearDates(
      NavigableMap<LocalDate, List<Start>> lost,
      NavigableMap<LocalDate, List<Start>> gained,
      DaySet kept,
      Optional<Stream> old,
      Optional<Stream> now,
      List<StartChange> changes) {
    for (LocalDate date : new ArrayList<>(lost.keySet())) {
      LocalDate target = nearest(date, gained);
      boolean mutual =
          target != null
              && date.equals(nearest(target, lost))
              && !isKeptAsNear(date, target, kept)
              && gained.get(target).size() == lost.get(date).size();
      if (mutual) {
        List<Start> from = lost.remove(date);
        List<Start> into = gained.remove(target);
        for (int i = 0; i < from.size(); i++) {
          changes.add(moved(from.get(i), into.get(i), old, now));
        }
      }
    }
  }

  /** Whether a date that is kept lies as near to the first date as the second does. */
  private static boolean isKeptAsNear(LocalDate date, LocalDate other, DaySet kept) {
    long distance = Math.abs(other.toEpochDay() - date.toEpochDay());
    return kept.onOrAfter(date.minusDays(distance))
        .filter(day -> !day.isAfter(date.plusDays(distance)))
        .isPresent();
  }

  private static LocalDate nearest(
      LocalDate date, NavigableMap<LocalDate, List<Start>> candidates) {
    LocalDate below = candidates.floorKey(date);
    LocalDate above = candidates.ceilingKey(date);
    long down = below == null ? Long.MAX_VALUE : date.toEpochDay() - below.toEpochDay();
    long up = above == null ? Long.MAX_VALUE : above.toEpochDay() - date.toEpochDay();
    LocalDate nearer = down <= up ? below : above;
    return Math.min(down, up) <= NEAR_DAYS ? nearer : null;
  }

  // ---- changes and their reasons

  /** A start that comes or goes, and is nowhere else. */
  private StartChange alone(What what, Start one, Optional<Stream> old, Optional<Stream> now) {
    StreamStart start = one.start();
    return new StartChange(
        what,
        start.date(),
        start.at(),
        start.date(),
        start.at(),
        one.runs(),
        reason(start.date(), start.date(), false, old, now),
        start.guess(),
        start.start().shift());
  }

  private StartChange moved(Start from, Start into, Optional<Stream> old, Optional<Stream> now) {
    return new StartChange(
        What.MOVED,
        from.start().date(),
        from.start().at(),
        into.start().date(),
        into.start().at(),
        into.runs(),
        reason(from.start().date(), into.start().date(), true, old, now),
        into.start().guess(),
        into.start().start().shift());
  }

  private String reason(
      LocalDate date, LocalDate toDate, boolean moved, Optional<Stream> old, Optional<Stream> now) {
    if (old.isEmpty()) {
      return "the stream is new";
    }
    if (now.isEmpty()) {
      return "the stream is withdrawn";
    }
    if (!old.get().schedule().equals(now.get().schedule())) {
      return scheduleReason(old.get(), now.get(), moved && date.equals(toDate));
    }
    if (!old.get().calendar().equals(now.get().calendar())) {
      return "its calendar is "
          + or(now.get().calendar())
          + " now, not "
          + or(old.get().calendar());
    }
    if (!old.get().jobs().equals(now.get().jobs())) {
      return "its jobs have changed";
    }
    String key = now.get().schedule() + " " + now.get().calendar() + " " + date + " " + toDate;
    return reasons.computeIfAbsent(key, any -> calendarReason(date, toDate, now.get()));
  }

  private static String or(String calendar) {
    return calendar.isEmpty() ? "Monday to Friday" : calendar;
  }

  private static String scheduleReason(Stream old, Stream now, boolean timeOnly) {
    if (old.schedule().isEmpty() || now.schedule().isEmpty()) {
      return now.schedule().isEmpty() ? "it has no schedule any more" : "it has a schedule now";
    }
    if (old.schedule().size() != 1 || now.schedule().size() != 1) {
      return "its schedule has changed";
    }
    Schedule was = old.schedule().get(0);
    Schedule is = now.schedule().get(0);
    if (!timeOnly && !was.days().equals(is.days())) {
      return "its days are \"" + is.days() + "\" now, not \"" + was.days() + "\"";
    }
    if (!was.times().equals(is.times())) {
      return "it starts at " + is.times() + " now, not " + was.times();
    }
    if (!was.zone().equals(is.zone())) {
      return "its zone is " + is.zone() + " now, not " + was.zone();
    }
    return "its schedule has changed";
  }

  /** What the calendars say of the date now and said before, where that differs. */
  private String calendarReason(LocalDate date, LocalDate toDate, Stream stream) {
    DayRule days =
        stream.schedule().stream()
            .map(Schedule::days)
            .filter(
                rule -> isPicked(rule, date, stream, before) != isPicked(rule, date, stream, after))
            .findFirst()
            .orElse(stream.schedule().get(0).days());
    DayExplainer.Reason was = DayExplainer.explain(days, date, before.calendarsOf(stream));
    DayExplainer.Reason is = DayExplainer.explain(days, date, after.calendarsOf(stream));
    String before = DayExplainer.inOneLine(was);
    String after = DayExplainer.inOneLine(is);
    if (!date.equals(toDate)) {
      return day(date, stream);
    }
    return is.picked() ? after + "; before, " + before : after;
  }

  private static boolean isPicked(
      DayRule rule, LocalDate date, Stream stream, Definitions definitions) {
    return rule.pick(date, date, definitions.calendarsOf(stream)).contains(date);
  }

  /** What has happened to a date itself: why it is closed now, or why it was. */
  private String day(LocalDate date, Stream stream) {
    DayRule worked = new DayRule.OfCalendar(false, "");
    DayExplainer.Reason is = DayExplainer.explain(worked, date, after.calendarsOf(stream));
    DayExplainer.Reason was = DayExplainer.explain(worked, date, before.calendarsOf(stream));
    String now = date + ": " + DayExplainer.inOneLine(is);
    return is.equals(was) ? "the calendar has changed nearby" : now;
  }
}
