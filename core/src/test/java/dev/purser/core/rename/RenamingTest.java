package dev.purser.core.rename;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.check.Uses;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Named;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.reading.SourceFile;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class RenamingTest {
  private static final String WORLD =
      """
      host: pier
      labels: [quay]
      ---
      host-group: quays
      labels: [quay]
      ---
      holiday-calendar: skerry
      holidays: [{ day: 1 january, name: First }]
      ---
      business-calendar: office
      working: weekdays
      without: [skerry]
      ---
      template: night
      parameters: { boat: { type: text } }
      of-stream:
        jobs:
          sail: { host: pier, run: "./sail $<boat>" }
      ---
      stream: fuel/oil
      from-template: night
      with: { boat: tern }
      ---
      stream: crew/rosters   # the office of crews
      calendar: office
      schedule: { days: business days of office, at: "20:00", zone: UTC }
      jobs:
        publish: { host: any of quays, run: ./office }
        after: { host: pier, run: ./x, waits-for: crew/rosters/publish succeeded }
      ---
      stream: night/manifest
      jobs:
        # once crew/rosters/publish is there
        build:
          host: pier
          waits-for: >-
            crew/rosters/publish succeeded
            and crew/rosters succeeded
          run: ./build ${value out of crew/rosters/publish} my-crew/rosters
          parameters: { from: crew/rosters-old }
      """;

  private static Definitions read(String text) {
    DefinitionCheck.Result result =
        DefinitionCheck.check(
            Definitions.none(), List.of(new SourceFile("w.yaml", text)), LocalDate.of(2027, 3, 4));
    assertThat(result.isSound()).as(result.problems().toString()).isTrue();
    return result.definitions();
  }

  private static String joined(List<SourceFile> texts) {
    return String.join("\n", texts.stream().map(SourceFile::text).toList());
  }

  /** Renamed and applied, nothing names the old one, and what was sound is sound. */
  @ParameterizedTest
  @CsvSource({
    "stream, crew/rosters, crew/lists, 2",
    "stream, fuel/oil, fuel/heavy, 1",
    "business-calendar, office, offices, 2",
    "holiday-calendar, skerry, skerries, 2",
    "host-group, quays, piers, 2",
    "template, night, evening, 2"
  })
  void whateverNamesItNamesItAnew(String kind, String from, String to, int many) {
    Definitions before = read(WORLD);
    Named what = new Named(Kind.of(kind).orElseThrow(), from);
    List<SourceFile> texts = Renaming.texts(before, what, to);
    assertThat(texts).hasSize(many);
    DefinitionCheck.Result after =
        DefinitionCheck.check(
            before.with(List.of(), List.of(before.document(what.kind(), from).orElseThrow())),
            texts,
            LocalDate.of(2027, 3, 4));
    assertThat(after.isSound()).as(after.problems().toString()).isTrue();
    assertThat(after.definitions().document(what.kind(), to)).isPresent();
    assertThat(Uses.in(after.definitions()).of(what)).isEmpty();
    assertThat(Uses.in(after.definitions()).of(new Named(what.kind(), to)))
        .hasSameSizeAs(Uses.in(before).of(what));
    Definitions back =
        DefinitionCheck.check(
                after
                    .definitions()
                    .with(
                        List.of(),
                        List.of(after.definitions().document(what.kind(), to).orElseThrow())),
                Renaming.texts(after.definitions(), new Named(what.kind(), to), from),
                LocalDate.of(2027, 3, 4))
            .definitions();
    before
        .documents()
        .forEach(
            one ->
                assertThat(back.document(one.kind(), one.name()).map(it -> it.text()))
                    .isEqualTo(Optional.of(one.text())));
  }

  @Test
  void nothingElseChanges() {
    String text =
        joined(Renaming.texts(read(WORLD), new Named(Kind.STREAM, "crew/rosters"), "crew/lists"));
    assertThat(text)
        .contains("stream: crew/lists   # the office of crews")
        .contains("waits-for: crew/lists/publish succeeded")
        .contains("      crew/lists/publish succeeded\n", "      and crew/lists succeeded\n")
        .contains("${value out of crew/lists/publish} my-crew/rosters")
        .contains("from: crew/rosters-old");
    String calendar =
        joined(Renaming.texts(read(WORLD), new Named(Kind.BUSINESS_CALENDAR, "office"), "desk"));
    assertThat(calendar)
        .contains("# the office of crews", "run: ./office")
        .contains("calendar: desk", "business days of desk");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "stream            | crew/roster  | a/b          | did you mean \"crew/rosters\"?",
        "stream            | crew/rosters | fuel/oil     | there is a stream fuel/oil already",
        "business-calendar | office       | skerry       | there is a holiday calendar skerry already",
        "host              | pier         | quay         | a host cannot be renamed"
      })
  void whatCannotBeIsRefused(String kind, String from, String to, String expected) {
    Named what = new Named(Kind.of(kind).orElseThrow(), from);
    assertThatThrownBy(() -> Renaming.texts(read(WORLD), what, to))
        .isInstanceOf(NotUnderstood.class)
        .hasMessageContaining(expected);
  }
}
