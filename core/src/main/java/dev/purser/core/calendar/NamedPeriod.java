package dev.purser.core.calendar;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;

/**
 * A period of a fiscal calendar, such as a trading month of 4 or 5 weeks, or a financial year: from
 * each start to the day before the next.
 *
 * @param name the name in rules
 * @param title what people call it
 * @param starts the first days of the periods; no two further apart than {@value #LONGEST_DAYS}
 *     days
 * @param good how far it is good; the last period ends there where no start follows
 */
public record NamedPeriod(String name, String title, DayRule starts, Good good) {
  /** No period is longer: what begins earlier is not looked for. */
  public static final int LONGEST_DAYS = 800;

  /** The periods that touch a span, in order; one without a known end is left out. */
  List<DayRule.Span> touching(LocalDate from, LocalDate to, Calendars calendars) {
    List<LocalDate> first =
        starts.pick(from.minusDays(LONGEST_DAYS), to.plusDays(LONGEST_DAYS), calendars).days();
    List<DayRule.Span> periods = new ArrayList<>();
    for (int i = 0; i < first.size(); i++) {
      LocalDate start = first.get(i);
      LocalDate end =
          i + 1 < first.size()
              ? first.get(i + 1).minusDays(1)
              : good.knownTo().filter(known -> !known.isBefore(start)).orElse(null);
      if (end != null && !end.isBefore(from) && !start.isAfter(to)) {
        periods.add(new DayRule.Span(start, end));
      }
    }
    return periods;
  }
}
