package dev.purser.core.calendar;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/** Every row of {@code days/cases.txt}: a rule, and the dates that its words mean. */
class DayRuleTableTest {

  static List<String> cases() throws IOException {
    return Files.readAllLines(Path.of("src/test/resources/days/cases.txt")).stream()
        .filter(line -> !line.startsWith("#"))
        .toList();
  }

  @ParameterizedTest
  @MethodSource("cases")
  void aRulePicksTheDaysThatItsWordsSay(String row) {
    String[] parts = row.split(" \\| ");
    DayRule rule = DayRuleParser.parse(parts[0]);
    Calendars calendars =
        parts[1].equals("-") ? DayWorld.CALENDARS : DayWorld.CALENDARS.meaning(parts[1]);
    LocalDate from = LocalDate.parse(parts[2]);
    LocalDate to = LocalDate.parse(parts[3]);
    List<LocalDate> expected =
        parts[4].equals("none")
            ? List.of()
            : Arrays.stream(parts[4].split(" ")).map(LocalDate::parse).toList();
    assertThat(rule.pick(from, to, calendars).days()).isEqualTo(expected);
    assertThat(DayRuleParser.parse(rule.toString())).isEqualTo(rule);
    for (LocalDate day : List.of(from, to, from.plusDays(7))) {
      boolean picked = expected.contains(day);
      boolean inSpan = !day.isAfter(to);
      DayExplainer.Reason reason = DayExplainer.explain(rule, day, calendars);
      if (inSpan) {
        assertThat(reason.picked()).as(day.toString()).isEqualTo(picked);
      }
      assertThat(DayExplainer.inOneLine(reason)).isNotBlank();
    }
  }

  @Test
  void theTableIsLongEnoughToMatter() throws IOException {
    assertThat(cases()).hasSizeGreaterThanOrEqualTo(150).doesNotHaveDuplicates();
  }
}
