package dev.purser.core.board;

import dev.purser.core.definition.Definitions;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.SplittableRandom;

/** Random jobs, and random things that happen to them. */
final class RandomDay {
  private static final List<String> OUTCOMES = List.of("succeeded", "failed", "ended", "skipped");

  private RandomDay() {}

  static Definitions definitions(SplittableRandom random, int jobs) {
    StringBuilder yaml = new StringBuilder();
    for (int i = 0; i < jobs; i++) {
      yaml.append(
          "j%d:\n  host: %s\n  run: x\n"
              .formatted(i, random.nextBoolean() ? "quay-north" : "any of quays"));
      if (i > 0 && random.nextInt(4) > 0) {
        yaml.append("  waits-for: ").append(prerequisite(random, i, 2)).append('\n');
      }
      if (random.nextInt(3) == 0) {
        yaml.append("  retry: { times: 2, wait: 1m }\n  stop-after: 5m\n");
      }
      if (random.nextInt(4) == 0) {
        yaml.append("  takes: { ledger-slots: 1 }\n");
      }
      if (random.nextInt(3) == 0) {
        yaml.append("  start-by: \"21:35\"\n  finish-by: \"21:50\"\n  usually: 3m\n");
      }
    }
    return Pier.definitions(yaml.toString());
  }

  private static String prerequisite(SplittableRandom random, int below, int depth) {
    int form = depth == 0 ? 0 : random.nextInt(6);
    return switch (form) {
      case 3 ->
          "("
              + prerequisite(random, below, depth - 1)
              + " and "
              + prerequisite(random, below, depth - 1)
              + ")";
      case 4 ->
          "("
              + prerequisite(random, below, depth - 1)
              + " or "
              + prerequisite(random, below, depth - 1)
              + ")";
      case 5 ->
          random.nextBoolean()
              ? "file harbour-feed arrived"
              : "not " + prerequisite(random, below, 0);
      default -> "j" + random.nextInt(below) + " " + OUTCOMES.get(random.nextInt(4));
    };
  }

  static List<List<Instruction>> play(Pier pier, SplittableRandom random, int steps) {
    List<List<Instruction>> given = new ArrayList<>();
    for (int i = 0; i < steps; i++) {
      given.add(pier.apply(next(pier.board, random)));
    }
    return given;
  }

  private static BoardEvent next(Board board, SplittableRandom random) {
    long at = Math.max(board.now(), Pier.DUE - 60_000) + random.nextInt(30_000);
    RunSpec run = board.runs().get(random.nextInt(board.size()));
    int attempt = board.status(run.id()).orElseThrow().attempts();
    return switch (random.nextInt(10)) {
      case 0, 1, 2 -> new BoardEvent.AttemptBegan(at, run.id(), attempt);
      case 3, 4, 5 ->
          new BoardEvent.AttemptEnded(at, run.id(), attempt, Ending.exited(random.nextInt(2)));
      case 6 ->
          new BoardEvent.PersonActed(
              at, run.id(), Action.values()[random.nextInt(Action.values().length)], "ida", "");
      case 7 ->
          random.nextBoolean()
              ? new BoardEvent.FileArrived(at, run.id(), "harbour-feed", "/srv/in/feed-1.csv")
              : new BoardEvent.FileSeen(
                  at, run.id(), "harbour-feed", FileSight.GROWING, "/srv/in/f");
      case 8 ->
          random.nextBoolean()
              ? new BoardEvent.HostLost(at, "quay-south")
              : new BoardEvent.HostSeen(at, "quay-south", Set.of());
      default -> new BoardEvent.TimeReached(at + 60_000);
    };
  }
}
