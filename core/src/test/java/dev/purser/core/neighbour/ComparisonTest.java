package dev.purser.core.neighbour;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Named;
import dev.purser.core.parcel.ParcelOrigin;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.OptionalLong;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class ComparisonTest {
  private static final Named BOARDS = new Named(Kind.STREAM, "quay/tide-boards");
  private static final Instant AT = Instant.parse("2027-03-04T10:00:00Z");

  private static Side side(String text, long revision, String origin) {
    return new Side(text, revision, AT, "ada", origin == null ? "" : origin);
  }

  private static Comparison comparison(OptionalLong brought, List<String> texts) {
    return new Comparison(
        "live",
        "test",
        new Comparison.Past() {
          @Override
          public OptionalLong lastBrought(Named what) {
            return brought;
          }

          @Override
          public boolean was(Named what, String text) {
            return texts.contains(text);
          }
        });
  }

  @ParameterizedTest(name = "{0}, {1}")
  @CsvSource(
      nullValues = "-",
      textBlock =
          """
          # origin here, origin there,                  before, expected
          'parcel from test, revision 20', -,                 -, newer there
          'parcel from test, revision 30', -,                 -, differs
          'parcel from test, revision 31 (packed by ada)', -, -, differs
          -, 'parcel from live, revision 11',                 -, newer here
          -, 'parcel from live, revision 12',                 -, differs
          -, -,                                              29, changed on both sides
          -, -,                                              30, newer here
          -, -,                                               -, differs
          'parcel from elsewhere, revision 3', -,             -, differs
          'parcel from elsewhere, revision 3', -,            20, changed on both sides
          'commit 0a1b by berit: parcel from test, revision 1', -, -, differs
          """)
  void whichIsNewerIsToldByWhatWasCarriedOver(
      String originHere, String originThere, Long before, String expected) {
    Comparison comparison =
        comparison(before == null ? OptionalLong.empty() : OptionalLong.of(before), List.of());
    List<Difference> found =
        comparison.of(
            Map.of(BOARDS, side("title: Boards", 12, originHere)),
            Map.of(BOARDS, side("title: Tide boards", 30, originThere)));
    assertThat(found).hasSize(1);
    assertThat(found.get(0).standing().words()).isEqualTo(expected);
    assertThat(found.get(0).fields())
        .extracting(one -> one.field() + ": " + one.before() + " → " + one.after())
        .containsExactly("title: Boards → Tide boards");
  }

  @Test
  void whatWasHereBeforeIsOlderThere() {
    List<Difference> found =
        comparison(OptionalLong.empty(), List.of("title: Old"))
            .of(
                Map.of(BOARDS, side("title: New", 12, "")),
                Map.of(BOARDS, side("title: Old", 3, "")));
    assertThat(found).extracting(Difference::standing).containsExactly(Standing.NEWER_HERE);
  }

  @Test
  void commentsAndTheOrderOfKeysDoNotCount() {
    Comparison comparison = new Comparison("live", "test", Comparison.Past.UNKNOWN);
    assertThat(
            comparison.of(
                Map.of(BOARDS, side("title: A\nowner: night-desk # always\n", 1, "")),
                Map.of(BOARDS, side("owner: night-desk\ntitle: A\n", 9, ""))))
        .isEmpty();
  }

  @ParameterizedTest
  @ValueSource(strings = {"a: [", "- a\n- b\n", "just words", "a: *nothing", "a: 1\na: 2"})
  void whatCannotBeReadDiffers(String text) {
    List<Difference> found =
        new Comparison("live", "test", Comparison.Past.UNKNOWN)
            .of(Map.of(BOARDS, side("a: 1", 1, "")), Map.of(BOARDS, side(text, 2, "")));
    assertThat(found).extracting(Difference::standing).containsExactly(Standing.DIFFERENT);
  }

  @Test
  void whatOneSideAloneHasIsSaidByKindAndName() {
    Named other = new Named(Kind.HOLIDAY_CALENDAR, "harbour");
    Named third = new Named(Kind.STREAM, "quay/lamps");
    List<Difference> found =
        new Comparison("live", "test", Comparison.Past.UNKNOWN)
            .of(
                Map.of(BOARDS, side("a: 1", 1, ""), third, side("a: 1", 1, "")),
                Map.of(other, side("a: 1", 1, ""), third, side("a: 1", 2, "")));
    assertThat(found)
        .extracting(one -> one.what() + " " + one.standing().words())
        .containsExactlyInAnyOrder(
            "holiday-calendar harbour only there", "stream quay/tide-boards only here");
    assertThat(found).extracting(Difference::what).isSorted();
  }

  @ParameterizedTest
  @CsvSource({"test,31", "'',1", "'a, revision 3',9", "north quay,999999999999999999"})
  void anOriginIsReadAsItWasWritten(String from, long revision) {
    ParcelOrigin origin = new ParcelOrigin(from, revision);
    String onRecord = origin.inWords() + " (packed by ada, sum 0123)";
    assertThat(ParcelOrigin.read(onRecord).map(ParcelOrigin::inWords))
        .hasValueSatisfying(words -> assertThat(onRecord).startsWith(words));
    if (!from.contains(",")) {
      assertThat(ParcelOrigin.read(onRecord)).contains(origin);
    }
  }
}
