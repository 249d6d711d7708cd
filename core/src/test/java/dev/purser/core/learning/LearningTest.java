package dev.purser.core.learning;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.commitment.Promises;
import dev.purser.core.definition.Definitions;
import dev.purser.core.forecast.Outlook;
import dev.purser.core.forecast.PromiseOutlook;
import dev.purser.core.forecast.RunOutlook;
import dev.purser.core.history.PastRun;
import dev.purser.core.reading.SourceFile;
import java.time.DayOfWeek;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.function.ToDoubleFunction;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What is learned from runs of the past, and what of a day is foretold from it. */
class LearningTest {
  private static final LocalDate DATE = LocalDate.of(2027, 3, 4);
  private static final Definitions ALL =
      DefinitionCheck.check(
              Definitions.none(),
              List.of(
                  new SourceFile(
                      "f",
                      """
                      host: quay
                      ---
                      stream: night
                      paused: no
                      schedule: { days: every day, at: "21:00", zone: UTC }
                      jobs:
                        load: { host: quay, run: x }
                        file: { host: quay, run: x, waits-for: load succeeded }
                        other: { host: quay, run: x, usually: 5m to 10m, finish-by: "21:08" }
                      ---
                      commitment: filed
                      of: night/file
                      done-by: "22:00"
                      zone: UTC
                      """)),
              DATE)
          .definitions();

  /** So many days of a job before the date, each with minutes of its own. */
  private static List<PastRun> days(String job, int days, ToDoubleFunction<LocalDate> minutes) {
    List<PastRun> runs = new ArrayList<>();
    SplittableRandom random = new SplittableRandom(job.hashCode());
    for (int i = days; i > 0; i--) {
      LocalDate date = DATE.minusDays(i);
      double noise = Math.exp(0.05 * random.nextGaussian());
      runs.add(run(job, date, 0, minutes.applyAsDouble(date) * noise));
    }
    return runs;
  }

  private static PastRun run(String job, LocalDate date, int after, double minutes) {
    long start = date.atTime(21, 0).toInstant(ZoneOffset.UTC).toEpochMilli() + after * 60_000L;
    return new PastRun(
        "night",
        job,
        date,
        1,
        start,
        start,
        minutes < 0 ? 0 : start + (long) (minutes * 60_000),
        PastRun.Outcome.SUCCEEDED,
        0,
        "quay",
        1);
  }

  private static double minutes(List<PastRun> past, LocalDate date) {
    JobLaw law = Learned.of(ALL, past, DATE).law("night/load").orElseThrow();
    return Math.exp(law.expected(date)) / 60_000;
  }

  @Test
  void aLastingChangeIsNoticedWithinAFewRuns() {
    List<PastRun> past = days("load", 90, date -> date.isBefore(DATE.minusDays(3)) ? 10 : 20);
    assertThat(minutes(past, DATE)).isCloseTo(20, within(1.5));
    List<PastRun> once = days("load", 90, date -> date.equals(DATE.minusDays(1)) ? 20 : 10);
    assertThat(minutes(once, DATE)).isCloseTo(10, within(0.5));
  }

  @Test
  void daysLikeThisOneWeighMoreWhereThatExplainsAnything() {
    List<PastRun> past =
        days("load", 90, date -> date.getDayOfWeek() == DayOfWeek.THURSDAY ? 15 : 10);
    assertThat(minutes(past, DATE)).isCloseTo(15, within(0.7));
    assertThat(minutes(past, DATE.plusDays(1))).isCloseTo(10, within(0.5));
    List<PastRun> even = days("load", 90, date -> 10);
    assertThat(minutes(even, DATE)).isCloseTo(minutes(even, DATE.plusDays(1)), within(0.4));
    assertThat(Learned.of(ALL, past, DATE).restsOn("night/load", DATE))
        .contains("90 ends from 2026-12-04 on; thursday: ")
        .contains(" % longer");
  }

  /** What is to come strays as far as is said, not as little as what a law was fitted to. */
  @ParameterizedTest
  @CsvSource({"30", "60", "90"})
  void theSpreadIsThatOfDaysToCome(int runs) {
    SplittableRandom random = new SplittableRandom(5);
    int worlds = 2_000;
    double sum = 0;
    for (int world = 0; world < worlds; world++) {
      double[] weekdays = random.doubles(8, -0.2, 0.2).toArray();
      List<PastRun> past = new ArrayList<>();
      for (int i = runs; i > 0; i--) {
        LocalDate date = DATE.minusDays(i);
        double log = weekdays[date.getDayOfWeek().getValue()] + 0.3 * random.nextGaussian();
        past.add(run("load", date, 0, 10 * Math.exp(log)));
      }
      JobLaw law = Learned.of(ALL, past, DATE).law("night/load").orElseThrow();
      double came =
          Math.log(600_000)
              + weekdays[DATE.getDayOfWeek().getValue()]
              + 0.3 * random.nextGaussian();
      double off = came - law.expected(DATE);
      sum += off * off / (law.own() * law.own() + law.error(DATE) * law.error(DATE));
    }
    assertThat(sum / worlds).isBetween(0.88, 1.08);
  }

  private static Outlook.Result foretold(List<PastRun> past, String at) {
    DaySoFar day = new DaySoFar(ALL, past, DATE, Instant.parse("2027-03-04T" + at + "Z"));
    Learned learned = day.learned();
    return day.play(learned, day.promised(day.promises()), 200, 1);
  }

