package dev.purser.core.preview;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.board.Pier;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Kind;
import dev.purser.core.plan.Planner;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class PreviewTest {
  private static final LocalDate FROM = LocalDate.of(2027, 3, 1);
  private static final String WORLD =
      """
      host: h
      ---
      holiday-calendar: brannoch
      holidays: [ { day: 24 december, name: Yule } ]
      ---
      business-calendar: office
      without: [brannoch]
      ---
      stream: accounts/month-end
      title: Month-end
      calendar: office
      schedule: { days: last business day of month, at: "20:00", zone: UTC }
      jobs: { close: { host: h, run: x }, report: { host: h, run: x } }
      ---
      stream: passenger/refunds
      title: Refunds
      calendar: office
      schedule: { days: business days, at: "06:15", zone: UTC }
      jobs: { pay: { host: h, run: x } }
      ---
      stream: tide/import
      title: Tide
      schedule: { days: every day, at: "04:00", zone: UTC }
      jobs: { fetch: { host: h, run: x } }
      """;

  private static Preview.Result preview(String right, String wrong) {
    assertThat(WORLD).contains(right);
    return Preview.of(Pier.read(WORLD), Pier.read(WORLD.replace(right, wrong)), FROM, 400);
  }

  private static List<String> lines(Preview.Result result) {
    return result.streams().stream()
        .flatMap(
            stream ->
                stream.changes().stream()
                    .map(
                        one ->
                            stream.stream()
                                + " "
                                + one.what()
                                + " "
                                + one.date()
                                + (one.what() == Preview.What.MOVED ? " to " + one.toDate() : "")
                                + " x"
                                + one.runs()
                                + ": "
                                + one.reason()))
        .toList();
  }

  @Test
  void aNewHolidayTakesRunsAwayAndMovesOthersEachWithItsReason() {
    Preview.Result result =
        preview("holidays: [ {", "holidays: [ { day: 2027-03-31, name: Founders' Day }, {");
    assertThat(lines(result))
        .containsExactly(
            "accounts/month-end MOVED 2027-03-31 to 2027-03-30 x2: 2027-03-31: it is Founders' Day"
                + " (brannoch), closed in office",
            "passenger/refunds LOST 2027-03-31 x1: it is Founders' Day (brannoch), closed in office");
    assertThat(result.looked()).isEqualTo(2);
    assertThat(result.runs(Preview.What.MOVED)).isEqualTo(2);
    assertThat(result.runs(Preview.What.LOST)).isEqualTo(1);
    assertThat(result.runs(Preview.What.GAINED)).isZero();
  }

  @Test
  void aDailyStreamLosesOneDayAndGainsAnotherRatherThanMoving() {
    assertThat(lines(preview("day: 24 december, name: Yule", "day: 23 december, name: Yule")))
        .containsExactly(
            "passenger/refunds LOST 2027-12-23 x1: it is Yule (brannoch), closed in office",
            "passenger/refunds GAINED 2027-12-24 x1: it is a business day of office (Friday);"
                + " before, it is Yule (brannoch), closed in office");
    assertThat(
            preview("day: 24 december, name: Yule", "day: 22 december, name: Yule")
                .runs(Preview.What.MOVED))
        .isZero();
  }

  @Test
  void aDateThatAnotherEntryStillPicksLosesOnlyTheStartsOfTheEntryThatDoesNot() {
    String world =
        WORLD.replace(
            "schedule: { days: every day, at: \"04:00\", zone: UTC }",
            "calendar: office\nschedule:\n  - { days: every day, at: \"22:30\", zone: UTC }\n"
                + "  - { days: business days, at: [\"06:00\", \"07:00\"], zone: UTC }");
    Preview.Result result =
        Preview.of(
            Pier.read(world),
            Pier.read(world.replace("day: 24 december", "day: 23 december to 24 december")),
            FROM,
            400);
    assertThat(lines(result).stream().filter(line -> line.startsWith("tide")))
        .containsExactly(
            "tide/import LOST 2027-12-23 x1: it is Yule (brannoch), closed in office",
            "tide/import LOST 2027-12-23 x1: it is Yule (brannoch), closed in office");
  }

  /** Every start of 400 days before and after, compared one by one. */
  @ParameterizedTest
  @CsvSource({
    "24 december, 20 december to 31 december",
    "24 december, 2027-03-05",
    "24 december, monday",
    "24 december, 1st business day of month"
  })
  void whatIsLostAndGainedIsTheDifferenceOfAllStarts(String right, String wrong) {
    Definitions before = Pier.read(WORLD);
    Definitions after = Pier.read(WORLD.replace("day: " + right, "day: " + wrong));
    Preview.Result result = Preview.of(before, after, FROM, 400);
    int difference = starts(after) - starts(before);
    assertThat(result.runs(Preview.What.GAINED) - result.runs(Preview.What.LOST))
        .isEqualTo(difference);
  }

  private static int starts(Definitions definitions) {
    Planner planner = new Planner(definitions);
    return definitions.streams().stream()
        .mapToInt(stream -> planner.plan(stream, FROM, FROM.plusDays(399)).size())
        .sum();
  }

  @Test
  void aHolidayThatIsTakenOutGivesRunsBack() {
    assertThat(lines(preview("day: 24 december, name: Yule", "day: 25 december, name: Yule")))
        .contains(
            "passenger/refunds GAINED 2027-12-24 x1: it is a business day of office (Friday);"
                + " before, it is Yule (brannoch), closed in office");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          at: "04:00"     | at: "05:00"                | MOVED | 400 | it starts at 05:00 now, not 04:00
          days: every day | days: every day except monday | LOST | 58 | its days are "every day except monday" now, not "every day"
          at: "04:00"     | at: ["04:00", "16:00"]     | GAINED | 400 | it starts at 04:00, 16:00 now, not 04:00
          every day, at: "04:00", zone: UTC | every day, at: "04:00", zone: Europe/Oslo | MOVED | 400 | its zone is Europe/Oslo now, not UTC
          every day, at: "04:00" | every day except 2020-01-01, at: "05:00" | MOVED | 400 | it starts at 05:00 now, not 04:00
          { fetch: { host: h, run: x } } | { fetch: { host: h, run: x }, load: { host: h, run: x } } | GAINED | 400 | its jobs have changed
          { fetch: { host: h, run: x } } | { fetch: { host: h, run: x, only-on: weekdays } } | LOST | 114 | its jobs have changed
          """)
  void aChangedScheduleSaysWhatChanged(
      String right, String wrong, Preview.What what, int runs, String reason) {
    Preview.Result result = preview(right, wrong);
    assertThat(result.streams())
        .singleElement()
        .extracting(Preview.StreamChange::stream)
        .isEqualTo("tide/import");
    assertThat(result.runs(what)).isEqualTo(runs);
    assertThat(result.streams().get(0).changes().get(0).reason()).isEqualTo(reason);
  }

  @Test
  void aStreamThatComesOrGoesIsGainedOrLostWhole() {
    Definitions all = Pier.read(WORLD);
    Definitions without = all.without(Kind.STREAM, "tide/import");
    assertThat(Preview.of(without, all, FROM, 400).runs(Preview.What.GAINED)).isEqualTo(400);
    assertThat(Preview.of(all, without, FROM, 400).runs(Preview.What.LOST)).isEqualTo(400);
    assertThat(Preview.of(all, all, FROM, 400).streams()).isEmpty();
    assertThat(Preview.of(all, all, FROM, 400).looked()).isZero();
  }

  @Test
  void aChangeOfADefinitionIsToldFieldByField() {
    Definitions old = Pier.read(WORLD);
    Definitions now =
        Pier.read(
            WORLD
                .replace("at: \"04:00\"", "at: [\"04:00\", \"16:00\"]")
                .replace("title: Tide", "about: new"));
    assertThat(
            FieldChanges.between(
                old.document(Kind.STREAM, "tide/import").orElseThrow(),
                now.document(Kind.STREAM, "tide/import").orElseThrow()))
        .containsExactly(
            new FieldChanges.Field("about", "", "new"),
            new FieldChanges.Field("schedule.at", "04:00", "04:00, 16:00"),
            new FieldChanges.Field("title", "Tide", ""));
    assertThat(
            FieldChanges.between(
                null, now.document(Kind.BUSINESS_CALENDAR, "office").orElseThrow()))
        .extracting(FieldChanges.Field::field)
        .containsExactly("business-calendar", "without");
  }
}
