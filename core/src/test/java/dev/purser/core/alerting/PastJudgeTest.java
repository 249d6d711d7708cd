package dev.purser.core.alerting;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import dev.purser.core.reading.SourceFile;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class PastJudgeTest {
  private static final long MINUTE = 60_000;

  private static PastJudge judge(String rules) {
    String text =
        "host: h\n---\nstream: s\nalerts: [ %s ]\njobs: { j: { host: h, run: x } }"
            .formatted(rules);
    DefinitionCheck.Result result =
        DefinitionCheck.check(
            Definitions.none(), List.of(new SourceFile("a.yaml", text)), LocalDate.of(2027, 3, 4));
    assertThat(result.isSound()).as("" + result.problems()).isTrue();
    return new PastJudge(result.definitions().alertRules());
  }

  private static PastJudge.Past run(
      long day, long took, String outcome, Map<String, String> values) {
    long start = day * 1440 * MINUTE;
    return new PastJudge.Past(
        "s/j", "s/j@" + day, start, start + took, outcome, 2, Optional.ofNullable(values));
  }

  private static List<String> said(PastJudge judge, PastJudge.Past... runs) {
    List<String> all = new ArrayList<>();
    for (PastJudge.Past one : runs) {
      judge.of(one).forEach(w -> all.add(w.kind().word() + " " + w.reference() + " " + w.text()));
    }
    return all;
  }

  /** What is usual is what was known then: the sixth is the first that can be too quick. */
  @Test
  void tooQuickGoesByTheRunsBefore() {
    PastJudge judge = judge("{ kind: too-quick, below: 50 % }, { kind: failed, none: yes }");
    List<PastJudge.Past> runs = new ArrayList<>();
    for (long day = 1; day <= 5; day++) {
      runs.add(run(day, 10 * MINUTE, "succeeded", Map.of()));
    }
    runs.add(run(6, 4 * MINUTE, "failed", Map.of()));
    runs.add(run(7, 4 * MINUTE, "succeeded", Map.of()));
    runs.add(run(8, 6 * MINUTE, "succeeded", Map.of()));
    assertThat(said(judge, runs.toArray(PastJudge.Past[]::new)))
        .containsExactly("too-quick s/j@7 was done in 4m, and usually takes 10m");
  }

  @Test
  void aValueThatIsNotOnRecordIsNoAlert() {
    PastJudge judge = judge("{ kind: value, when: value rows < 10 }, { kind: failed, none: yes }");
    assertThat(
            said(
                judge,
                run(1, 1, "succeeded", Map.of("rows", "3")),
                run(2, 1, "succeeded", Map.of("rows", "30")),
                run(3, 1, "succeeded", null),
                run(4, 1, "failed", Map.of("rows", "0"))))
        .containsExactly("value s/j@1 handed back rows = 3", "value s/j@4 handed back rows = 0");
  }

  @Test
  void eachOutcomeAsksForItsKind() {
    PastJudge judge =
        judge(
            "{ kind: started }, { kind: retried }, { kind: succeeded }, { kind: cancelled },"
                + " { kind: skipped }");
    assertThat(said(judge, run(1, 1, "succeeded", Map.of())))
        .extracting(text -> text.split(" ")[0])
        .containsExactly("started", "retried", "succeeded");
    assertThat(said(judge, run(2, 1, "failed", Map.of())))
        .extracting(text -> text.split(" ")[0])
        .containsExactly("started", "retried", "failed");
    assertThat(said(judge, run(3, 1, "cancelled", Map.of())))
        .last()
        .asString()
        .contains("cancelled");
    assertThat(said(judge, new PastJudge.Past("s/j", "r", 0, 5, "skipped", 0, Optional.empty())))
        .containsExactly("skipped r was skipped");
    assertThat(said(judge, new PastJudge.Past("gone/j", "r", 1, 5, "failed", 1, Optional.empty())))
        .as("a job that is defined no more is judged as without rules")
        .containsExactly("failed r failed");
  }

  /** The eleventh is the first of which enough is known; each counts for those after it. */
  @Test
  void anUnusualValueGoesByTheRunsBefore() {
    PastJudge judge = judge("{ kind: value, unusual: rows }, { kind: failed, none: yes }");
    List<PastJudge.Past> runs = new ArrayList<>();
    for (long day = 1; day <= 10; day++) {
      runs.add(run(day, MINUTE, "succeeded", Map.of("rows", "" + (100 + day))));
    }
    runs.add(run(11, MINUTE, "failed", Map.of("rows", "9999")));
    runs.add(run(12, MINUTE, "succeeded", Map.of("rows", "500")));
    runs.add(run(13, MINUTE, "succeeded", Map.of("rows", "500")));
    runs.add(run(14, MINUTE, "succeeded", null));
    assertThat(said(judge, runs.toArray(PastJudge.Past[]::new)))
        .containsExactly("value s/j@12 handed back rows = 500; its last 10 were from 101 to 110");
  }
}
