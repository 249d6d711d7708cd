package dev.purser.core.parameter;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.calendar.Calendars;
import java.time.LocalDate;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class TemplateTest {
  private static final LocalDate FRIDAY = LocalDate.of(2027, 3, 5);

  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      textBlock =
          """
          ./close ${date}                        ; ./close 2027-03-05
          ${date - 1 month | yyyy-MM}            ; 2027-02
          ${date + 2 business days | yyyyMMdd}   ; 20270309
          ${date + 2 days}                       ; 2027-03-07
          ${date - 1 quarter | yyyy}             ; 2026
          ${deck}/${job}                         ; upper/load
          $${deck} and $HOME                     ; ${deck} and $HOME
          """)
  void placeholdersAreFilledIn(String text, String expected) {
    Map<String, String> values = Map.of("deck", "upper", "job", "load");
    Template.check(text, values.keySet());
    assertThat(Template.fill(text, FRIDAY, Calendars.NONE, values)).isEqualTo(expected);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      textBlock =
          """
          ${dek}                ; did you mean "deck"
          ${date - 1 moon}      ; unknown placeholder
          ${date | bb}          ; cannot use the date pattern
          """)
  void aPlaceholderThatCannotBeFilledInIsFoundBeforehand(String text, String message) {
    assertThatThrownBy(() -> Template.check(text, Set.of("deck"))).hasMessageContaining(message);
  }
}
