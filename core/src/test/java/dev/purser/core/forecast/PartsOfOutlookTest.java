package dev.purser.core.forecast;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.board.Board;
import dev.purser.core.board.Pier;
import dev.purser.core.board.RandomWorld;
import dev.purser.core.commitment.Promised;
import dev.purser.core.commitment.Promises;
import dev.purser.core.definition.Definitions;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.run.Ending;
import dev.purser.core.run.RunSpec;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SplittableRandom;
import java.util.concurrent.CompletableFuture;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;

/**
 * What is left out of a play changes no answer: in random worlds with capacities that run short,
 * full hosts, steps, parts and overlaps, from random moments of the day on.
 */
class PartsOfOutlookTest {
  private static final int FEW = 40;
  private static final int MANY = 60;
  private static final long UNTIL = Pier.minute(24 * 60);

  /** Minutes from one to five, one in four fails, most are run again: by what is drawn for each. */
  private static final Outcomes DRAWN =
      new Outcomes() {
        @Override
        public Outcome attempt(RunSpec run, int attempt, SplittableRandom random) {
          long millis = random.nextInt(1, 6) * 60_000L;
          boolean fails = random.nextInt(4) == 0;
          return new Outcome(millis, Ending.exited(fails ? 1 : 0));
        }

        @Override
        public Optional<Long> recovery(RunSpec run, long failed, SplittableRandom random) {
          return random.nextInt(3) == 0
              ? Optional.empty()
              : Optional.of(failed + random.nextInt(1, 6) * 60_000L);
        }
      };

  private record World(Board board, List<Promised> promised) {}

  private static World world(long seed) {
    SplittableRandom random = new SplittableRandom(seed);
    String site = RandomWorld.site(random);
    String some = RandomWorld.streams(random);
    String others =
        RandomWorld.streams(random)
            .replace("inner", "within")
            .replace("tide", "ebb")
            .replace("night", "dawn");
    String promises =
        "commitment: one\nof: night/n2\nwithin: 12m\n---\n"
            + "commitment: two\nof: ebb/t0\nwithin: 4m\n";
    Definitions definitions = Pier.read(site, some, others, promises);
    List<RunSpec> specs = Pier.specs(definitions, Pier.DATE, 1);
    List<PlannedRun> plan = specs.stream().map(RunSpec::run).toList();
    Board board = Outlook.boardOf(definitions, specs, Instant.ofEpochMilli(Pier.DUE - 3_600_000));
    Rehearsal morning = new Rehearsal(board, DRAWN, new SplittableRandom(seed));
    morning.play(Pier.minute(random.nextInt(-2, 9)));
    return new World(morning.board(), new Promises(definitions, Map.of()).of(Pier.DATE, plan));
  }

  private static Outlook.Result play(World world, Outlook.Samples samples) {
    return play(world, samples, Crew.ALONE);
  }

  private static Outlook.Result play(World world, Outlook.Samples samples, Crew crew) {
    return new Outlook(world.board(), DRAWN, 5, crew)
        .play(List.of(), world.promised(), samples, UNTIL);
  }

  @Test
  void whatBearsOnPromisesComesOutAsIfAllHadBeenPlayed() {
    long left = 0;
    long all = 0;
    for (long seed = 1; seed <= 400; seed++) {
      World world = world(seed);
      Outlook.Result whole = play(world, new Outlook.Samples(MANY, MANY));
      Outlook.Result part = play(world, new Outlook.Samples(FEW, MANY));
      for (int i = 0; i < whole.promises().size(); i++) {
        if (part.promises().get(i).samples() == MANY) {
          assertThat(part.promises().get(i))
              .as("world %d", seed)
              .isEqualTo(whole.promises().get(i));
        }
      }
      Map<Long, RunOutlook> byId = new HashMap<>();
      whole.runs().forEach(run -> byId.put(run.run().id(), run));
      for (RunOutlook run : part.runs()) {
        RunOutlook same = byId.get(run.run().id());
        if (run.samples() == MANY) {
          assertThat(timesOf(run)).as("world %d, %s", seed, run.run()).isEqualTo(timesOf(same));
        }
      }
      left += whole.played() - part.played();
      all += whole.played();
    }
    assertThat(left).as("something was left out").isGreaterThan(all / 20);
  }

  private static List<Object> timesOf(RunOutlook run) {
    return List.of(
        run.start(),
        run.earliestStart(),
        run.latestStart(),
        run.end(),
        run.earliestEnd(),
        run.latestEnd(),
        run.chanceFailed(),
        run.hangsOn());
  }

  private static void three(Runnable work) {
    IntStream.range(0, 3)
        .mapToObj(any -> CompletableFuture.runAsync(work))
        .toList()
        .forEach(CompletableFuture::join);
  }

  @Test
  void severalThreadsSayTheSameAsOne() {
    for (long seed = 1; seed <= 40; seed++) {
      World world = world(seed);
      assertThat(play(world, new Outlook.Samples(20, 40), PartsOfOutlookTest::three))
          .as("world %d", seed)
          .isEqualTo(play(world, new Outlook.Samples(20, 40)));
    }
  }

  @Test
  void asFewAsBearOnOnePromiseMayBePlayedAlone() {
    int fewer = 0;
    for (long seed = 1; seed <= 100; seed++) {
      World world = world(seed);
      Outlook outlook = new Outlook(world.board(), DRAWN, 5);
      Outlook.Result whole =
          outlook.play(List.of(), world.promised(), new Outlook.Samples(FEW, FEW), UNTIL);
      List<Promised> one = world.promised().subList(0, 1);
      Outlook.Result alone =
          outlook.playOnly(one, whole.scarcity(), new Outlook.Samples(1, FEW), UNTIL);
      assertThat(alone.promises()).as("world %d", seed).isEqualTo(whole.promises().subList(0, 1));
      fewer += alone.runs().size() < whole.runs().size() ? 1 : 0;
    }
    assertThat(fewer).isGreaterThan(10);
  }
}
