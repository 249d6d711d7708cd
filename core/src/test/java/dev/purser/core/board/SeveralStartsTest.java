package dev.purser.core.board;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.run.Action;
import dev.purser.core.run.Ending;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Which of several runs of one date a prerequisite means. */
class SeveralStartsTest {
  private static Definitions world(String readerTimes, String waitsFor) {
    return Pier.read(
        """
        host: quay-north
        ---
        host: quay-south
        ---
        stream: tide
        schedule: { days: every day, at: ["04:00", "10:00", "16:00"], zone: UTC }
        jobs:
          fetch: { host: quay-north, run: x }
          load: { host: quay-north, run: x, waits-for: fetch succeeded }
        ---
        stream: reader
        schedule: { days: every day, at: [%s], zone: UTC }
        jobs:
          read: { host: quay-south, run: x, waits-for: "%s" }
        """
            .formatted(readerTimes, waitsFor));
  }

  /** With every other fetch skipped the reader still waits; with the one it means, no more. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          "03:00" | 1
          "04:00" | 1
          "09:59" | 1
          "10:00" | 2
          "15:00" | 2
          "23:00" | 3
          """)
  void acrossStreamsItIsTheLastOneDueNoLaterElseTheFirst(String time, int number) {
    Definitions definitions = world(time, "tide/fetch skipped");
    Board board = new Board();
    board.turn(dev.purser.core.forecast.Outlook.site(definitions, 0));
    board.turn(new BoardEvent.RunsPlanned(0, Pier.specs(definitions, Pier.DATE, 1)));
    RunSpec read = find(board, "reader/read@2027-03-04#1");
    for (int other = 1; other <= 3; other++) {
      if (other != number) {
        skip(board, "tide/fetch@2027-03-04#" + other);
      }
    }
    board.turn(new BoardEvent.TimeReached(read.due()));
    assertThat(board.why(read.id()).sentence()).contains("tide/fetch");
    skip(board, "tide/fetch@2027-03-04#" + number);
    assertThat(board.why(read.id()).sentence())
        .isEqualTo("It waits: host quay-south is not connected");
  }

  private static void skip(Board board, String reference) {
    long id = find(board, reference).id();
    board.turn(new BoardEvent.PersonActed(1, id, Action.SKIP, "ida", ""));
  }

  @ParameterizedTest
  @CsvSource({"1, true, false, false", "2, false, true, false", "3, false, false, true"})
  void withinAStreamItIsTheOneOfTheSameStart(int skipped, boolean one, boolean two, boolean three) {
    Definitions definitions = world("\"23:00\"", "tide succeeded");
    Board board = new Board();
    board.turn(dev.purser.core.forecast.Outlook.site(definitions, 0));
    board.turn(new BoardEvent.RunsPlanned(0, Pier.specs(definitions, Pier.DATE, 1)));
    skip(board, "tide/fetch@2027-03-04#" + skipped);
    board.turn(new BoardEvent.TimeReached(find(board, "tide/fetch@2027-03-04#3").due()));
    assertThat(isFree(board, 1)).isEqualTo(one);
    assertThat(isFree(board, 2)).isEqualTo(two);
    assertThat(isFree(board, 3)).isEqualTo(three);
  }

  /** No start of it has succeeded, though each of its jobs has in one of them. */
  @Test
  void aStreamThatIsAskedForIsJudgedByOneOfItsStarts() {
    Pier pier =
        new Pier(
            Pier.read(
                "host: quay-north\n",
                """
                stream: tide
                schedule: { days: every day, at: ["21:00", "21:10"], zone: Europe/Oslo }
                jobs:
                  a: { host: quay-north, run: x }
                  b: { host: quay-north, run: x }
                ---
                stream: reader
                schedule: { days: every day, at: ["21:30"], zone: Europe/Oslo }
                jobs:
                  good: { host: quay-north, run: x, waits-for: tide succeeded }
                  bad: { host: quay-north, run: x, waits-for: tide failed }
                """));
    pier.at(-30).at(-20);
    for (RunSpec run : pier.board.runs()) {
      boolean fails = run.run().reference().toString().matches("tide/(a@.*#1|b@.*#2)");
      pier.apply(
          new BoardEvent.AttemptEnded(pier.board.now(), run.id(), 1, Ending.exited(fails ? 1 : 0)));
    }
    pier.at(0);
    assertThat(pier.state("good")).isEqualTo(RunState.WAITING);
    assertThat(pier.why("good")).contains("tide/b failed at 21:10").doesNotContain("tide/a");
    assertThat(pier.state("bad")).isEqualTo(RunState.STARTING);
  }

  @Test
  void aFailureBranchThatWasNotNeededDoesNotKeepAStreamFromSucceeding() {
    Pier pier =
        new Pier(
            Pier.read(
                "host: quay-north\n",
                """
                stream: tide
                schedule: { days: every day, at: ["21:30"], zone: Europe/Oslo }
                jobs:
                  a: { host: quay-north, run: x }
                  alarm: { host: quay-north, run: x, waits-for: a failed }
                ---
                stream: reader
                schedule: { days: every day, at: ["21:30"], zone: Europe/Oslo }
                jobs:
                  read: { host: quay-north, run: x, waits-for: tide succeeded }
                  all: { host: quay-north, run: x, waits-for: tide ended }
                """));
    pier.at(0).begin("a").end("a", 0);
    assertThat(pier.state("alarm")).isEqualTo(RunState.SKIPPED);
    assertThat(pier.state("read")).isEqualTo(RunState.STARTING);
    assertThat(pier.state("all")).isEqualTo(RunState.STARTING);
  }

  private static boolean isFree(Board board, int number) {
    RunSpec load = find(board, "tide/load@2027-03-04#" + number);
    return board.why(load.id()).sentence().equals("It waits: host quay-north is not connected");
  }

  private static RunSpec find(Board board, String reference) {
    return board.runs().stream()
        .filter(run -> run.run().reference().toString().equals(reference))
        .findFirst()
        .orElseThrow();
  }
}
