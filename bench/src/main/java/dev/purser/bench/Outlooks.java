package dev.purser.bench;

import dev.purser.core.board.Board;
import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.commitment.Promised;
import dev.purser.core.commitment.Promises;
import dev.purser.core.definition.Definitions;
import dev.purser.core.forecast.History;
import dev.purser.core.forecast.Outlook;
import dev.purser.core.history.PastRun;
import dev.purser.core.learning.Learned;
import dev.purser.core.learning.LearnedOutcomes;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.RunSpec;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.concurrent.CompletableFuture;
import java.util.stream.IntStream;

/**
 * The outlook of a day of a hundred thousand runs, of which a fifth bear on commitments: how long
 * it takes, and how many runs were played.
 */
final class Outlooks {
  private static final int STREAMS = 10_000;
  private static final int PROMISES = 1_540;
  private static final int DAYS = 15;
  private static final int BIG = 2_000;
  private static final int WIDE = 20;
  private static final int ALL = Integer.getInteger("purser.samples", 40);
  private static final Outlook.Samples SAMPLES = new Outlook.Samples(ALL, 5 * ALL);

  private Outlooks() {}

  /** Prints the figures. */
  public static void main(String[] args) {
    Day day = day(args.length > 0 ? Integer.parseInt(args[0]) : STREAMS);
    int threads = Integer.getInteger("purser.threads", Runtime.getRuntime().availableProcessors());
    for (int round = 0; round < Integer.getInteger("purser.rounds", 3); round++) {
      long before = System.nanoTime();
      Outlook.Result result = day.play(threads);
      long millis = (System.nanoTime() - before) / 1_000_000;
      long often = result.runs().stream().filter(run -> run.samples() > SAMPLES.all()).count();
      System.out.printf(
          "%d runs, %d promises, %d threads: %d ms; %d runs played %d times, the others %d; %.1f"
              + " million in all%n",
          result.runs().size(),
          result.promises().size(),
          threads,
          millis,
          often,
          SAMPLES.bearing(),
          SAMPLES.all(),
          result.played() / 1e6);
      day.upToDate(result);
    }
  }

  /** A day, as it stands before its first run is due. */
  record Day(Board board, LearnedOutcomes outcomes, List<Promised> promised, long until) {
    /** The whole of it, on so many threads. */
    Outlook.Result play(int threads) {
      return new Outlook(board, outcomes, 1, work -> together(threads, work))
          .play(List.of(), promised, SAMPLES, until);
    }

    /** One promise of two thousand jobs, as after an event that matters to it. */
    private void upToDate(Outlook.Result result) {
      List<Promised> big =
          promised.stream().filter(one -> one.commitment().name().equals("big")).toList();
      long before = System.nanoTime();
      Outlook.Result part =
          new Outlook(new Board(board), outcomes, 1)
              .playOnly(big, result.scarcity(), new Outlook.Samples(1, 200), until);
      System.out.printf(
          "a promise that rests on %d of them, 200 times, one thread: %d ms%n",
          part.runs().size(), (System.nanoTime() - before) / 1_000_000);
    }
  }

  /** A day of so many streams, of ten jobs each, and one of two thousand. */
  static Day day(int streams) {
    Definitions definitions = definitions(streams, streams * PROMISES / STREAMS);
    List<RunSpec> specs = World.specs(definitions);
    Instant begin =
        specs.stream()
            .map(spec -> spec.run().due())
            .min(Instant::compareTo)
            .orElseThrow()
            .minusSeconds(60);
    List<PlannedRun> runs = specs.stream().map(RunSpec::run).toList();
    LearnedOutcomes outcomes =
        LearnedOutcomes.of(
            Learned.of(definitions, past(specs), World.DATE),
            History.NONE,
            World.DATE,
            List.of(),
            begin.toEpochMilli(),
            true);
    return new Day(
        Outlook.boardOf(definitions, specs, begin),
        outcomes,
        new Promises(definitions, Map.of()).of(World.DATE, runs),
        begin.plus(Duration.ofDays(2)).toEpochMilli());
  }

  private static void together(int threads, Runnable work) {
    IntStream.range(0, threads)
        .mapToObj(any -> CompletableFuture.runAsync(work, task -> new Thread(task).start()))
        .toList()
        .forEach(CompletableFuture::join);
  }

  private static Definitions definitions(int streams, int promises) {
    Definitions world = World.definitions(streams);
    StringBuilder yaml = new StringBuilder();
    for (int s = 0; s < promises; s++) {
      yaml.append(s == 0 ? "" : "---\n");
      yaml.append("commitment: c").append(s).append("\nof: bench/s").append(s * 4).append("/j9\n");
      yaml.append("within: 95m\n");
    }
    yaml.append("---\ncommitment: big\nof: bench/big/j").append(BIG - 1).append("\nwithin: 12h\n");
    yaml.append(
        "---\nstream: bench/big\nschedule: { days: every day, at: \"03:00\", zone: UTC }\njobs:\n");
    for (int j = 0; j < BIG; j++) {
      yaml.append("  j").append(j).append(": { host: any of quays, run: x, usually: 1m to 5m");
      if (j >= WIDE) {
        yaml.append(", waits-for: j").append(j - WIDE).append(" succeeded");
        yaml.append(j == BIG - 1 ? all() : "");
      }
      yaml.append(" }\n");
    }
    DefinitionCheck.Result result =
        DefinitionCheck.check(
            world, List.of(new SourceFile("promises", yaml.toString())), World.DATE.minusDays(1));
    if (!result.isSound()) {
      throw new IllegalStateException(result.problems().get(0).toString());
    }
    return result.definitions();
  }

  /** The ends of all chains. */
  private static String all() {
    StringBuilder text = new StringBuilder();
    for (int j = BIG - WIDE; j < BIG - 1; j++) {
      text.append(" and j").append(j).append(" succeeded");
    }
    return text.toString();
  }

  private static List<PastRun> past(List<RunSpec> specs) {
    SplittableRandom random = new SplittableRandom(7);
    List<PastRun> past = new ArrayList<>();
    for (RunSpec spec : specs) {
      for (int day = 1; day <= DAYS; day++) {
        long start = spec.run().due().minus(Duration.ofDays(day)).toEpochMilli();
        past.add(
            new PastRun(
                spec.run().reference().stream(),
                spec.run().reference().job(),
                World.DATE.minusDays(day),
                1,
                0,
                start,
                start + random.nextLong(60_000, 300_000),
                PastRun.Outcome.SUCCEEDED,
                0,
                "quay-north",
                1));
      }
    }
    return past;
  }
}
