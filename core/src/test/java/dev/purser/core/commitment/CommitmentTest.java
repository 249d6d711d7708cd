package dev.purser.core.commitment;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import dev.purser.core.plan.Planner;
import dev.purser.core.problem.Problem;
import dev.purser.core.reading.SourceFile;
import java.time.Duration;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What commitments rest on, when they are kept, and which of them are wrong. */
class CommitmentTest {
  private static final LocalDate DATE = LocalDate.of(2027, 3, 4);
  private static final String WORLD =
      """
      host: quay
      ---
      file-watch: feed
      host: quay
      path: /in/feed.csv
      ---
      stream: crew
      schedule: { days: every day, at: "20:00", zone: Europe/Oslo }
      jobs:
        roster: { host: quay, run: x, usually: 30m }
        publish: { host: quay, run: x, waits-for: roster succeeded, usually: 10m to 20m }
      ---
      stream: inner
      jobs:
        one: { host: quay, run: x }
        two: { host: quay, run: x, waits-for: one succeeded }
      ---
      stream: night
      schedule: { days: weekdays, at: "21:30", zone: Europe/Oslo }
      jobs:
        close: { host: quay, run: x, waits-for: file feed arrived, usually: 10m }
        check: { host: quay, run: x, waits-for: check succeeded on the previous business date }
        step: { stream: inner, waits-for: check succeeded }
        build:
          host: quay
          run: x
          waits-for: close succeeded and crew/publish succeeded and step succeeded
          usually: 15m to 20m
        file: { host: quay, run: x, waits-for: build succeeded }
        apart: { host: quay, run: x }
      ---
      stream: often
      schedule: { days: every day, every: 2h between 06:00 and 10:00, zone: UTC }
      jobs:
        load: { host: quay, run: x }
        done: { host: quay, run: x, waits-for: load succeeded, not-before: "06:30" }
      """;

  private static DefinitionCheck.Result check(String commitment) {
    return DefinitionCheck.check(
        Definitions.none(),
        List.of(new SourceFile("f", WORLD + "---\n" + commitment.replace("; ", "\n"))),
        DATE);
  }

  private static Definitions sound(String commitment) {
    DefinitionCheck.Result result = check(commitment);
    assertThat(result.problems()).filteredOn(Problem::isError).isEmpty();
    return result.definitions();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          of: night/file; within: 1h                       | night/file night/build night/close crew/publish night/step night/check crew/roster night/step/one night/step/two | feed |
          of: night/close; within: 1h                      | night/close                               | feed |
          of: crew; within: 1h                             | crew/roster crew/publish                  |      |
          of: night/file; within: 1h; leave-out: [crew, night/step] | night/file night/build night/close | feed | crew/publish crew/roster night/check night/step night/step/one night/step/two
          of: night/step/two; within: 1h                   | night/step/two night/step/one night/check |      |
          of: night/file; within: 1h; begins-after: night/build | night/file                           |      | crew/publish crew/roster night/build night/check night/close night/step night/step/one night/step/two
          """)
  void aLineageGoesThroughPrerequisitesStepsAndFiles(
      String said, String jobs, String watches, String cutOff) {
    Definitions all = sound("commitment: c; " + said);
    Lineage lineage = Lineage.of(all, all.commitment("c").orElseThrow());
    assertThat(lineage.jobs()).containsExactlyInAnyOrder(jobs.split(" "));
    assertThat(String.join(" ", lineage.watches())).isEqualTo(watches == null ? "" : watches);
    assertThat(String.join(" ", lineage.cutOff())).isEqualTo(cutOff == null ? "" : cutOff);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          of: night/file; done-by: "22:00"; zone: Europe/Oslo             | 2027-03-04 | c@2027-03-04 2027-03-04T21:00:00Z
          of: night/file; done-by: "06:00"; zone: Europe/Oslo             | 2027-03-04 | c@2027-03-04 2027-03-05T05:00:00Z
          of: night/file; done-by: "06:00 next day"; zone: Europe/Oslo    | 2027-03-04 | c@2027-03-04 2027-03-05T05:00:00Z
          of: night/file; done-by: "06:00 3 days later"; zone: Europe/Oslo | 2027-03-04 | c@2027-03-04 2027-03-07T05:00:00Z
          of: often/done; done-by: "11:00"; zone: UTC                     | 2027-03-04 | c@2027-03-04 2027-03-04T11:00:00Z
          of: night/file; within: 2h                                      | 2027-03-04 | c@2027-03-04 2027-03-04T21:00:00Z
          of: often/done; within: 1h                                      | 2027-03-04 | c@2027-03-04 2027-03-04T07:00:00Z, c@2027-03-04#2 2027-03-04T09:00:00Z, c@2027-03-04#3 2027-03-04T11:00:00Z
          of: night/file; as-usual: yes                                   | 2027-03-04 | c@2027-03-04 2027-03-04T20:30:00Z
          of: night/file; within: 2h; days: mondays                       | 2027-03-04 |
          of: night/file; within: 2h                                      | 2027-03-06 |
          # the clock is put forward in the night
          of: night/file; done-by: "02:30"; zone: Europe/Oslo             | 2027-03-26 | c@2027-03-26 2027-03-27T01:30:00Z
          """)
  void aPromiseIsKeptByATime(String said, LocalDate date, String expected) {
    Definitions all = sound("commitment: c; " + said.replace("mondays", "monday"));
    List<String> promised =
        new Promises(all, Map.of("c", Duration.ofMinutes(90)))
            .of(date, new Planner(all).plan(date)).stream()
                .map(one -> one.reference() + " " + one.by().orElseThrow())
                .toList();
    assertThat(String.join(", ", promised)).isEqualTo(expected == null ? "" : expected);
  }

