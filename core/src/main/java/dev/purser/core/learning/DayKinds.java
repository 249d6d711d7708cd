package dev.purser.core.learning;

import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.DayRuleParser;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.schedule.Schedule;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * In which ways days are alike, for the jobs of one stream: weekdays, the edges of months, the day
 * after closed days, and the days of each entry of the stream's own schedule.
 */
final class DayKinds {
  private static final List<String> RULES =
      List.of(
          "monday",
          "tuesday",
          "wednesday",
          "thursday",
          "friday",
          "saturday",
          "sunday",
          "last business day of month",
          "1st business day of month",
          "last day of month",
          "1st day of month");

  private final List<String> names = new ArrayList<>();
  private final List<Set<LocalDate>> days = new ArrayList<>();

  private DayKinds() {}

  /** The kinds of days of a stream, over a span of dates; made once for streams that are alike. */
  static final class Maker {
    private final Definitions definitions;
    private final LocalDate from;
    private final LocalDate to;
    private final Map<String, DayKinds> made = new HashMap<>();

    Maker(Definitions definitions, LocalDate from, LocalDate to) {
      this.definitions = definitions;
      this.from = from;
      this.to = to;
    }

    DayKinds of(String path) {
      Stream stream = definitions.topOf(path).orElse(null);
      String calendar = stream == null ? "" : stream.calendar();
      List<Schedule> entries =
          stream == null || stream.schedule().size() < 2 ? List.of() : stream.schedule();
      String key = calendar + (entries.isEmpty() ? "" : " " + path);
      return made.computeIfAbsent(key, any -> make(calendar, entries));
    }

    private DayKinds make(String calendar, List<Schedule> entries) {
      Calendars calendars =
          calendar.isEmpty() ? definitions.calendars() : definitions.calendars().meaning(calendar);
      DayKinds kinds = new DayKinds();
      for (String rule : RULES) {
        kinds.add(rule, DayRuleParser.parse(rule).pick(from, to, calendars).days());
      }
      kinds.add("the day after closed days", afterClosed(calendar, calendars));
      for (Schedule entry : entries) {
        kinds.add(entry.days().toString(), entry.days().pick(from, to, calendars).days());
      }
      return kinds;
    }

    /** Business days before which a day was closed that is usually worked. */
    private Set<LocalDate> afterClosed(String calendar, Calendars calendars) {
      Set<LocalDate> after = new HashSet<>();
      boolean closed = false;
      for (LocalDate day = from; !day.isAfter(to); day = day.plusDays(1)) {
        boolean worked = calendars.isBusinessDay(calendar, day);
        if (worked && closed) {
          after.add(day);
        }
        closed = !worked && (closed || day.getDayOfWeek().getValue() <= 5);
      }
      return after;
    }
  }

  private void add(String name, Collection<LocalDate> some) {
    if (days.size() < Integer.SIZE - 1) {
      names.add(name);
      days.add(Set.copyOf(some));
    }
  }

  /** How many kinds there are. */
  int size() {
    return names.size();
  }

  /** The words for a kind. */
  String name(int kind) {
    return names.get(kind);
  }

  /** The kinds of a date, as bits. */
  int of(LocalDate date) {
    int bits = 0;
    for (int kind = 0; kind < days.size(); kind++) {
      bits |= days.get(kind).contains(date) ? 1 << kind : 0;
    }
    return bits;
  }
}
