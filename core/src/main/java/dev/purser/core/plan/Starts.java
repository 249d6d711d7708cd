package dev.purser.core.plan;

import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.DaySet;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Job;
import dev.purser.core.schedule.Schedule;
import dev.purser.core.schedule.StartTimes;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;

/** Works out when streams start, from their schedules and the days of their jobs. */
final class Starts {
  private static final Comparator<Numbered> IN_TIME =
      Comparator.comparing((Numbered one) -> one.start().at()).thenComparing(Numbered::entry);

  private final Definitions definitions;

  Starts(Definitions definitions) {
    this.definitions = definitions;
  }

  /** A start, and the place of its entry in the schedule. */
  private record Numbered(StartTimes.Start start, int entry, boolean own) {}

  /**
   * The starts of a stream over a span of business dates, in order. Two entries that give the same
   * instant with the same parameters are one start, that of the first entry.
   */
  List<StreamStart> of(Stream stream, LocalDate from, LocalDate to) {
    List<StreamStart> all = new ArrayList<>();
    if (stream.schedule().isEmpty()) {
      return all;
    }
    Calendars calendars = definitions.calendarsOf(stream);
    List<DaySet> own = new ArrayList<>();
    List<DaySet> any = new ArrayList<>();
    List<Optional<LocalDate>> known = new ArrayList<>();
    for (Schedule entry : stream.schedule()) {
      DaySet days = StartTimes.dates(entry, from, to, calendars);
      own.add(days);
      any.add(withJobs(stream, entry, days, calendars));
      known.add(calendars.knownTo(entry.days()));
    }
    DaySet dates = DaySet.union(any);
    for (LocalDate date : dates.days()) {
      List<Numbered> starts = new ArrayList<>();
      for (int i = 0; i < any.size(); i++) {
        if (any.get(i).contains(date)) {
          for (StartTimes.Start start : StartTimes.of(stream.schedule().get(i), date, calendars)) {
            starts.add(new Numbered(start, i, own.get(i).contains(date)));
          }
        }
      }
      number(stream, date, starts, known, all);
    }
    return all;
  }

  private static DaySet withJobs(Stream stream, Schedule entry, DaySet days, Calendars calendars) {
    List<DaySet> all = new ArrayList<>(List.of(days));
    for (Job job : stream.jobs()) {
      job.days()
          .ifPresent(
              rule -> all.add(StartTimes.within(entry, rule, days.from(), days.to(), calendars)));
    }
    return all.size() == 1 ? days : DaySet.union(all);
  }

  private static void number(
      Stream stream,
      LocalDate date,
      List<Numbered> starts,
      List<Optional<LocalDate>> known,
      List<StreamStart> all) {
    if (stream.schedule().size() > 1) {
      starts.sort(IN_TIME);
    } else if (!stream.hasWindows()) {
      starts.sort(Comparator.comparing((Numbered one) -> one.start().at()));
    }
    int number = 0;
    List<Numbered> taken = new ArrayList<>(starts.size());
    for (Numbered one : starts) {
      if (!isTaken(one, taken, stream)) {
        taken.add(one);
        number++;
        Schedule entry = stream.schedule().get(one.entry());
        boolean guess = known.get(one.entry()).filter(date::isAfter).isPresent();
        all.add(new StreamStart(date, number, one.start(), entry, one.own(), guess));
      }
    }
  }

  private static boolean isTaken(Numbered one, List<Numbered> taken, Stream stream) {
    for (int i = taken.size() - 1; i >= 0; i--) {
      Numbered before = taken.get(i);
      if (!before.start().at().equals(one.start().at())) {
        return false;
      }
      if (stream
          .schedule()
          .get(before.entry())
          .parameters()
          .equals(stream.schedule().get(one.entry()).parameters())) {
        return true;
      }
    }
    return false;
  }
}
