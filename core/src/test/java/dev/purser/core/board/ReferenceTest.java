package dev.purser.core.board;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.forecast.Outcomes;
import dev.purser.core.forecast.Outlook;
import dev.purser.core.forecast.Rehearsal;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.run.Ending;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunStatus;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.SplittableRandom;
import java.util.stream.LongStream;
import org.junit.jupiter.api.Test;

/**
 * The board holds to the rules as they are written: 10,000 random worlds, each played by a
 * rehearsal and by {@link Reference}, start on the same hosts at the same instants in the same
 * order.
 */
class ReferenceTest {
  @Test
  void aRehearsalStartsTheSameRunsAtTheSameInstantsInTheSameOrder() {
    List<String> differing =
        LongStream.rangeClosed(Long.getLong("from", 1), Long.getLong("worlds", 10_000L))
            .parallel()
            .mapToObj(ReferenceTest::difference)
            .filter(difference -> !difference.isEmpty())
            .limit(3)
            .toList();
    assertThat(differing).isEmpty();
  }

  private static String difference(long seed) {
    SplittableRandom random = new SplittableRandom(seed);
    String site = RandomWorld.site(random);
    String world = RandomWorld.streams(random);
    Definitions definitions = Pier.read(site, world);
    Set<String> away = random.nextInt(6) == 0 ? Set.of("quay-south") : Set.of();
    List<RunSpec> specs = Pier.specs(definitions, Pier.DATE, 1);
    List<PlannedRun> plan = specs.stream().map(RunSpec::run).toList();
    Reference.Going going = new Dice(seed);
    List<String> expected = new Reference(definitions, plan, going, away).play();
    List<String> found = rehearsed(definitions, specs, going, away);
    if (found.equals(expected)) {
      return "";
    }
    int at = 0;
    while (at < Math.min(found.size(), expected.size()) && found.get(at).equals(expected.get(at))) {
      at++;
    }
    return "world "
        + seed
        + "\n"
        + site
        + world
        + "\nby the page: "
        + expected.subList(Math.max(0, at - 12), Math.min(expected.size(), at + 9))
        + "\nthe board:   "
        + found.subList(Math.max(0, at - 12), Math.min(found.size(), at + 9));
  }

  /** Durations of whole minutes, so that much happens at once; one in four fails. */
  private record Dice(long seed) implements Reference.Going {
    private SplittableRandom of(PlannedRun run, int attempt) {
      return new SplittableRandom(seed * 31 + run.reference().hashCode() * 7L + attempt);
    }

    @Override
    public long millis(PlannedRun run, int attempt) {
      return of(run, attempt).nextInt(1, 5) * 60_000L;
    }

    @Override
    public int code(PlannedRun run, int attempt) {
      SplittableRandom dice = of(run, attempt);
      dice.nextInt();
      return dice.nextInt(4) == 0 ? 1 + dice.nextInt(3) : 0;
    }
  }

  private static List<String> rehearsed(
      Definitions definitions, List<RunSpec> specs, Reference.Going going, Set<String> away) {
    Instant before = Instant.ofEpochMilli(Pier.DUE - 3_600_000);
    Board board = Outlook.boardOf(definitions, List.of(), before);
    away.forEach(host -> board.turn(new BoardEvent.HostLost(board.now(), host)));
    Outcomes outcomes =
        (run, attempt, random) ->
            new Outcomes.Outcome(
                going.millis(run.run(), attempt), Ending.exited(going.code(run.run(), attempt)));
    Rehearsal rehearsal = new Rehearsal(board, outcomes, new SplittableRandom(1));
    rehearsal.apply(new BoardEvent.RunsPlanned(board.now(), specs));
    rehearsal.play(Long.MAX_VALUE - 1);
    return told(definitions, specs, rehearsal, away, before);
  }

  /** A replay of what was rehearsed, which tells each start: so that a replay is tried as well. */
  private static List<String> told(
      Definitions definitions,
      List<RunSpec> specs,
      Rehearsal rehearsal,
      Set<String> away,
      Instant before) {
    Board again = Outlook.boardOf(definitions, List.of(), before);
    away.forEach(host -> again.turn(new BoardEvent.HostLost(again.now(), host)));
    List<String> told = new ArrayList<>();
    for (BoardEvent event : rehearsal.events()) {
      for (Instruction instruction : again.apply(event)) {
        if (instruction instanceof Instruction.StartAttempt start) {
          RunSpec run = again.run(start.run()).orElseThrow();
          told.add(
              event.at()
                  + " "
                  + run.run().reference()
                  + " "
                  + start.attempt()
                  + " on "
                  + start.where().word());
        }
      }
    }
    for (RunSpec run : specs) {
      RunStatus status = again.status(run.id()).orElseThrow();
      told.add(run.run().reference() + " " + status.state().word() + " " + status.ended());
    }
    return told;
  }
}
