package dev.purser.core.check;

import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.DaySet;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Stream;
import dev.purser.core.definition.Waits;
import dev.purser.core.job.Job;
import dev.purser.core.job.OfStream;
import dev.purser.core.prerequisite.Prerequisite;
import dev.purser.core.problem.Problem;
import dev.purser.core.schedule.Schedule;
import dev.purser.core.schedule.StartTimes;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;

/** Warns of prerequisites that cannot be met on some dates, or ever. */
final class UnmetCheck {
  private static final int DAYS_AHEAD = 400;
  private static final int DAYS_BACK = 40;

  private final Definitions all;
  private final LocalDate today;
  private final Map<String, DaySet> dates = new HashMap<>();

  /** Many streams have one rule: it is worked out once. */
  private final Map<Rule, DaySet> picked = new HashMap<>();

  /** What decides on which dates a job is planned. */
  private record Rule(
      String calendar,
      DayRule days,
      Optional<LocalDate> from,
      Optional<LocalDate> to,
      Optional<DayRule> own) {}

  UnmetCheck(Definitions all, LocalDate today) {
    this.all = all;
    this.today = today;
  }

  List<Problem> of(Document document, Stream stream) {
    List<Problem> problems = new ArrayList<>();
    for (Job job : stream.jobs()) {
      Set<String> said = new TreeSet<>();
      for (Prerequisite asks : job.asks()) {
        for (Prerequisite.Target target : asks.targets()) {
          if (!target.ifPlanned()) {
            for (String path : Waits.jobsOf(all, stream.path(), target)) {
              unmet(stream, job, target, path)
                  .filter(said::add)
                  .ifPresent(message -> problems.add(document.warning(job, message)));
            }
          }
        }
      }
    }
    return problems;
  }

  private Optional<String> unmet(Stream stream, Job job, Prerequisite.Target target, String path) {
    String other = path.substring(0, path.lastIndexOf('/'));
    Optional<Stream> top = all.topOf(path.substring(0, path.lastIndexOf('/')));
    Job asked = all.job(path).orElseThrow();
    if (top.isEmpty()
        || (other.equals(stream.path()) && target.isSameDate() && asked.days().isEmpty())) {
      return Optional.empty();
    }
    String name = other.equals(stream.path()) || asked.days().isPresent() ? path : other;
    if (top.get().schedule().isEmpty()) {
      boolean isStep = all.streams().stream().anyMatch(one -> runs(one, top.get().path()));
      String instead = isStep ? "; it runs as a step only: name it by the step's path" : "";
      return stream.schedule().isEmpty()
          ? Optional.empty()
          : Optional.of(
              stream.pathOf(job)
                  + " waits for "
                  + name
                  + ", but nothing leads to it: "
                  + top.get().path()
                  + " has no schedule, so it would wait until a person starts that"
                  + instead);
    }
    if (target.within().isPresent()) {
      return Optional.empty();
    }
    List<LocalDate> missing = missing(stream, datesOf(stream.pathOf(job)), target, datesOf(path));
    return missing.isEmpty()
        ? Optional.empty()
        : Optional.of(message(stream.pathOf(job), name, target, missing));
  }

  /** The dates from today on that lack what they wait for. */
  private List<LocalDate> missing(
      Stream stream, DaySet own, Prerequisite.Target target, DaySet there) {
    if (!target.previous()) {
      return own.without(there).days().stream().filter(date -> !date.isBefore(today)).toList();
    }
    Calendars calendars = all.calendarsOf(stream);
    return own.days().stream()
        .filter(date -> !date.isBefore(today))
        .filter(date -> !there.contains(calendars.businessDay("", date, -1)))
        .toList();
  }

  private static boolean runs(Stream stream, String path) {
    return stream.jobs().stream()
        .anyMatch(job -> job.work() instanceof OfStream inner && inner.stream().equals(path));
  }

  /** The dates on which a job is planned, from some time ago to the end of what is looked at. */
  private DaySet datesOf(String path) {
    DaySet known = dates.get(path);
    if (known == null) {
      Stream top = all.topOf(path.substring(0, path.lastIndexOf('/'))).orElseThrow();
      Optional<DayRule> own = all.job(path).flatMap(Job::days);
      List<DaySet> entries = new ArrayList<>();
      entries.add(DaySet.empty(today.minusDays(DAYS_BACK), today.plusDays(DAYS_AHEAD)));
      for (Schedule entry : top.schedule()) {
        Rule rule = new Rule(top.calendar(), entry.days(), entry.from(), entry.to(), own);
        entries.add(picked.computeIfAbsent(rule, key -> pick(top, entry, own)));
      }
      known = DaySet.union(entries);
      dates.put(path, known);
    }
    return known;
  }

  private DaySet pick(Stream top, Schedule entry, Optional<DayRule> own) {
    LocalDate from = today.minusDays(DAYS_BACK);
    LocalDate to = today.plusDays(DAYS_AHEAD);
    Calendars calendars = all.calendarsOf(top);
    return own.isPresent()
        ? StartTimes.within(entry, own.get(), from, to, calendars)
        : StartTimes.dates(entry, from, to, calendars);
  }

  private static String message(
      String job, String other, Prerequisite.Target target, List<LocalDate> missing) {
    String dates =
        missing.stream()
            .sorted()
            .limit(3)
            .map(LocalDate::toString)
            .collect(Collectors.joining(", "));
    String more = missing.size() > 3 ? " and " + (missing.size() - 3) + " more dates" : "";
    return job
        + " waits for "
        + other
        + (target.previous() ? " of the previous business date" : "")
        + ", which is not planned "
        + (target.previous() ? "then for " : "on ")
        + dates
        + more
        + " of the next "
        + DAYS_AHEAD
        + " days: there it would wait for ever; \"if planned\" makes it optional";
  }
}
