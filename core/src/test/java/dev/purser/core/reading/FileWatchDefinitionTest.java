package dev.purser.core.reading;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.definition.StartsOn;
import dev.purser.core.problem.Problem;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What a file watch, and a stream that files start, may say. */
class FileWatchDefinitionTest {
  private static final LocalDate TODAY = LocalDate.of(2027, 3, 1);
  private static final String SITE =
      """
      host: quay-north
      labels: [quay]
      ---
      host-group: quays
      labels: [quay]
      ---
      business-calendar: brannoch-office
      ---
      connection: brannoch-store
      address: http://127.0.0.1:8090
      ---
      """;
  private static final String WATCH =
      """
      file-watch: harbour-feed
      title: Berth list
      host: quay-north
      path: /in/${date | yyyy}/berths-${date | yyyyMMdd}-*.csv
      expected: { days: business days, from: "18:00", by: "06:15", zone: Europe/Oslo, calendar: brannoch-office }
      still-for: 30s
      minimum-size: 100
      companion: "${file.name}.done"
      checksum-file: "${file.stem}.sha256"
      last-line: END *
      set-of: 3
      not-older-than: 2d
      existing: ignore
      repeats: take
      case-sensitive: no
      look: every 10s
      after-use: move to /in/done
      grows-for: 30m
      unprocessed-for: 2h
      """;
  private static final String STREAM =
      """
      ---
      stream: harbour/berths
      starts-on: { file: harbour-feed, at-a-time: 2, in-order-of: name, after-failure: wait }
      jobs:
        read: { host: with the file, run: 'read "${file.path}" ${file.count}' }
      """;

  private static DefinitionCheck.Result check(String text) {
    return DefinitionCheck.check(
        Definitions.none(), List.of(new SourceFile("files.yaml", SITE + text)), TODAY);
  }

  @Test
  void allThatItSaysIsRead() {
    DefinitionCheck.Result result = check(WATCH + STREAM);
    assertThat(result.problems()).isEmpty();
    FileWatch watch = result.definitions().fileWatch("harbour-feed").orElseThrow();
    assertThat(watch.place()).isEqualTo(new FileWatch.Place.OnHost("quay-north"));
    assertThat(watch.pathOf(LocalDate.of(2027, 3, 4))).isEqualTo("/in/2027/berths-20270304-*.csv");
    assertThat(watch.whole())
        .isEqualTo(
            new FileWatch.Whole(
                Duration.ofSeconds(30),
                100,
                "${file.name}.done",
                "${file.stem}.sha256",
                "END *",
                3));
    assertThat(watch.handling())
        .isEqualTo(
            new FileWatch.Handling(
                false,
                FileWatch.Repeats.TAKE,
                false,
                Optional.of(Duration.ofDays(2)),
                Optional.of(Duration.ofSeconds(10)),
                FileWatch.AfterUse.MOVE,
                "/in/done",
                Duration.ofMinutes(30),
                Duration.ofHours(2)));
    FileWatch.Expected expected = watch.expected().orElseThrow();
    assertThat(expected.from()).isEqualTo(LocalTime.of(18, 0));
    assertThat(expected.calendar()).isEqualTo("brannoch-office");
    assertThat(result.definitions().stream("harbour/berths").orElseThrow().startsOn())
        .contains(new StartsOn("harbour-feed", 2, true, true));
  }

  @Test
  void whatIsNotSaidIsAsPeopleWouldExpect() {
    FileWatch watch =
        check("file-watch: w\nhost: each of quays\npath: /in/*.csv\n")
            .definitions()
            .fileWatch("w")
            .orElseThrow();
    assertThat(watch.place()).isEqualTo(new FileWatch.Place.OnEachOf("quays"));
    assertThat(watch.whole()).isEqualTo(FileWatch.Whole.USUAL);
    assertThat(watch.handling()).isEqualTo(FileWatch.Handling.USUAL);
    assertThat(watch.handling().repeats()).isEqualTo(FileWatch.Repeats.ASK);
    assertThat(watch.whole().minimumSize()).isEqualTo(1);
    assertThat(watch.expected()).isEmpty();
    assertThat(watch.isDated()).isFalse();
    assertThat(watch.freshFor()).isEqualTo(Duration.ofDays(1));
  }

  /** Due at 06:15 of the day after, with the clock change of 28 March 2027 in between. */
  @ParameterizedTest
  @CsvSource({
    "2027-03-04, 2027-03-04T17:00:00Z, 2027-03-05T05:15:00Z",
    "2027-03-27, 2027-03-27T17:00:00Z, 2027-03-28T04:15:00Z",
    "2027-10-30, 2027-10-30T16:00:00Z, 2027-10-31T05:15:00Z"
  })
  void aWindowAcrossMidnightBelongsToTheDateOnWhichItBegins(
      LocalDate date, Instant begins, Instant ends) {
    FileWatch.Expected expected =
        check(WATCH).definitions().fileWatch("harbour-feed").orElseThrow().expected().orElseThrow();
    assertThat(expected.zone()).isEqualTo(ZoneId.of("Europe/Oslo"));
    assertThat(expected.begins(date)).isEqualTo(begins);
    assertThat(expected.ends(date)).isEqualTo(ends);
  }

