package dev.purser.core.calendar;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.fail;

import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.temporal.ChronoUnit;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.SplittableRandom;
import java.util.function.Predicate;
import java.util.function.UnaryOperator;
import org.junit.jupiter.api.Test;

/**
 * Random rules, each made as words and, beside it, as the plain meaning of those words a day at a
 * time: the rule that is parsed from the words picks the same days.
 */
class RandomRulesTest {
  private static final LocalDate FROM = LocalDate.of(2027, 1, 1);
  private static final LocalDate TO = LocalDate.of(2028, 12, 31);
  private static final Calendars OFFICE = DayWorld.CALENDARS.meaning("brannoch-office");

  /** Words and what they mean. */
  private record Meant(String words, Predicate<LocalDate> means) {}

  private final SplittableRandom random = new SplittableRandom(42);

  private Meant rule(int depth) {
    if (depth == 0 || random.nextInt(4) == 0) {
      return simple();
    }
    return switch (random.nextInt(6)) {
      case 0 -> shifted(rule(depth - 1));
      case 1 -> moved(rule(depth - 1));
      default -> joined(rule(depth - 1), rule(depth - 1));
    };
  }

  private Meant joined(Meant left, Meant right) {
    String joint = List.of("and", "or", "except").get(random.nextInt(3));
    Predicate<LocalDate> means =
        switch (joint) {
          case "and" -> left.means().and(right.means());
          case "or" -> left.means().or(right.means());
          default -> left.means().and(right.means().negate());
        };
    return new Meant("(" + left.words() + ") " + joint + " (" + right.words() + ")", means);
  }

  private Meant shifted(Meant rule) {
    int by = 1 + random.nextInt(8);
    boolean business = random.nextBoolean();
    boolean before = random.nextBoolean();
    String words =
        by + (business ? " business days " : " days ") + (before ? "before (" : "after (");
    Predicate<LocalDate> counted = business ? RandomRulesTest::isBusinessDay : day -> true;
    return new Meant(
        words + rule.words() + ")", landed(rule, day -> walk(day, by, before ? -1 : 1, counted)));
  }

  private Meant moved(Meant rule) {
    String towards = List.of("next", "previous", "nearest").get(random.nextInt(3));
    boolean within = random.nextBoolean();
    String words = " moved to " + towards + " business day" + (within ? " within month" : "");
    return new Meant(
        "(" + rule.words() + ")" + words,
        landed(rule, day -> isBusinessDay(day) ? day : target(day, towards, within)));
  }

  private static LocalDate target(LocalDate day, String towards, boolean within) {
    LocalDate next = walk(day, 1, 1, RandomRulesTest::isBusinessDay);
    LocalDate previous = walk(day, 1, -1, RandomRulesTest::isBusinessDay);
    long ahead = ChronoUnit.DAYS.between(day, next);
    long back = ChronoUnit.DAYS.between(previous, day);
    boolean later = towards.equals("next") || (towards.equals("nearest") && ahead <= back);
    LocalDate wanted = later ? next : previous;
    boolean leaves = wanted.getMonthValue() != day.getMonthValue();
    return within && leaves ? (later ? previous : next) : wanted;
  }

  /** Where each day of a rule lands, looked at a day at a time over the span and around it. */
  private static Predicate<LocalDate> landed(Meant rule, UnaryOperator<LocalDate> to) {
    Set<LocalDate> days = new HashSet<>();
    for (LocalDate d = FROM.minusDays(60); d.isBefore(TO.plusDays(60)); d = d.plusDays(1)) {
      if (rule.means().test(d)) {
        days.add(to.apply(d));
      }
    }
    return days::contains;
  }

  private static LocalDate walk(LocalDate from, int n, int step, Predicate<LocalDate> counted) {
    LocalDate day = from;
    for (int left = n; left > 0; left -= counted.test(day) ? 1 : 0) {
      day = day.plusDays(step);
    }
    return day;
  }

