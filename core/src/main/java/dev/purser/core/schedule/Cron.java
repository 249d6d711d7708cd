package dev.purser.core.schedule;

import com.cronutils.model.CronType;
import com.cronutils.model.definition.CronDefinitionBuilder;
import com.cronutils.model.field.CronFieldName;
import com.cronutils.model.field.expression.Always;
import com.cronutils.model.field.expression.And;
import com.cronutils.model.field.expression.Between;
import com.cronutils.model.field.expression.Every;
import com.cronutils.model.field.expression.FieldExpression;
import com.cronutils.model.field.expression.On;
import com.cronutils.parser.CronParser;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.NthOf;
import java.time.DayOfWeek;
import java.time.LocalTime;
import java.time.Month;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;

/**
 * The five fields of POSIX crontab: minute, hour, day of the month, month, day of the week. A
 * library reads them; what they mean is said in a day rule and start times, so that they can be
 * shown, explained and previewed like any other schedule.
 *
 * @param days where both the day of the month and of the week are given, either will do (POSIX)
 * @param times in order
 */
public record Cron(DayRule days, List<LocalTime> times) {
  private static final int MOST_TIMES = 1_440;
  private static final CronParser PARSER =
      new CronParser(CronDefinitionBuilder.instanceDefinitionFor(CronType.UNIX));
  private static final List<String> FIELDS =
      List.of(
          "minute (0 to 59)",
          "hour (0 to 23)",
          "day of the month (1 to 31)",
          "month (1 to 12)",
          "day of the week (0 to 7)");

  /**
   * Reads the five fields.
   *
   * @throws IllegalArgumentException with what is wrong
   */
  public static Cron parse(String text) {
    String[] fields = text.strip().split("\\s+");
    if (fields.length != 5) {
      throw new IllegalArgumentException(
          "expected five fields (minute, hour, day of the month, month, day of the week), not "
              + fields.length);
    }
    com.cronutils.model.Cron cron = read(String.join(" ", fields));
    BitSet minutes = values(cron, CronFieldName.MINUTE, 0, 59);
    BitSet hours = values(cron, CronFieldName.HOUR, 0, 23);
    List<LocalTime> times = new ArrayList<>(MOST_TIMES);
    hours.stream().forEach(h -> minutes.stream().forEach(m -> times.add(LocalTime.of(h, m))));
    return new Cron(days(cron), times);
  }

  /** The first field that cannot stand there even by itself. */
  private static String wrong(String[] fields) {
    for (int i = 0; i < Math.min(fields.length, FIELDS.size()); i++) {
      String[] alone = {"*", "*", "*", "*", "*"};
      alone[i] = fields[i];
      try {
        PARSER.parse(String.join(" ", alone)).validate();
      } catch (IllegalArgumentException e) {
        return "\"" + fields[i] + "\" cannot be the " + FIELDS.get(i);
      }
    }
    return "expected minute, hour, day of the month, month, day of the week";
  }

  private static com.cronutils.model.Cron read(String text) {
    try {
      return PARSER.parse(text).validate();
    } catch (IllegalArgumentException e) {
      throw new IllegalArgumentException(
          "these are not the five fields of a POSIX crontab: " + wrong(text.split(" ")), e);
    }
  }

  private static DayRule days(com.cronutils.model.Cron cron) {
    DayRule days = monthDays(cron);
    if (!isAny(cron, CronFieldName.MONTH)) {
      Set<Month> months = EnumSet.noneOf(Month.class);
      values(cron, CronFieldName.MONTH, 1, 12).stream().forEach(m -> months.add(Month.of(m)));
      DayRule inMonths = DayRule.Yearly.of(months);
      return days instanceof DayRule.EveryDay
          ? inMonths
          : new DayRule.Joined(days, DayRule.Joint.AND, inMonths);
    }
    return days;
  }

  private static DayRule monthDays(com.cronutils.model.Cron cron) {
    boolean anyDate = isAny(cron, CronFieldName.DAY_OF_MONTH);
    boolean anyWeekday = isAny(cron, CronFieldName.DAY_OF_WEEK);
    Set<DayOfWeek> weekdays = EnumSet.noneOf(DayOfWeek.class);
    values(cron, CronFieldName.DAY_OF_WEEK, 0, 7).stream()
        .forEach(n -> weekdays.add(DayOfWeek.of(n == 0 ? 7 : n)));
    DayRule byWeekday = new DayRule.OnWeekdays(weekdays);
    List<Integer> dates = values(cron, CronFieldName.DAY_OF_MONTH, 1, 31).stream().boxed().toList();
    DayRule byDate = new NthOf(dates, new NthOf.Counted.AnyDay(), NthOf.Unit.MONTH);
    if (anyDate) {
      return anyWeekday ? new DayRule.EveryDay() : byWeekday;
    }
    return anyWeekday ? byDate : new DayRule.Joined(byDate, DayRule.Joint.OR, byWeekday);
  }

  private static FieldExpression field(com.cronutils.model.Cron cron, CronFieldName name) {
    return cron.retrieve(name).getExpression();
  }

  private static boolean isAny(com.cronutils.model.Cron cron, CronFieldName name) {
    return field(cron, name) instanceof Always;
  }

  private static BitSet values(
      com.cronutils.model.Cron cron, CronFieldName name, int low, int high) {
    BitSet found = new BitSet();
    add(field(cron, name), low, high, 1, found);
    if (found.isEmpty()) {
      throw new IllegalArgumentException(
          "the field " + name.name().toLowerCase(Locale.ROOT).replace('_', ' ') + " picks nothing");
    }
    return found;
  }

  private static void add(FieldExpression field, int low, int high, int step, BitSet found) {
    if (field instanceof And and) {
      and.getExpressions().forEach(one -> add(one, low, high, step, found));
    } else if (field instanceof Every every) {
      int period = every.getPeriod().getValue();
      if (every.getExpression() instanceof On on) {
        fill(on.getTime().getValue(), high, period, found);
      } else {
        add(every.getExpression(), low, high, period, found);
      }
    } else if (field instanceof Between between) {
      int from = (Integer) between.getFrom().getValue();
      int to = (Integer) between.getTo().getValue();
      fill(from, to, step, found);
    } else if (field instanceof On on) {
      found.set(on.getTime().getValue());
    } else {
      fill(low, high, step, found);
    }
  }

  private static void fill(int from, int to, int step, BitSet found) {
    for (int value = from; value <= to; value += Math.max(1, step)) {
      found.set(value);
    }
  }
}