  @ParameterizedTest
  @CsvSource({
    "/in/${date | yyyyMMdd}.csv, 2027-03-04, 2027-03-04",
    "/in/${date | yyyyMM}.csv, 2027-03-04, 2027-03-01",
    "/in/${date | yyyy}/x.csv, 2027-03-04, 2027-01-01",
    "/in/${date - 1 month | yyyyMM}.csv, 2027-03-04, 2027-03-01",
    "/in/x.csv, 2027-03-04, 2027-03-04"
  })
  void datesOfTheSamePathHaveTheSameFiles(String path, LocalDate date, LocalDate key) {
    assertThat(FileWatch.of("w", "quay-north", path).keyDate(date)).isEqualTo(key);
  }

  /** Each row puts another line in the place of one of the sound watch. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          host: quay-north         | host: quay-nort                          | did you mean "quay-north"
          host: quay-north         | host: each of quay                       | did you mean "quays"
          host: quay-north         | host: any of quays                       | expected a host's name, or each of a group
          host: quay-north         | connection: brannoch-stor                | did you mean "brannoch-store"
          host: quay-north         | 'host: quay-north\nconnection: brannoch-store' | either a host
          host: quay-north         | title2: x                                | unknown key "title2"
          path: /in                | path: in                                 | expected an absolute path
          -*.csv                   | /                                        | ends with a slash
          path: /in/               | path: /in/../                            | leads out of the directory
          path: /in/               | path: /*/                                | only in the last part
          berths-${date            | berths-${dat                             | a path may hold the date: ${date
          berths-${date            | berths-${port}-${date                    | unknown placeholder ${port}
          -*.csv                   | -[a.csv                                  | is never closed
          -*.csv                   | -{a,b.csv                                | is never closed
          days: business days      | days: busines days                       | did you mean "business"
          zone: Europe/Oslo        | zone: Europe/Olso                        | did you mean "Europe/Oslo"
          by: "06:15"              | by: "26:15"                              | expected a time of day
          calendar: brannoch-office | calendar: branoch-office                | did you mean "brannoch-office"
          still-for: 30s           | still-for: soon                          | expected a duration
          minimum-size: 100        | minimum-size: 0                          | 1
          minimum-size: 100        | minimum-size: much                       | much
          "${file.name}.done"      | "${file.name}"                           | expected the name of a file in the same directory
          "${file.name}.done"      | "ok/${file.name}"                        | expected the name of a file in the same directory
          "${file.name}.done"      | "all.done"                               | expected the name of a file in the same directory
          last-line: END *         | 'last-line: "[END"'                      | is never closed
          set-of: 3                | set-of: 0                                | from 1 to 10000
          existing: ignore         | existing: keep                           | there is ignore, take
          repeats: take            | repeats: tke                             | did you mean "take"
          case-sensitive: no       | case-sensitive: maybe                    | maybe
          look: every 10s          | look: every 10ms                         | expected when told
          look: every 10s          | look: often                              | expected when told
          move to /in/done         | move /in/done                            | expected leave, remove, or move to a DIRECTORY
          move to /in/done         | move to /in/../done                      | expected a plain absolute directory
          file: harbour-feed       | file: harbor-feed                        | did you mean "harbour-feed"
          at-a-time: 2             | at-a-time: 0                             | from 1 to 1000
          in-order-of: name        | in-order-of: size                        | there is arrival, name
          after-failure: wait      | after-failure: stop                      | there is go on, wait
          jobs:                    | 'schedule: { days: weekdays, at: "06:00", zone: UTC }\njobs:' | either by its schedule or on files
          jobs:                    | 'asks-for: [port]\njobs:'                | nobody is there to give parameters
          ${file.count}            | ${file.counts}                           | did you mean "file.count"
          """)
  void eachMistakeIsSaidWithItsPlace(String right, String wrong, String message) {
    String text = WATCH + STREAM;
    assertThat(text).contains(right);
    DefinitionCheck.Result result = check(text.replace(right, wrong.replace("\\n", "\n")));
    assertThat(result.problems())
        .anySatisfy(problem -> assertThat(problem.message()).contains(message))
        .allSatisfy(problem -> assertThat(problem.line()).isPositive());
  }

  @Test
  void filesMovedToWhereTheyAreLookedForWouldBeFoundAgain() {
    assertThat(
            check("file-watch: w\nhost: quay-north\npath: /in/*.csv\nafter-use: move to /in/\n")
                .problems())
        .extracting(Problem::message)
        .containsExactly("files moved to where they are looked for would be found again");
  }

  @Test
  void aPatternThatMatchesEverythingIsWarnedOfAndHolds() {
    DefinitionCheck.Result result = check("file-watch: w\nhost: quay-north\npath: /in/*\n");
    assertThat(result.problems())
        .singleElement()
        .satisfies(
            problem -> {
              assertThat(problem.message()).contains("matches every file of the directory");
              assertThat(problem.isError()).isFalse();
            });
    assertThat(result.definitions().fileWatch("w")).isPresent();
  }
}
