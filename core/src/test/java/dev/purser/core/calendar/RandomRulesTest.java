package dev.purser.core.calendar;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.temporal.ChronoUnit;
import java.util.List;
import java.util.Locale;
import java.util.SplittableRandom;
import java.util.function.Predicate;
import org.junit.jupiter.api.Test;

/**
 * Random rules, each made as words and, beside it, as the plain meaning of those words a day at a
 * time: the rule that is parsed from the words picks the same days.
 */
class RandomRulesTest {
  private static final LocalDate FROM = LocalDate.of(2027, 1, 1);
  private static final LocalDate TO = LocalDate.of(2028, 12, 31);
  private static final String[] ORDINALS = {"1st", "2nd", "3rd", "4th", "5th"};

  /** Words and what they mean. */
  private record Meant(String words, Predicate<LocalDate> means) {}

  private final SplittableRandom random = new SplittableRandom(42);

  private Meant rule(int depth) {
    if (depth == 0 || random.nextInt(3) == 0) {
      return simple();
    }
    Meant left = rule(depth - 1);
    Meant right = rule(depth - 1);
    String joint = List.of("and", "or", "except").get(random.nextInt(3));
    Predicate<LocalDate> means =
        switch (joint) {
          case "and" -> left.means().and(right.means());
          case "or" -> left.means().or(right.means());
          default -> left.means().and(right.means().negate());
        };
    return new Meant("(" + left.words() + ") " + joint + " (" + right.words() + ")", means);
  }

  private Meant simple() {
    DayOfWeek day = DayOfWeek.of(1 + random.nextInt(7));
    String name = day.name().toLowerCase(Locale.ROOT);
    LocalDate date = FROM.plusDays(random.nextInt(700));
    return switch (random.nextInt(8)) {
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
      case 5 -> {
        int nth = 1 + random.nextInt(5);
        yield new Meant(
            ORDINALS[nth - 1] + " " + name + " of month",
            d -> d.getDayOfWeek() == day && (d.getDayOfMonth() - 1) / 7 + 1 == nth);
      }
      case 6 -> {
        int nth = 1 + random.nextInt(5);
        String words =
            (nth == 1 ? "last" : ORDINALS[nth - 1] + " last") + " business day of quarter";
        yield new Meant(words, d -> isBusinessDay(d) && businessDaysAfterInQuarter(d) == nth - 1);
      }
      default -> new Meant("last day of month", d -> d.plusDays(1).getDayOfMonth() == 1);
    };
  }

  private static boolean isBusinessDay(LocalDate day) {
    return day.getDayOfWeek().getValue() <= 5;
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
    for (int i = 0; i < 1_000; i++) {
      Meant meant = rule(3);
      DayRule parsed = DayRuleParser.parse(meant.words());
      DaySet picked = parsed.pick(FROM, TO, Calendars.NONE);
      for (LocalDate day = FROM; !day.isAfter(TO); day = day.plusDays(1)) {
        assertThat(picked.contains(day))
            .as(meant.words() + " on " + day)
            .isEqualTo(meant.means().test(day));
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
      List<LocalDate> whole = parsed.pick(FROM, TO, Calendars.NONE).days();
      List<LocalDate> parts =
          new java.util.ArrayList<>(parsed.pick(FROM, cut, Calendars.NONE).days());
      parts.addAll(parsed.pick(cut.plusDays(1), TO, Calendars.NONE).days());
      assertThat(parts).as(parsed + " cut at " + cut).isEqualTo(whole);
    }
  }
}
