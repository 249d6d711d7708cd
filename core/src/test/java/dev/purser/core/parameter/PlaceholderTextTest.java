package dev.purser.core.parameter;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.calendar.Calendars;
import java.time.LocalDate;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class PlaceholderTextTest {
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
          ${first day of prior month | yyyyMMdd} ; 20270201
          ${last business day of prior month}    ; 2027-02-26
          ${last day of this quarter | dd.MM.}   ; 31.03.
          ${first business day of next year}     ; 2028-01-03
          ${first day of this week}              ; 2027-03-01
          ${date - 1 quarter | yyyy'Q'Q}         ; 2026Q4
          ${window.start | HHmm}                 ; 0615
          ${out}                                 ; /srv/upper/20270304
          $${deck} and $HOME                     ; ${deck} and $HOME
          """)
  void placeholdersAreFilledIn(String text, String expected) {
    Map<String, String> values =
        Map.of(
            "deck", "upper",
            "job", "load",
            "window.start", "2027-03-05T06:15:00+01:00",
            "out", "/srv/${deck}/${date - 1 day | yyyyMMdd}");
    PlaceholderText.check(text, values.keySet());
    assertThat(PlaceholderText.fill(text, FRIDAY, Calendars.NONE, values)).isEqualTo(expected);
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
    assertThatThrownBy(() -> PlaceholderText.check(text, Set.of("deck")))
        .hasMessageContaining(message);
  }

  @Test
  void valuesOfOtherJobsAreFilledInAndTheirAbsenceIsNamed() {
    String text = "./load --rows ${value rows of count}";
    assertThat(PlaceholderText.asked(text).handedBack())
        .containsExactly(new PlaceholderText.ValueOf("rows", "count"));
    assertThat(
            PlaceholderText.fill(
                text, FRIDAY, Calendars.NONE, Map.of(), (name, job) -> Optional.of(job + name)))
        .isEqualTo("./load --rows countrows");
    assertThatThrownBy(() -> PlaceholderText.fill(text, FRIDAY, Calendars.NONE, Map.of()))
        .hasMessageContaining("count handed back no \"rows\"");
  }

  @Test
  void parametersThatAskForEachOtherAreRefused() {
    Map<String, String> values = Map.of("a", "${b}", "b", "${c}", "c", "${a}");
    assertThatThrownBy(() -> PlaceholderText.fill("${a}", FRIDAY, Calendars.NONE, values))
        .hasMessageContaining("a → b → c → a");
    assertThat(PlaceholderText.partly("${a} ${date} $${x}", Map.of("a", "1")))
        .isEqualTo("1 ${date} $${x}");
  }

  @Test
  void theStrongerLevelCountsWhateverTheOrder() {
    Parameters upwards =
        Parameters.NONE
            .with(Parameters.Origin.SITE, Map.of("a", "site", "b", "site"))
            .with(Parameters.Origin.START, Map.of("a", "start"));
    Parameters downwards =
        Parameters.NONE
            .with(Parameters.Origin.START, Map.of("a", "start"))
            .with(Parameters.Origin.SITE, Map.of("a", "site", "b", "site"));
    assertThat(upwards).isEqualTo(downwards);
    assertThat(upwards.of("a"))
        .contains(new Parameters.Effective("start", Parameters.Origin.START));
    assertThat(upwards.of(Parameters.Origin.SITE)).containsOnlyKeys("b");
  }

  /** Texts that others make up are read in one pass, whatever is in them. */
  @ParameterizedTest
  @ValueSource(
      strings = {
        "${date%s}",
        "${date | %s",
        "${",
        "$",
        "$$",
        "${value %s of",
        "case ",
        "esac;",
        "'${",
        "`"
      })
  @Timeout(5)
  void noTextTakesLong(String piece) {
    String once = piece.replace("%s", " ".repeat(50_000));
    String text = once.length() > 1_000 ? once : once.repeat(100_000 / once.length());
    ShellLine.values(text);
    try {
      PlaceholderText.asked(text);
      PlaceholderText.fill(text, FRIDAY, Calendars.NONE, Map.of());
    } catch (PlaceholderText.PlaceholderException e) {
      assertThat(e.getMessage()).isNotEmpty();
    }
  }
}
