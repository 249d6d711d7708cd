package dev.purser.core.plan;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.LocalDate;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class HoldsFromTest {
  private static final LocalDate TODAY = LocalDate.of(2027, 3, 4);

  @ParameterizedTest
  @CsvSource({
    "planned,    PLANNED, true, true",
    "'',         PLANNED, true, true",
    "next-date,  PLANNED, false, true",
    "2027-03-04, PLANNED, true, true",
    "2027-03-05, PLANNED, false, true",
    "9999-12-31, PLANNED, false, false",
    "' now ',    OPEN, true, true",
    "running,    RUNNING, true, true"
  })
  void whatAnAuthorWrites(String text, HoldsFrom.What what, boolean today, boolean tomorrow) {
    HoldsFrom from = HoldsFrom.parse(text, TODAY);
    assertThat(from.what()).isEqualTo(what);
    assertThat(from.holdsOn(TODAY)).isEqualTo(today);
    assertThat(from.holdsOn(TODAY.plusDays(1))).isEqualTo(tomorrow);
    assertThat(from.inWords())
        .startsWith(from.date().isPresent() ? "from business date" : "for all");
  }

  @ParameterizedTest
  @ValueSource(
      strings = {"tonight", "NOW", "2027-3-4", "2027-02-30", "+12345-01-01", "-0001-01-01", "0"})
  void whatIsNoneOfTheFormsIsRefused(String text) {
    assertThatThrownBy(() -> HoldsFrom.parse(text, TODAY))
        .hasMessageContaining("cannot hold from \"" + text + "\"")
        .hasMessageContaining("next-date");
  }

  @ParameterizedTest
  @ValueSource(strings = {"2027-03-03", "0001-01-01"})
  void whatIsPastIsRefused(String text) {
    assertThatThrownBy(() -> HoldsFrom.parse(text, TODAY))
        .hasMessageContaining("which is past; give 2027-03-04 or later");
  }
}
