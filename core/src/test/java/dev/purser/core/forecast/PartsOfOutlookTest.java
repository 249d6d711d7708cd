package dev.purser.core.forecast;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.board.Board;
import dev.purser.core.board.Pier;
import dev.purser.core.board.RandomWorld;
import dev.purser.core.board.Scarcity;
import dev.purser.core.commitment.Promised;
import dev.purser.core.commitment.Promises;
import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.run.Ending;
import dev.purser.core.run.RunSpec;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SplittableRandom;
import java.util.concurrent.CompletableFuture;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

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

  // ---- a large board in parts

  /** So few that all of them show in what is said of a run. */
  private static final Outlook.Samples THREE = Outlook.Samples.of(3);

  private static Outlook.Result whole(
      Board board, Outcomes outcomes, Outlook.Samples samples, long until) {
    return new Outlook(board, outcomes, 5).play(List.of(), List.of(), samples, until);
  }

  private static Outlook.Result divided(
      Board board,
      Outcomes outcomes,
      List<Promised> promised,
      Outlook.Samples samples,
      long until) {
    return new Outlook(board, outcomes, 5, Crew.ALONE, new Division.Sizes(0, 6, 1, 4))
        .play(List.of(), promised, samples, until);
  }

  private static void assertSame(String as, Outlook.Result divided, Outlook.Result whole) {
    assertThat(divided.promises()).as(as).isEqualTo(whole.promises());
    assertThat(divided.runs().stream().map(PartsOfOutlookTest::timesOf))
        .as(as)
        .isEqualTo(whole.runs().stream().map(PartsOfOutlookTest::timesOf).toList());
  }

  @Test
  void aBoardInPartsComesOutAsIfItHadBeenPlayedAsAWhole() {
    int differently = 0;
    for (long seed = 1; seed <= 2_000; seed++) {
      World world = world(seed);
      Outlook.Result whole = play(world, THREE);
      Outlook.Result divided = divided(world.board(), DRAWN, world.promised(), THREE, UNTIL);
      assertSame("world " + seed, divided, whole);
      differently += divided.played() == whole.played() ? 0 : 1;
    }
    assertThat(differently).as("worlds that were divided").isGreaterThan(500);
  }

  /** One minute, but in one sample of five as long as nobody expects. */
  private static Outcomes seldomLong(BoardEvent... planned) {
    return new Outcomes() {
      @Override
      public Outcomes inSample(SplittableRandom sample) {
        return lasting(sample.nextInt(5) == 4 ? 60 : 1, planned);
      }

      @Override
      public List<BoardEvent> planned() {
        return List.of(planned);
      }

      @Override
      public Outcome attempt(RunSpec run, int attempt, SplittableRandom random) {
        throw new AssertionError("samples say how long it takes");
      }
    };
  }

  private static Outcomes lasting(int minutes, BoardEvent... planned) {
    return new Outcomes() {
      @Override
      public List<BoardEvent> planned() {
        return List.of(planned);
      }

      @Override
      public Outcome attempt(RunSpec run, int attempt, SplittableRandom random) {
        return new Outcome(minutes * 60_000L, Ending.exited(0));
      }
    };
  }

  /** Streams that start two minutes apart, each of six jobs in a row. */
  private static Board apart(String site, int streams, String job) {
    StringBuilder yaml = new StringBuilder();
    for (int stream = 0; stream < streams; stream++) {
      yaml.append(stream == 0 ? "" : "---\n").append("stream: s").append(stream);
      yaml.append("\nschedule: { days: every day, at: \"21:").append(30 + 2 * stream);
      yaml.append("\", zone: Europe/Oslo }\njobs:\n");
      for (int i = 0; i < 6; i++) {
        yaml.append("  j").append(i).append(": { run: x, ");
        yaml.append(job.replace("HOST", stream == 3 ? "quay-north" : "any of quays"));
        yaml.append(i == 0 ? "" : ", waits-for: j" + (i - 1) + " succeeded").append(" }\n");
      }
    }
    Definitions definitions = Pier.read(site, yaml.toString());
    return Outlook.boardOf(
        definitions,
        Pier.specs(definitions, Pier.DATE, 1),
        Instant.ofEpochMilli(Pier.DUE - 3_600_000));
  }

  private static String quays(String limit) {
    return "host: quay-north\nlabels: [quay]\n"
        + limit
        + "---\nhost: quay-south\nlabels: [quay]\n"
        + limit
        + "---\nhost-group: quays\nlabels: [quay]\n---\ncapacity: slots\nunits: 6\n";
  }

  /** In all samples that are played as a whole at first there is plenty. */
  @ParameterizedTest
  @CsvSource({
    "'', 'host: HOST, takes: { slots: 1 }', 1440",
    "'', 'host: HOST, takes: { slots: 1 }', 50",
    "'', 'host: HOST, takes: { slots: 1 }, priority: 3', 1440",
    "'at-most: 4', 'host: HOST', 1440",
    "'at-most: 4', 'host: any of quays', 1440",
    "'at-most: 4', 'host: any of quays', 50",
    "'at-most: 9', 'host: HOST, takes: { slots: 1 }', 1440",
  })
  void whatRunsShortInFewSamplesIsFoundAfterwards(String limit, String job, int minutes) {
    long until = Pier.minute(minutes);
    Board board = apart(quays(limit.isEmpty() ? "" : limit + "\n"), 10, job);
    Outlook.Samples samples = Outlook.Samples.of(MANY);
    Outlook.Result whole = whole(board, seldomLong(), samples, until);
    Outlook.Result divided = divided(board, seldomLong(), List.of(), samples, until);
    assertSame(limit + job, divided, whole);
    assertThat(divided.played()).as("some were played again").isGreaterThan(whole.played());
    assertThat(divided.played()).as("most were not").isLessThan(whole.played() * 3 / 2);
    assertThat(divided.scarcity()).as("and what was short is known").isNotEqualTo(new Scarcity());
  }

  @Test
  void whereThereIsAlwaysEnoughNothingIsPlayedAgain() {
    Board board = apart(quays("at-most: 40\n"), 10, "host: HOST, takes: { slots: 1 }");
    Outcomes even = lasting(1);
    Outlook.Result whole = whole(board, even, THREE, UNTIL);
    Outlook.Result divided = divided(board, even, List.of(), THREE, UNTIL);
    assertSame("even", divided, whole);
    assertThat(divided.played()).isEqualTo(whole.played());
  }

  /** Five at once have enough but for what is planned, in the samples in which they take long. */
  @ParameterizedTest
  @ValueSource(booleans = {true, false})
  void whatIsPlannedIsThoughtOf(boolean drain) {
    Board board = apart(quays("at-most: 4\n"), 5, "host: any of quays, takes: { slots: 1 }");
    BoardEvent planned =
        drain
            ? new BoardEvent.HostDrained(Pier.minute(3), "quay-north", "new disks")
            : new BoardEvent.CapacitySet(Pier.minute(3), "slots", 4);
    Outcomes outcomes = seldomLong(planned);
    Outlook.Samples samples = Outlook.Samples.of(MANY);
    Outlook.Result whole = whole(board, outcomes, samples, UNTIL);
    assertSame("planned", divided(board, outcomes, List.of(), samples, UNTIL), whole);
    assertThat(whole(board, seldomLong(), samples, UNTIL).runs()).isNotEqualTo(whole.runs());
  }

  /** North is closed for no more than an hour, long before; but the judge cannot tell. */
  @Test
  void whatCannotBeShownToBeEnoughIsNotPlayedTwice() {
    Board board = apart(quays("at-most: 4\n"), 5, "host: any of quays");
    Outcomes outcomes =
        lasting(
            2,
            new BoardEvent.HostDrained(Pier.minute(-50), "quay-north", "new disks"),
            new BoardEvent.HostReturned(Pier.minute(-40), "quay-north"));
    Outlook.Result whole = whole(board, outcomes, THREE, UNTIL);
    Outlook.Result divided = divided(board, outcomes, List.of(), THREE, UNTIL);
    assertSame("planned", divided, whole);
    assertThat(divided.played()).isEqualTo(whole.played());
  }

  /** A step that is at work holds units as well: two, beside four others where all take long. */
  @Test
  void whatAStepAtWorkHoldsCounts() {
    StringBuilder yaml =
        new StringBuilder("stream: inner\njobs:\n  i: { host: quay-north, run: x }\n");
    for (int stream = 0; stream < 5; stream++) {
      yaml.append("---\nstream: s").append(stream);
      yaml.append("\nschedule: { days: every day, at: \"21:3").append(stream == 0 ? 0 : 4 + stream);
      yaml.append("\", zone: Europe/Oslo }\njobs:\n  j: { ");
      yaml.append(
          stream == 0
              ? "stream: inner, takes: { slots: 2 } }\n"
              : "host: any of quays, run: x, takes: { slots: 1 } }\n");
    }
    Definitions definitions = Pier.read(quays("").replace("units: 6", "units: 5"), yaml.toString());
    Board board =
        Outlook.boardOf(
            definitions,
            Pier.specs(definitions, Pier.DATE, 1),
            Instant.ofEpochMilli(Pier.DUE - 60_000));
    Rehearsal morning = new Rehearsal(board, lasting(60), new SplittableRandom(1));
    morning.play(Pier.minute(2));
    Outlook.Samples samples = Outlook.Samples.of(MANY);
    Outlook.Result whole = whole(board, seldomLong(), samples, UNTIL);
    Division.Sizes sizes = new Division.Sizes(0, 1, 1, 4);
    Outlook.Result divided =
        new Outlook(board, seldomLong(), 5, Crew.ALONE, sizes)
            .play(List.of(), List.of(), samples, UNTIL);
    assertSame("step", divided, whole);
    assertThat(divided.played()).as("some were played again").isGreaterThan(whole.played());
  }

  /**
   * Of two runs that are on a host that is gone, one may go elsewhere: the one that comes first.
   */
  @Test
  void howOftenRunsOfAJobMayMoveTogetherIsKnownToAllParts() {
    Pier pier =
        new Pier(
            Pier.read(
                quays("lost-after: 3m\n"),
                """
                stream: night
                schedule: { days: every day, at: ["21:30", "21:31"], zone: Europe/Oslo }
                jobs:
                  a: { host: any of quays, run: x, may-repeat: { of-run: 1, of-job: 1 } }
                  b: { host: quay-south, run: x, waits-for: a succeeded }
                """));
    pier.apply(new BoardEvent.HostLost(pier.board.now(), "quay-south"));
    pier.at(1);
    pier.apply(new BoardEvent.HostSeen(pier.board.now(), "quay-south", Set.of()));
    pier.apply(new BoardEvent.HostLost(pier.board.now(), "quay-north"));
    for (RunSpec run : pier.board.runs()) {
      if (run.run().reference().job().equals("a")) {
        assertThat(pier.board.bearingOn(List.of(run.id()), new Scarcity()))
            .hasSize(2)
            .allMatch(id -> pier.board.run(id).orElseThrow().run().reference().job().equals("a"));
      }
    }
  }
}
