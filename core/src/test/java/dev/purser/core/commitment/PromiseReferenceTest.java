package dev.purser.core.commitment;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.problem.NotUnderstood;
import java.time.LocalDate;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class PromiseReferenceTest {
  private static final LocalDate TODAY = LocalDate.parse("2027-03-04");

  @ParameterizedTest
  @CsvSource({
    "night-manifest,                     night-manifest, 2027-03-04, 1",
    "night-manifest@2027-03-03,          night-manifest, 2027-03-03, 1",
    "night-manifest@2027-03-03#2,        night-manifest, 2027-03-03, 2",
    "night-manifest@9999-12-31#999999,   night-manifest, 9999-12-31, 999999",
  })
  void itIsANameOrAPromise(String text, String name, LocalDate date, int number) {
    PromiseReference read = PromiseReference.of(text);
    assertThat(read.name()).isEqualTo(name);
    assertThat(read.date(null, TODAY)).isEqualTo(date);
    assertThat(read.number(null)).isEqualTo(number);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "",
        "@2027-03-04",
        "night-manifest@",
        "night-manifest@today",
        "night-manifest@2027-02-30",
        "night-manifest@2027-03-04#0",
        "night-manifest@2027-03-04#1000000",
        "night-manifest#2",
        "night-manifest@2027-03-04@2027-03-04",
        "night-manifest@2027-03-04\n"
      })
  void elseItSaysWhatWouldBeRight(String text) {
    assertThatThrownBy(() -> PromiseReference.of(text))
        .isInstanceOf(NotUnderstood.class)
        .hasMessageContaining(text)
        .hasMessageContaining("right would be night-manifest, night-manifest@2027-03-04");
  }

  @Test
  void whatIsSaidBesideItMustBeTheSame() {
    PromiseReference read = PromiseReference.of("night-manifest@2027-03-03#2");
    assertThat(read.date(LocalDate.parse("2027-03-03"), TODAY)).isEqualTo("2027-03-03");
    assertThat(read.number(2)).isEqualTo(2);
    assertThatThrownBy(() -> read.date(TODAY, TODAY))
        .hasMessage("night-manifest is given two dates, 2027-03-03 and 2027-03-04; give one");
    assertThatThrownBy(() -> read.number(1))
        .hasMessage("night-manifest is given two numbers, 2 and 1; give one");
    PromiseReference alone = PromiseReference.of("night-manifest");
    assertThat(alone.date(LocalDate.parse("2027-03-03"), TODAY)).isEqualTo("2027-03-03");
    assertThat(alone.number(3)).isEqualTo(3);
  }
}