  private static RunOutlook of(Outlook.Result result, String job) {
    return result.runs().stream()
        .filter(run -> run.run().run().reference().job().equals(job))
        .filter(run -> run.run().run().reference().date().equals(DATE))
        .findFirst()
        .orElseThrow();
  }

  private static double minutesAfterNine(long at) {
    return (at - DATE.atTime(21, 0).toInstant(ZoneOffset.UTC).toEpochMilli()) / 60_000.0;
  }

  private static List<PastRun> usualPast() {
    List<PastRun> past = days("load", 90, date -> 20);
    past.addAll(days("file", 90, date -> 10));
    return past;
  }

  @Test
  void whatRunsForLongIsDrawnFromThoseThatTookLonger() {
    List<PastRun> past = usualPast();
    assertThat(minutesAfterNine(of(foretold(past, "20:59:00"), "load").end()))
        .isCloseTo(20, within(1.0));
    past.add(run("load", DATE, 0, -1));
    RunOutlook long40 = of(foretold(past, "21:40:00"), "load");
    assertThat(minutesAfterNine(long40.earliestEnd())).isGreaterThan(40);
    assertThat(minutesAfterNine(long40.start())).isEqualTo(0);
  }

  @Test
  void slowDaysAreSlowTogether() {
    List<PastRun> past = new ArrayList<>();
    SplittableRandom random = new SplittableRandom(3);
    double[] slow = random.doubles(91).map(any -> Math.exp(0.3 * random.nextGaussian())).toArray();
    past.addAll(days("load", 90, date -> 20 * slow[(int) (DATE.toEpochDay() - date.toEpochDay())]));
    past.addAll(days("file", 90, date -> 10 * slow[(int) (DATE.toEpochDay() - date.toEpochDay())]));
    past.add(run("load", DATE, 0, 34));
    RunOutlook file = of(foretold(past, "21:35:00"), "file");
    // load took 1.7 times as long as usual; so will file, which has just begun
    assertThat(minutesAfterNine(file.end()) - minutesAfterNine(file.start())).isBetween(14.0, 19.0);
  }

  @Test
  void whatComesLaterIsNotLookedAt() {
    List<PastRun> past = usualPast();
    Outlook.Result before = foretold(past, "21:05:00");
    past.add(run("load", DATE, 6, 200));
    past.add(run("file", DATE.plusDays(1), 0, 1));
    assertThat(foretold(past, "21:05:00")).isEqualTo(before);
  }

  @Test
  void aDayMayBeForetoldYearsBefore() {
    DaySoFar day = new DaySoFar(ALL, usualPast(), DATE, Instant.parse("1999-01-01T00:00:00Z"));
    Outlook.Result result =
        day.play(day.learned(), day.promised(new Promises(ALL, Map.of())), 20, 1);
    assertThat(result.promises().get(0).end()).isPositive();
    assertThat(result.promises().get(0).standing()).isEqualTo(PromiseOutlook.Standing.OPEN);
  }

  @Test
  void aPromiseStandsAsTheDayHasShown() {
    List<PastRun> past = usualPast();
    PromiseOutlook open = foretold(past, "20:59:00").promises().get(0);
    assertThat(open.standing()).isEqualTo(PromiseOutlook.Standing.OPEN);
    assertThat(open.chanceLate()).isLessThan(0.02);
    past.add(run("load", DATE, 0, 56));
    PromiseOutlook danger = foretold(past, "21:57:00").promises().get(0);
    assertThat(danger.chanceLate()).isGreaterThan(0.9);
    past.add(run("file", DATE, 56, 3));
    assertThat(foretold(past, "22:30:00").promises().get(0).standing())
        .isEqualTo(PromiseOutlook.Standing.KEPT);
    past.remove(past.size() - 1);
    past.add(run("file", DATE, 56, 8));
    assertThat(foretold(past, "22:30:00").promises().get(0).standing())
        .isEqualTo(PromiseOutlook.Standing.MISSED);
  }

  @Test
  void aFailureHangsOnAPerson() {
    List<PastRun> past = usualPast();
    PastRun failed = run("load", DATE, 0, 5);
    past.add(
        new PastRun(
            "night",
            "load",
            DATE,
            1,
            0,
            failed.start(),
            failed.end(),
            PastRun.Outcome.FAILED,
            1,
            "quay",
            1));
    PromiseOutlook stalled = foretold(past, "21:10:00").promises().get(0);
    assertThat(stalled.standing()).isEqualTo(PromiseOutlook.Standing.STALLED);
    assertThat(stalled.hangsOn()).isEqualTo(RunOutlook.HangsOn.PERSON);
    assertThat(stalled.canSayLate()).isFalse();
    assertThat(stalled.end()).isZero();
  }

  @Test
  void withoutAPastItGoesByWhatIsUsual() {
    RunOutlook other = of(foretold(usualPast(), "20:59:00"), "other");
    assertThat(minutesAfterNine(other.end())).isBetween(5.0, 10.0);
    assertThat(other.chanceLate()).isBetween(0.2, 0.6);
    assertThat(Learned.of(ALL, List.of(), DATE).restsOn("night/other", DATE))
        .isEqualTo("no end is known; its usually");
  }
}
