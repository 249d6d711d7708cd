package dev.purser.core.board;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.run.Action;
import dev.purser.core.run.Ending;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What becomes of starts that nobody could begin, of jobs left out, and of windows in order. */
class MissedStartsTest {
  private static final LocalDate DATE = LocalDate.of(2027, 3, 4);

  private static long at(String time) {
    return Instant.parse("2027-03-04T" + time + ":00Z").toEpochMilli();
  }

  private static Board board(Definitions definitions) {
    Board board = new Board();
    board.turn(dev.purser.core.forecast.Outlook.site(definitions, at("00:00")));
    board.turn(new BoardEvent.HostSeen(at("00:00"), "h", java.util.Set.of()));
    return board;
  }

  private static Definitions stream(String schedule, String jobs) {
    return Pier.read(
        "host: h\n", "stream: s\nschedule: { " + schedule + ", zone: UTC }\njobs: " + jobs);
  }

  private static String states(Board board) {
    return board.runs().stream()
        .map(run -> board.status(run.id()).orElseThrow().state().word())
        .collect(Collectors.joining(" "));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          run      |          | starting starting starting planned
          run once |          | skipped skipped starting planned
          skip     |          | skipped skipped skipped planned
          run      | "09:30"  | starting starting starting planned
          run once | "09:30"  | skipped skipped starting planned
          run      | "08:30"  | skipped skipped starting planned
          """)
  void missedStartsAreMadeUpAsTheScheduleSays(String ifMissed, String startBy, String expected) {
    Definitions definitions =
        stream(
            "days: every day, at: [\"06:00\", \"07:00\", \"09:00\", \"18:00\"], if-missed: "
                + ifMissed
                + (startBy == null ? "" : ", start-by: " + startBy),
            "{ j: { host: h, run: x } }");
    Board live = board(definitions);
    live.turn(new BoardEvent.RunsPlanned(at("00:00"), Pier.specs(definitions, DATE, 1)));
    live.turn(new BoardEvent.StartsMissed(at("09:20"), at("09:18")));
    assertThat(states(live)).isEqualTo(expected);
    Board late = board(definitions);
    late.turn(
        new BoardEvent.RunsPlanned(at("09:20"), Pier.specs(definitions, DATE, 1), at("09:18")));
    assertThat(states(late)).isEqualTo(expected);
    String note = late.status(1).orElseThrow().note();
    boolean skipped = expected.startsWith("skipped");
    assertThat(note.contains("missed while the service was away")).isEqualTo(skipped);
  }

  @Test
  void whatWasJustDueWhenTheServiceCameBackIsNotMissed() {
    Definitions definitions =
        stream("days: every day, at: \"06:00\", if-missed: skip", "{ j: { host: h, run: x } }");
    Board board = board(definitions);
    board.turn(new BoardEvent.RunsPlanned(at("00:00"), Pier.specs(definitions, DATE, 1)));
    board.turn(new BoardEvent.StartsMissed(at("06:01"), at("05:59")));
    assertThat(states(board)).isEqualTo("starting");
  }

  @Test
  void whatIsMadeUpSaysSoInItsTimeline() {
    Definitions definitions =
        stream("days: every day, at: \"06:00\"", "{ j: { host: h, run: x } }");
    Board board = board(definitions);
    board.turn(new BoardEvent.RunsPlanned(at("00:00"), Pier.specs(definitions, DATE, 1)));
    List<Instruction> given = board.turn(new BoardEvent.StartsMissed(at("09:00"), at("08:58")));
    assertThat(given)
        .filteredOn(Instruction.RunChanged.class::isInstance)
        .extracting(one -> ((Instruction.RunChanged) one).note())
        .contains(
            "it was missed while the service was away or the stream paused; it is made up now");
  }

  @Test
  void aJobThatIsLeftOutIsSkippedWhenDueAndWhatFollowsGoesOn() {
    Definitions definitions =
        stream(
            "days: every day, at: \"06:00\"",
            "{ a: { host: h, run: x, only-on: friday }, b: { host: h, run: x, waits-for: a succeeded } }");
    Board board = board(definitions);
    board.turn(new BoardEvent.RunsPlanned(at("00:00"), Pier.specs(definitions, DATE, 1)));
    assertThat(states(board)).isEqualTo("planned planned");
    board.turn(new BoardEvent.TimeReached(at("06:00")));
    assertThat(states(board)).isEqualTo("skipped starting");
    assertThat(board.why(1).sentence()).contains("it is due only on friday").contains("Thursday");
  }

  private static void end(Board board, long run, int code, String time) {
    board.turn(
        new BoardEvent.AttemptBegan(at(time), run, board.status(run).orElseThrow().attempts()));
    board.turn(
        new BoardEvent.AttemptEnded(
            at(time), run, board.status(run).orElseThrow().attempts(), Ending.exited(code)));
  }

  @Test
  void windowsAreWorkedOffInOrderHoweverLateAndAFailedOneStopsThoseAfterIt() {
    Definitions definitions = stream("windows: 6h", "{ j: { host: h, run: x } }");
    Board board = board(definitions);
    long now = Instant.parse("2027-03-05T09:00:00Z").toEpochMilli();
    board.turn(new BoardEvent.RunsPlanned(now, Pier.specs(definitions, DATE, 1), now));
    assertThat(states(board)).isEqualTo("starting waiting waiting waiting");
    board.turn(new BoardEvent.AttemptBegan(now, 1, 1));
    board.turn(new BoardEvent.AttemptEnded(now, 1, 1, Ending.exited(0)));
    assertThat(states(board)).isEqualTo("succeeded starting waiting waiting");
    board.turn(new BoardEvent.AttemptEnded(now, 2, 1, Ending.exited(3)));
    assertThat(states(board)).isEqualTo("succeeded failed waiting waiting");
    assertThat(board.why(3).sentence())
        .isEqualTo("It waits: window 2027-03-04#2 comes first and is not done: j is failed");
    board.turn(new BoardEvent.PersonActed(now, 2, Action.SKIP, "ida", "empty hour"));
    assertThat(states(board)).isEqualTo("succeeded skipped starting waiting");
  }

  @Test
  void asManyWindowsAreOpenAtOnceAsTheScheduleAllows() {
    Definitions definitions =
        stream("windows: 4h, at-a-time: 2", "{ a: { host: h, run: x }, b: { host: h, run: x } }");
    Board board = board(definitions);
    long now = Instant.parse("2027-03-05T09:00:00Z").toEpochMilli();
    board.turn(new BoardEvent.RunsPlanned(now, Pier.specs(definitions, DATE, 1), now));
    assertThat(states(board)).startsWith("starting starting starting starting waiting waiting");
    end(board, 3, 0, "09:00");
    end(board, 4, 0, "09:00");
    assertThat(states(board))
        .startsWith("starting starting succeeded succeeded waiting waiting waiting");
    assertThat(board.why(7).sentence())
        .contains("window 2027-03-04#3 comes first and has not begun");
    end(board, 1, 0, "09:00");
    end(board, 2, 0, "09:00");
    assertThat(states(board))
        .startsWith(
            "succeeded succeeded succeeded succeeded starting starting starting starting waiting");
  }
}
