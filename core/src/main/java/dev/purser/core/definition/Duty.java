package dev.purser.core.definition;

import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.DayRule;
import java.time.DayOfWeek;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.time.temporal.ChronoUnit;
import java.time.temporal.TemporalAdjusters;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/**
 * Who is on duty at which time.
 *
 * @param calendar the business calendar that its day rules mean; empty for the standard one
 * @param zone the clock of its shifts
 * @param shifts all that hold at a time are on duty then
 * @param replacements who stands in for whom
 */
public record Duty(
    String name,
    String title,
    String calendar,
    ZoneId zone,
    List<Shift> shifts,
    List<Replacement> replacements) {
  /** Copies the lists. */
  public Duty {
    shifts = List.copyOf(shifts);
    replacements = List.copyOf(replacements);
  }

  /**
   * A part of the day with those who have it. It belongs to the date on which it begins.
   *
   * @param days dates on which it begins; empty for all
   * @param to not included; on the next day where it is not after {@code from}
   * @param who names of recipients, or {@code person NAME}; with turns, one after the other
   * @param turns how they take turns; empty where all of them have it always
   */
  public record Shift(
      Optional<DayRule> days,
      LocalTime from,
      LocalTime to,
      List<String> who,
      Optional<Turns> turns) {
    /** Copies the list. */
    public Shift {
      who = List.copyOf(who);
    }
  }

  /**
   * Turns.
   *
   * @param days how long one lasts
   * @param from the date on which the first one has the first turn
   */
  public record Turns(int days, LocalDate from) {
    /** Turns of weeks that change on a weekday. */
    public static Turns weeks(int weeks, DayOfWeek on, LocalDate from) {
      return new Turns(7 * weeks, from.with(TemporalAdjusters.nextOrSame(on)));
    }

    int at(LocalDate date, int people) {
      long turn = Math.floorDiv(ChronoUnit.DAYS.between(from, date), (long) days);
      return (int) Math.floorMod(turn, (long) people);
    }
  }

  /**
   * Somebody stands in.
   *
   * @param from the first date of a shift
   * @param to the last date of a shift
   */
  public record Replacement(LocalDate from, LocalDate to, String of, String by) {
    boolean holds(LocalDate date) {
      return !date.isBefore(from) && !date.isAfter(to);
    }
  }

  /**
   * A time with the same people throughout.
   *
   * @param who empty for nobody
   */
  public record Stretch(Instant from, Instant to, List<String> who) {}

  /** Who is on duty at a moment, in the order of the shifts; empty where nobody is. */
  public List<String> at(Instant moment, Calendars calendars) {
    ZonedDateTime local = moment.atZone(zone);
    Set<String> all = new LinkedHashSet<>();
    for (Shift shift : shifts) {
      for (LocalDate date : List.of(local.toLocalDate().minusDays(1), local.toLocalDate())) {
        if (begins(shift, date, calendars)
            && !moment.isBefore(start(shift, date))
            && moment.isBefore(end(shift, date))) {
          all.addAll(of(shift, date));
        }
      }
    }
    return new ArrayList<>(all);
  }

  private boolean begins(Shift shift, LocalDate date, Calendars calendars) {
    return shift.days().map(rule -> rule.pick(date, date, calendars).size() > 0).orElse(true);
  }

  private Instant start(Shift shift, LocalDate date) {
    return date.atTime(shift.from()).atZone(zone).toInstant();
  }

  private Instant end(Shift shift, LocalDate date) {
    LocalDate last = shift.to().isAfter(shift.from()) ? date : date.plusDays(1);
    return last.atTime(shift.to()).atZone(zone).toInstant();
  }

  private List<String> of(Shift shift, LocalDate date) {
    List<String> planned =
        shift
            .turns()
            .map(turns -> List.of(shift.who().get(turns.at(date, shift.who().size()))))
            .orElse(shift.who());
    List<String> real = new ArrayList<>();
    for (String one : planned) {
      String now = one;
      for (Replacement replacement : replacements) {
        if (replacement.holds(date) && replacement.of().equals(one)) {
          now = replacement.by();
        }
      }
      real.add(now);
    }
    return real;
  }

  /**
   * Who has it from one moment to another, without holes: where nobody has it, that is said.
   *
   * @param calendars what its day rules mean
   */
  public List<Stretch> between(Instant from, Instant to, Calendars calendars) {
    TreeSet<Instant> changes = new TreeSet<>(List.of(from));
    LocalDate last = to.atZone(zone).toLocalDate();
    LocalDate first = from.atZone(zone).toLocalDate().minusDays(1);
    for (LocalDate date = first; !date.isAfter(last); date = date.plusDays(1)) {
      for (Shift shift : shifts) {
        changes.add(start(shift, date));
        changes.add(end(shift, date));
      }
    }
    List<Instant> at = new ArrayList<>(changes.tailSet(from).headSet(to));
    List<Stretch> all = new ArrayList<>();
    for (int i = 0; i < at.size(); i++) {
      Instant end = i + 1 < at.size() ? at.get(i + 1) : to;
      List<String> who = at(at.get(i), calendars);
      Stretch before = all.isEmpty() ? null : all.get(all.size() - 1);
      if (before != null && before.who().equals(who)) {
        all.set(all.size() - 1, new Stretch(before.from(), end, who));
      } else {
        all.add(new Stretch(at.get(i), end, who));
      }
    }
    return all;
  }
}
