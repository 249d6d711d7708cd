package dev.purser.core.forecast;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.board.Pier;
import dev.purser.core.run.Action;
import dev.purser.core.run.RunState;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What hangs on people has no likely time, unless they have done the same often enough before. */
class PeopleInOutlookTest {
  private static final long MINUTE = 60_000;
  private static final String JOBS =
      """
      load: { host: quay-north, run: x, usually: 10m to 10m }
      ask: { approve: "Yes?", waits-for: load succeeded }
      send: { host: quay-north, run: x, usually: 5m to 5m, waits-for: ask succeeded, finish-by: "22:30" }
      free: { host: quay-south, run: x, usually: 5m to 5m }
      """;

  private static History answers(int count, long minutes) {
    return history("night/ask", count, minutes, false);
  }

  private static History history(String path, int count, long minutes, boolean recoveries) {
    long[] all = new long[count];
    Arrays.fill(all, minutes * MINUTE);
    Map<String, long[]> known = Map.of(path, all);
    return new History(
        recoveries ? Map.of() : known,
        recoveries ? known : Map.of(),
        Map.of(),
        Map.of(),
        Set.of(),
        Set.of());
  }

  private static RunOutlook of(Pier pier, History history, String job) {
    return new Outlook(pier.board, new UsualOutcomes(history), 3)
        .play(List.of(), 20, Pier.minute(24 * 60)).stream()
            .filter(one -> one.run().run().reference().job().equals(job))
            .findFirst()
            .orElseThrow();
  }

  private static Pier asked() {
    Pier pier = new Pier(JOBS);
    pier.at(0).begin("load").at(10).end("load", 0).at(12);
    return pier;
  }

  /** Before it is asked and while it is, and for what follows it. */
  @ParameterizedTest
  @CsvSource({"0", "19"})
  void withoutEnoughAnswersNobodyCanSay(int answers) {
    for (Pier pier : List.of(new Pier(JOBS), asked())) {
      for (String job : List.of("ask", "send")) {
        RunOutlook outlook = of(pier, answers(answers, 20), job);
        assertThat(outlook.hangsOn()).isEqualTo(RunOutlook.HangsOn.PERSON);
        assertThat(outlook.end()).isZero();
        assertThat(outlook.ifAnswered()).isFalse();
      }
      assertThat(of(pier, answers(answers, 20), "send").canSayLate()).isFalse();
      RunOutlook free = of(pier, answers(answers, 20), "free");
      assertThat(free.end()).isPositive();
      assertThat(free.ifAnswered()).isFalse();
    }
  }

  /** Asked at 21:40, usually answered after twenty minutes: it goes on at 22:00. */
  @Test
  void fromTwentyAnswersOnTheTimesAreThoseOfUsualAnswers() {
    for (Pier pier : List.of(new Pier(JOBS), asked())) {
      assertThat(of(pier, answers(20, 20), "ask").end()).isEqualTo(Pier.minute(30));
      RunOutlook send = of(pier, answers(20, 20), "send");
      assertThat(send.end()).isEqualTo(Pier.minute(35));
      assertThat(send.ifAnswered()).isTrue();
      assertThat(send.hangsOn()).isEqualTo(RunOutlook.HangsOn.NOTHING);
      assertThat(send.chanceLate()).isZero();
    }
    assertThat(of(asked(), answers(20, 90), "send").chanceLate()).isEqualTo(1);
  }

  /** Once it has waited longer than ever before, that is no guide any more. */
  @Test
  void aQuestionThatWaitsLongerThanEverIsNotPromised() {
    Pier pier = asked();
    pier.at(31);
    assertThat(of(pier, answers(20, 20), "send").hangsOn()).isEqualTo(RunOutlook.HangsOn.PERSON);
  }

  /** Past its time it is late for certain, whoever answers. */
  @Test
  void whatIsPastItsTimeIsLate() {
    Pier pier = asked();
    pier.at(70);
    assertThat(of(pier, answers(0, 0), "send").chanceLate()).isEqualTo(1);
  }

  /** Failed at 21:35; usually somebody has it run again after fifteen minutes. */
  @ParameterizedTest
  @CsvSource({"19, 0", "20, 35"})
  void aFailureEndsAsItDidBefore(int known, long end) {
    Pier pier = new Pier(JOBS.replace("ask succeeded", "load succeeded"));
    pier.at(0).begin("load").at(5).end("load", 1).at(6);
    assertThat(pier.state("load")).isEqualTo(RunState.FAILED);
    RunOutlook send = of(pier, history("night/load", known, 15, true), "send");
    if (end == 0) {
      assertThat(send.hangsOn()).isEqualTo(RunOutlook.HangsOn.PERSON);
    } else {
      assertThat(send.end()).isEqualTo(Pier.minute(end));
      assertThat(send.ifAnswered()).isTrue();
    }
  }

  /** How long it was asked is kept with the run, as any duration is. */
  @Test
  void anAnsweredQuestionTookAsLongAsItWasAsked() {
    Pier pier = asked();
    pier.at(25);
    pier.act("ask", Action.APPROVE);
    var status = pier.board.status(pier.id("ask")).orElseThrow();
    assertThat(status.ended() - status.started()).isEqualTo(15 * MINUTE);
  }

  /** That it lapses some day is no answer; a question that is answered before is told so. */
  @ParameterizedTest
  @CsvSource({"19, fail, 0", "19, approve, 0", "20, fail, 30", "20, approve, 30"})
  void aQuestionThatLapsesHangsOnAPersonAllTheSame(int answers, String then, long end) {
    Pier pier =
        new Pier(
            JOBS.replace(
                "approve: \"Yes?\"", "approve: Yes?, answer: { lapses: 5h, then: " + then + " }"));
    RunOutlook ask = of(pier, answers(answers, 20), "ask");
    assertThat(ask.end()).isEqualTo(end == 0 ? 0 : Pier.minute(end));
    assertThat(ask.ifAnswered()).isEqualTo(end > 0);
    assertThat(ask.hangsOn())
        .isEqualTo(end > 0 ? RunOutlook.HangsOn.NOTHING : RunOutlook.HangsOn.PERSON);
  }
}