  private Meant simple() {
    DayOfWeek day = DayOfWeek.of(1 + random.nextInt(7));
    String name = day.name().toLowerCase(Locale.ROOT);
    LocalDate date = FROM.plusDays(random.nextInt(700));
    int n = 1 + random.nextInt(6);
    return switch (random.nextInt(15)) {
      case 0 -> new Meant("every day", d -> true);
      case 1 -> new Meant(name, d -> d.getDayOfWeek() == day);
      case 2 -> new Meant("business days", RandomRulesTest::isBusinessDay);
      case 3 -> {
        LocalDate last = date.plusDays(random.nextInt(40));
        yield new Meant(date + " to " + last, d -> !d.isBefore(date) && !d.isAfter(last));
      }
      case 4 -> {
        String month = date.getMonth().name().toLowerCase(Locale.ROOT);
        yield new Meant(
            date.getDayOfMonth() + " " + month,
            d -> d.getMonth() == date.getMonth() && d.getDayOfMonth() == date.getDayOfMonth());
      }
      case 5 ->
          new Meant(
              NthOf.ordinal(n) + " " + name + " of month",
              d -> d.getDayOfWeek() == day && (d.getDayOfMonth() - 1) / 7 + 1 == n);
      case 6 ->
          new Meant(
              NthOf.ordinal(-n) + " business day of quarter",
              d -> isBusinessDay(d) && businessDaysAfterInQuarter(d) == n - 1);
      case 7 -> new Meant("holidays of brannoch", RandomRulesTest::isHoliday);
      case 8 ->
          new Meant(
              "every " + n + " days from " + date,
              d -> !d.isBefore(date) && ChronoUnit.DAYS.between(date, d) % n == 0);
      case 9 -> {
        LocalDate monday = date.minusDays(date.getDayOfWeek().getValue() - 1);
        yield new Meant(
            "every " + n + " weeks on " + name + " from " + date,
            d ->
                !d.isBefore(date)
                    && d.getDayOfWeek() == day
                    && ChronoUnit.DAYS.between(monday, d) / 7 % n == 0);
      }
      case 10 ->
          new Meant(
              "every " + n + " months from " + date,
              d ->
                  !d.isBefore(date)
                      && d.getDayOfMonth() == date.getDayOfMonth()
                      && monthsBetween(date, d) % n == 0);
      case 11 ->
          new Meant(
              "1st, last day of half-year",
              d -> Set.of("01-01", "06-30", "07-01", "12-31").contains(d.toString().substring(5)));
      case 12 ->
          new Meant("easter", d -> Set.of("2027-03-28", "2028-04-16").contains(d.toString()));
      case 13 ->
          new Meant(
              "1st, 15th, last weekday of month",
              d ->
                  d.getDayOfWeek().getValue() <= 5
                      && (weekdayOfMonth(d, -1) == 1
                          || weekdayOfMonth(d, -1) == 15
                          || weekdayOfMonth(d, 1) == 1));
      default -> new Meant("last day of month", d -> d.plusDays(1).getDayOfMonth() == 1);
    };
  }

  private static int monthsBetween(LocalDate a, LocalDate b) {
    return (b.getYear() - a.getYear()) * 12 + b.getMonthValue() - a.getMonthValue();
  }

  /** Which weekday of its month a day is, counted towards the month's start or end. */
  private static int weekdayOfMonth(LocalDate day, int towards) {
    int count = 0;
    LocalDate d = day;
    while (d.getMonthValue() == day.getMonthValue()) {
      count += d.getDayOfWeek().getValue() <= 5 ? 1 : 0;
      d = d.plusDays(towards);
    }
    return count;
  }

  private static boolean isBusinessDay(LocalDate day) {
    boolean madeUp = Set.of("2027-01-02", "2028-04-01").contains(day.toString());
    return madeUp || (day.getDayOfWeek().getValue() <= 5 && !isHoliday(day));
  }

  private static boolean isHoliday(LocalDate day) {
    DayOfWeek weekday = day.getDayOfWeek();
    int date = day.getDayOfMonth();
    return switch (day.getMonth()) {
      case JANUARY -> date == 1;
      case MARCH -> weekday == DayOfWeek.MONDAY && date > 24;
      case MAY -> weekday == DayOfWeek.MONDAY && date <= 7;
      case JUNE -> date == 21;
      case OCTOBER -> weekday == DayOfWeek.FRIDAY && date > 7 && date <= 14;
      case DECEMBER -> date >= 24 && date <= 26;
      default -> false;
    };
  }

  private static int businessDaysAfterInQuarter(LocalDate day) {
    int count = 0;
    LocalDate next = day.plusDays(1);
    while ((next.getMonthValue() - 1) / 3 == (day.getMonthValue() - 1) / 3) {
      count += isBusinessDay(next) ? 1 : 0;
      next = next.plusDays(1);
    }
    return count;
  }

  @Test
  void theCompiledRuleAgreesWithThePlainMeaningOfItsWordsOnEveryDay() {
    for (int i = 0; i < 10_000; i++) {
      Meant meant = rule(3);
      DayRule parsed = DayRuleParser.parse(meant.words());
      DaySet picked = parsed.pick(FROM, TO, OFFICE);
      for (LocalDate day = FROM; !day.isAfter(TO); day = day.plusDays(1)) {
        if (picked.contains(day) != meant.means().test(day)) {
          fail(meant.words() + " on " + day + " was picked: " + picked.contains(day));
        }
      }
      assertThat(picked.size()).isEqualTo(picked.days().size());
      assertThat(DayRuleParser.parse(parsed.toString())).isEqualTo(parsed);
    }
  }

  @Test
  void aSpanLookedAtInPartsPicksWhatItPicksAsAWhole() {
    for (int i = 0; i < 300; i++) {
      DayRule parsed = DayRuleParser.parse(rule(2).words());
      LocalDate cut = FROM.plusDays(random.nextLong(ChronoUnit.DAYS.between(FROM, TO)));
      List<LocalDate> whole = parsed.pick(FROM, TO, OFFICE).days();
      List<LocalDate> parts = new java.util.ArrayList<>(parsed.pick(FROM, cut, OFFICE).days());
      parts.addAll(parsed.pick(cut.plusDays(1), TO, OFFICE).days());
      assertThat(parts).as(parsed + " cut at " + cut).isEqualTo(whole);
    }
  }
}