  @Test
  void whatIsUsualPromisesNoTimeWhileNothingIsKnown() {
    Definitions all = sound("commitment: c; of: night/file; as-usual: yes");
    assertThat(new Promises(all, Map.of()).of(DATE, new Planner(all).plan(DATE)))
        .singleElement()
        .satisfies(one -> assertThat(one.by()).isEmpty());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          of: night/filed; within: 1h            | unknown job or stream "night/filed"
          of: night/file                         | a commitment promises one thing
          of: night/file; within: 1h; as-usual: yes | a commitment promises one thing
          of: night/file; as-usual: no           | promises nothing
          of: night/file; within: 0s             | nothing is done within no time
          of: night/file; done-by: "25:00"; zone: UTC | cannot read "25:00"
          of: night/file; done-by: "22:00"       | "done-by" needs "zone"
          of: night/file; within: 1h; zone: UTC  | is the clock of "done-by"
          of: night/file; within: 1h; warn-at: 0 % | cannot read "0 %"; expected 1 % to 100 %
          of: night/file; within: 1h; leave-out: night | is itself left out of its lineage by night
          of: night/file; within: 1h; days: sunday | it promises nothing: on no date of the next year is night/file planned on its days (sunday)
          of: night/file; within: 1h; leave-out: night/apart | leaving it out changes nothing
          of: night/file; done-by: "21:40"; zone: Europe/Oslo | it can hardly be kept: on 2027-03-04 night/file ends at 21:55 (Europe/Oslo) at the earliest
          of: night/file; within: 1h; owner: nobody; history-from: soon | expected a date such as
          """)
  void whatIsWrongIsTold(String said, String expected) {
    assertThat(check("commitment: c; " + said).problems())
        .extracting(Problem::toString)
        .anySatisfy(problem -> assertThat(problem).contains(expected));
  }

  @Test
  void aLineageOfTwentyThousandJobsIsFoundAtOnce() {
    StringBuilder jobs = new StringBuilder("host: quay\n---\nstream: long\njobs:\n");
    for (int i = 0; i < 20_000; i++) {
      jobs.append("  j").append(i).append(": { host: quay, run: x");
      jobs.append(i == 0 ? " }\n" : ", waits-for: j" + (i - 1) + " succeeded }\n");
    }
    jobs.append("---\ncommitment: c\nof: long/j19999\nwithin: 20h\n");
    DefinitionCheck.Result result =
        DefinitionCheck.check(
            Definitions.none(), List.of(new SourceFile("f", jobs.toString())), DATE);
    Definitions all = result.definitions();
    assertThat(Lineage.of(all, all.commitment("c").orElseThrow()).jobs()).hasSize(20_000);
  }
}
