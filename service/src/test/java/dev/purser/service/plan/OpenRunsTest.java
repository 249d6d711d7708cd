package dev.purser.service.plan;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.board.Board;
import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.forecast.Outlook;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.Action;
import dev.purser.core.run.Ending;
import dev.purser.core.run.RunSpec;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What a change makes of runs that are there: on a board, without a service. */
class OpenRunsTest {
  private static final LocalDate DATE = LocalDate.of(2027, 3, 4);
  private static final Instant NOW = Instant.parse("2027-03-04T21:40:00Z");
  private static final String JOBS =
      """
        one: { host: pier, run: ./one }
        two: { host: pier, run: ./two, waits-for: one succeeded }
      """;

  private final Definitions before = read("\"21:30\"", JOBS);
  private final Board board = new Board();
  private long lastId;

  private static Definitions read(String at, String jobs) {
    String text =
        "host: pier\n---\nstream: night\nschedule: { days: every day, at: "
            + at
            + ", zone: UTC }\njobs:\n"
            + jobs;
    DefinitionCheck.Result result =
        DefinitionCheck.check(
            Definitions.none(), List.of(new SourceFile("t.yaml", text)), DATE.minusDays(1));
    assertThat(result.isSound()).as(result.problems().toString()).isTrue();
    return result.definitions();
  }

  private void plan(List<PlannedRun> runs) {
    List<RunSpec> specs = new ArrayList<>();
    runs.forEach(run -> specs.add(new RunSpec(++lastId, run, 0)));
    board.turn(new BoardEvent.RunsPlanned(board.now(), specs));
  }

  @BeforeEach
  void theFirstJobRuns() {
    long early = NOW.minusSeconds(3_600).toEpochMilli();
    board.turn(Outlook.site(before, early), new BoardEvent.HostSeen(early, "pier", Set.of()));
    plan(new Planner(before).plan(DATE));
    board.turn(new BoardEvent.TimeReached(NOW.toEpochMilli()));
    board.turn(new BoardEvent.AttemptBegan(NOW.toEpochMilli(), 1, 1));
  }

  private static Holds holds(String from) {
    return Holds.parse(from, Map.of(), DATE);
  }

  private List<String> joining(Definitions after, String from) {
    return new OpenRuns(board, before, after)
        .joining(holds(from), NOW).stream().map(run -> run.reference().toString()).toList();
  }

  private static final String THREE = "  three: { host: pier, run: ./three }\n";

  @ParameterizedTest
  @CsvSource({"planned, 0", "next-date, 0", "now, 1", "running, 1"})
  void aNewJobJoinsAStartThatIsUnderWay(String from, int many) {
    assertThat(joining(read("\"21:30\"", JOBS + THREE), from)).hasSize(many);
  }

  @Test
  void nothingJoinsAStartThatIsOver() {
    for (long run = 1; run <= 2; run++) {
      board.turn(new BoardEvent.AttemptBegan(board.now(), run, 1));
      board.turn(new BoardEvent.AttemptEnded(board.now(), run, 1, Ending.exited(0)));
    }
    assertThat(joining(read("\"21:30\"", JOBS + THREE), "now")).isEmpty();
  }

  @Test
  void nothingJoinsWhatAPersonHasStarted() {
    board.turn(new BoardEvent.PersonActed(board.now(), 1, Action.SUCCEED, "ida", "", 0));
    board.turn(new BoardEvent.AttemptEnded(board.now(), 1, 1, Ending.exited(0)));
    board.turn(new BoardEvent.AttemptBegan(board.now(), 2, 1));
    board.turn(new BoardEvent.AttemptEnded(board.now(), 2, 1, Ending.exited(0)));
    plan(
        new Planner(before)
            .byHand(
                before.stream("night").orElseThrow(),
                Planner.ByHand.of(
                    before.job("night/one"), DATE, 2, NOW.minusSeconds(60), ZoneOffset.UTC)));
    assertThat(board.run(3)).isPresent();
    String twice = "[\"21:30\", \"21:35\"]"; // its number is that of a start of the schedule now
    assertThat(joining(read(twice, JOBS + THREE), "now")).isEmpty();
    assertThat(fate(3, read("[\"21:30\", \"23:00\"]", JOBS), "now")).isEqualTo("the same");
  }

  private String fate(long run, Definitions after, String from) {
    return new OpenRuns(board, before, after)
        .all(holds(from), any -> true).stream()
            .filter(one -> one.run().id() == run)
            .map(one -> one.what().word() + " " + one.because())
            .findFirst()
            .orElse("the same");
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "now     | ./two --new  | takes",
        "planned | ./two --new  | keeps it has begun",
        "now     | ./two        | the same"
      })
  void whatWaits(String from, String command, String fate) {
    Definitions after = read("\"21:30\"", JOBS.replace("./two,", command + ","));
    assertThat(fate(2, after, from).strip()).isEqualTo(fate);
  }

  @Test
  void aJobThatIsNoMoreKeepsWhatItHas() {
    Definitions after = read("\"21:30\"", "  one: { host: pier, run: ./one }\n");
    assertThat(fate(2, after, "now")).isEqualTo("keeps the new version does not have this job");
  }

  @Test
  void whatCannotBeReachedIsNotStopped() {
    Definitions after = read("\"21:30\"", JOBS.replace("./one", "./one --new"));
    assertThat(fate(1, after, "running")).startsWith("replaced its attempt is asked to stop");
    board.turn(new BoardEvent.HostLost(board.now(), "pier"));
    assertThat(fate(1, after, "running")).startsWith("keeps").contains("its host is away");
  }

  @Test
  void aLaterStartTimeComesWithIt() {
    OpenRun two =
        new OpenRuns(board, before, read("\"23:00\"", JOBS))
            .all(holds("now"), any -> true).stream()
                .filter(one -> one.run().id() == 2)
                .findFirst()
                .orElseThrow();
    assertThat(two.after().map(PlannedRun::due))
        .isEqualTo(Optional.of(Instant.parse("2027-03-04T23:00:00Z")));
  }
}
