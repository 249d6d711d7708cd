package dev.purser.bench;

import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.DayRuleParser;
import dev.purser.core.definition.Definitions;
import java.time.LocalDate;
import java.util.concurrent.TimeUnit;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Fork;
import org.openjdk.jmh.annotations.Measurement;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Param;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import org.openjdk.jmh.annotations.Warmup;

/** A rule over ten years, beside the floor: the same days asked of java.time one at a time. */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.AverageTime)
@OutputTimeUnit(TimeUnit.MICROSECONDS)
@Warmup(iterations = 2, time = 1)
@Measurement(iterations = 3, time = 1)
@Fork(1)
public class DayBench {
  private static final LocalDate FROM = LocalDate.of(2027, 1, 1);
  private static final LocalDate TO = LocalDate.of(2036, 12, 31);

  /** The rules. */
  @Param({
    "weekdays",
    "business days",
    "2nd last business day of month",
    "15th day of month moved to next business day within month",
    "3 business days before last day of quarter",
    "every 2 weeks on friday from 2027-01-01",
    "business days except 1st business day of month or 24 december",
    "rrule \"FREQ=MONTHLY;BYDAY=-1FR\""
  })
  private String rule;

  private DayRule parsed;
  private Calendars calendars;

  /** Reads the rule. */
  @Setup
  public void parse() {
    Definitions definitions = World.definitions(1);
    calendars = definitions.calendars().meaning("brannoch-office");
    parsed = DayRuleParser.parse(rule);
  }

  /** Ten years of the rule. */
  @Benchmark
  public int tenYears() {
    return parsed.pick(FROM, TO, calendars).size();
  }

  /** The floor: ten years of weekdays, a day at a time through the clock's own classes. */
  @Benchmark
  public int tenYearsADayAtATime() {
    int count = 0;
    for (LocalDate day = FROM; !day.isAfter(TO); day = day.plusDays(1)) {
      count += day.getDayOfWeek().getValue() <= 5 ? 1 : 0;
    }
    return count;
  }
}
