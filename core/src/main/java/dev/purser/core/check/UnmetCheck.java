package dev.purser.core.check;

import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.DaySet;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Stream;
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
  private final Map<String, Set<LocalDate>> dates = new HashMap<>();
  private final List<Problem> problems = new ArrayList<>();

  UnmetCheck(Definitions all, LocalDate today) {
    this.all = all;
    this.today = today;
  }

  List<Problem> of(Document document, Stream stream) {
    for (Job job : stream.jobs()) {
      Set<String> said = new TreeSet<>();
      for (Prerequisite asks : job.asks()) {
        contradictions(document, stream, job, asks);
        for (Prerequisite.Target target : asks.targets()) {
          if (!target.ifPlanned()) {
            for (String path : Waits.jobsOf(all, stream.path(), target)) {
              unmet(stream, job, target, path)
                  .filter(said::add)
                  .ifPresent(message -> problems.add(document.warning(message)));
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
    Set<LocalDate> there = datesOf(path);
    if (target.within().isPresent()) {
      return Optional.empty();
    }
    Calendars calendars = all.calendarsOf(stream);
    List<LocalDate> missing = new ArrayList<>();
    for (LocalDate date : datesOf(stream.pathOf(job))) {
      LocalDate wanted = target.previous() ? calendars.businessDay("", date, -1) : date;
      if (!date.isBefore(today) && !there.contains(wanted)) {
        missing.add(date);
      }
    }
    return missing.isEmpty()
        ? Optional.empty()
        : Optional.of(message(stream.pathOf(job), name, target, missing));
  }

  private static boolean runs(Stream stream, String path) {
    return stream.jobs().stream()
        .anyMatch(job -> job.work() instanceof OfStream inner && inner.stream().equals(path));
  }

  /** The dates on which a job is planned, from some time ago to the end of what is looked at. */
  private Set<LocalDate> datesOf(String path) {
    Set<LocalDate> known = dates.get(path);
    if (known != null) {
      return known;
    }
    Stream top = all.topOf(path.substring(0, path.lastIndexOf('/'))).orElseThrow();
    Calendars calendars = all.calendarsOf(top);
    LocalDate from = today.minusDays(DAYS_BACK);
    LocalDate to = today.plusDays(DAYS_AHEAD);
    Optional<Job> job = all.job(path).filter(found -> found.days().isPresent());
    Set<LocalDate> found = new TreeSet<>();
    for (Schedule entry : top.schedule()) {
      DaySet days =
          job.isPresent()
              ? StartTimes.within(entry, job.get().days().get(), from, to, calendars)
              : StartTimes.dates(entry, from, to, calendars);
      found.addAll(days.days());
    }
    dates.put(path, found);
    return found;
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

  /** One run cannot end in two ways. */
  private void contradictions(Document document, Stream stream, Job job, Prerequisite asks) {
    if (asks instanceof Prerequisite.All every) {
      Map<Prerequisite.Target, Prerequisite.Outcome> wanted = new HashMap<>();
      for (Prerequisite part : every.parts()) {
        if (part instanceof Prerequisite.OfRun run && isAnEnd(run.outcome())) {
          Prerequisite.Outcome before = wanted.putIfAbsent(run.target(), run.outcome());
          if (before != null && before != run.outcome()) {
            problems.add(
                document.warning(
                    stream.pathOf(job)
                        + " waits for "
                        + run.job()
                        + " to have "
                        + before.word()
                        + " and "
                        + run.outcome().word()
                        + " at once: it can never start"));
          }
        }
      }
      every.parts().forEach(part -> contradictions(document, stream, job, part));
    } else if (asks instanceof Prerequisite.Any some) {
      some.parts().forEach(part -> contradictions(document, stream, job, part));
    }
  }

  private static boolean isAnEnd(Prerequisite.Outcome outcome) {
    return outcome == Prerequisite.Outcome.SUCCEEDED || outcome == Prerequisite.Outcome.FAILED;
  }
}
