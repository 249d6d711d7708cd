package dev.purser.core.icalendar;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.calendar.DayWorld;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.List;
import java.util.TreeMap;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class HolidayFileTest {
  private static final LocalDate TODAY = LocalDate.of(2027, 1, 1);
  private static final Instant STAMP = Instant.parse("2027-01-01T00:00:00Z");

  private static String file(String event) {
    return "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//Skerry council//EN\r\nBEGIN:VEVENT\r\nUID:1@skerry\r\n"
        + "DTSTAMP:20270101T000000Z\r\n"
        + event.replace(" / ", "\r\n")
        + "\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n";
  }

  private static HolidayFile.Imported read(String text) {
    return HolidayFile.read("skerry.ics", text, TODAY);
  }

  /** What is in an event, and the days that it means in 2027 and 2028. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          SUMMARY:Seal Day / DTSTART;VALUE=DATE:20270218 | 2027-02-18
          SUMMARY:Regatta / DTSTART;VALUE=DATE:20270801 / DTEND;VALUE=DATE:20270804 | 2027-08-01 2027-08-02 2027-08-03
          SUMMARY:Regatta / DTSTART;VALUE=DATE:20270801 / DURATION:P2D | 2027-08-01 2027-08-02
          SUMMARY:Midwinter / DTSTART;VALUE=DATE:20201225 / RRULE:FREQ=YEARLY | 2027-12-25 2028-12-25
          SUMMARY:Yule / DTSTART;VALUE=DATE:20201224 / DTEND;VALUE=DATE:20201226 / RRULE:FREQ=YEARLY | 2027-12-24 2027-12-25 2028-12-24 2028-12-25
          SUMMARY:Fair / DTSTART;VALUE=DATE:20270104 / RRULE:FREQ=MONTHLY;BYDAY=1MO;COUNT=3 | 2027-01-04 2027-02-01 2027-03-01
          SUMMARY:Fair / DTSTART;VALUE=DATE:20270104 / RRULE:FREQ=MONTHLY;BYDAY=1MO;UNTIL=20270401 / EXDATE;VALUE=DATE:20270201 | 2027-01-04 2027-03-01
          SUMMARY:Tides / DTSTART;VALUE=DATE:20270510 / RDATE;VALUE=DATE:20270611,20280712 | 2027-05-10 2027-06-11 2028-07-12
          SUMMARY:Odd start / DTSTART;VALUE=DATE:20270102 / RRULE:FREQ=YEARLY;BYMONTH=5;BYDAY=1MO | 2027-01-02 2027-05-03 2028-05-01
          SUMMARY:Same day / DTSTART;VALUE=DATE:20270609 / DTEND;VALUE=DATE:20270609 | 2027-06-09
          """)
  void wholeDaysAreReadWithTheirRecurrence(String event, String expected) {
    HolidayFile.Imported imported = read(file(event));
    assertThat(imported.problems()).isEmpty();
    DayRule rule = imported.holidays().get(0).days();
    assertThat(rule.pick(TODAY, LocalDate.of(2028, 12, 31), Calendars.NONE).days())
        .isEqualTo(Arrays.stream(expected.split(" ")).map(LocalDate::parse).toList());
    Calendars again = DayWorld.of(HolidayFile.definition("skerry", "", imported.holidays()));
    assertThat(again.closedDays("skerry", TODAY, LocalDate.of(2028, 12, 31)).keySet())
        .containsExactlyElementsOf(rule.pick(TODAY, LocalDate.of(2028, 12, 31), again).days());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          SUMMARY:Meeting / DTSTART:20270218T090000Z | 4 | "Meeting" has a time of day; a calendar is made of whole days
          SUMMARY:Meeting / DTSTART;TZID=Europe/Oslo:20270218T090000 | 4 | has a time of day
          SUMMARY:Backwards / DTSTART;VALUE=DATE:20270218 / DTEND;VALUE=DATE:20270210 | 4 | ends before it begins
          SUMMARY:Nothing | 4 | "Nothing" has no DTSTART
          SUMMARY:Hourly / DTSTART;VALUE=DATE:20270218 / RRULE:FREQ=HOURLY | 4 | whole days
          SUMMARY:Garbled / DTSTART;VALUE=DATE:2027-02-xx | 8 | DTSTART
          SUMMARY:Long / DTSTART;VALUE=DATE:20270101 / DTEND;VALUE=DATE:20270601 / RRULE:FREQ=YEARLY | 4 | lasts more than 60 days
          """)
  void whatCannotBeTakenIsNamedWithItsLine(String event, int line, String message) {
    HolidayFile.Imported imported = read(file(event));
    assertThat(imported.isSound()).isFalse();
    assertThat(imported.problems())
        .anySatisfy(
            problem -> {
              assertThat(problem.message()).contains(message);
              assertThat(problem.line()).isEqualTo(line);
            });
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "",
        "hello",
        "<html>not found</html>",
        "BEGIN:VCALENDAR\r\nEND:VCALENDAR\r\n",
        "BEGIN:VCALENDAR\r\nBEGIN:VEVENT\r\nDTSTART;VALUE=DATE:20270101\r\n",
        "BEGIN:VCALENDAR\r\nEND:VEVENT\r\nEND:VCALENDAR\r\n"
      })
  void aBrokenFileIsRefused(String text) {
    assertThat(read(text).isSound()).isFalse();
    assertThat(read(text).holidays()).isEmpty();
  }

  @Test
  void aFileThatEndsBeforeTodayIsAWarning() {
    HolidayFile.Imported imported =
        read(file("SUMMARY:Past / DTSTART;VALUE=DATE:20200101 / RRULE:FREQ=YEARLY;COUNT=3"));
    assertThat(imported.isSound()).isTrue();
    assertThat(imported.last()).contains(LocalDate.of(2022, 1, 1));
    assertThat(imported.problems().get(0).message())
        .isEqualTo("its last day is 2022-01-01: it has nothing from today on");
    assertThat(read(file("SUMMARY:On / DTSTART;VALUE=DATE:20200101 / RRULE:FREQ=YEARLY")).last())
        .isEmpty();
  }

  /**
   * Out and in again gives the same closed days with the same names, with our own property and
   * without.
   */
  @ParameterizedTest
  @CsvSource({
    "brannoch, true", "brannoch, false", "skerry, true", "skerry, false", "kept, false",
    "near, false", "sound, true", "sound, false", "brannoch-office, true", "brannoch-office, false"
  })
  void aCalendarGoesOutAndComesBackTheSame(String calendar, boolean withOwnProperty) {
    LocalDate from = TODAY;
    LocalDate to = LocalDate.of(2031, 12, 31);
    String out = CalendarWriter.closedDays(calendar, DayWorld.CALENDARS, from, to, STAMP);
    String text = withOwnProperty ? out : withoutOwn(out);
    HolidayFile.Imported imported = read(text);
    assertThat(imported.problems()).isEmpty();
    Calendars again = DayWorld.of(HolidayFile.definition("again", "", imported.holidays()));
    assertThat(new TreeMap<>(again.closedDays("again", from, to)))
        .isEqualTo(new TreeMap<>(DayWorld.CALENDARS.closedDays(calendar, from, to)));
    if (withOwnProperty && calendar.equals("brannoch")) {
      assertThat(imported.holidays())
          .extracting(holiday -> holiday.days().toString())
          .contains("last monday of month and 1 march to 31 march", "24 december to 26 december");
    }
  }

  private static String withoutOwn(String text) {
    return text.replace("\r\n ", "")
        .lines()
        .filter(line -> !line.startsWith(HolidayFile.DAYS))
        .reduce("", (a, b) -> a + b + "\r\n");
  }

  @Test
  void runsAreEventsThatKeepTheirIdentity() {
    List<CalendarWriter.Entry> runs =
        List.of(
            new CalendarWriter.Entry(
                "passenger/refunds@2027-03-04#1",
                "Refunds, \"daily\"; all",
                Instant.parse("2027-03-04T05:15:00Z"),
                Instant.parse("2027-03-04T05:45:00Z"),
                "likely end"));
    String first = CalendarWriter.runs("refunds", runs, STAMP);
    assertThat(first)
        .contains(
            "DTSTART:20270304T051500Z",
            "DTEND:20270304T054500Z",
            "SUMMARY:Refunds\\, \"daily\"\\; all");
    assertThat(CalendarWriter.runs("refunds", runs, STAMP)).isEqualTo(first);
  }
}
