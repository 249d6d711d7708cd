package dev.purser.core.board;

import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.run.Action;
import dev.purser.core.run.Ending;
import dev.purser.core.run.FileSight;
import dev.purser.core.run.HoldScope;
import dev.purser.core.run.RunSpec;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.SplittableRandom;

/** Random jobs, and random things that happen to them. */
final class RandomDay {
  private static final List<String> OUTCOMES = List.of("succeeded", "failed", "ended", "skipped");

  private static final String INNER =
      """
      stream: inner
      jobs:
        x: { host: quay-north, run: x }
        y: { host: any of quays, run: x, waits-for: x succeeded, takes: { ledger-slots: 1 } }
      """;

  private RandomDay() {}

  static Definitions definitions(SplittableRandom random, int jobs) {
    StringBuilder yaml = new StringBuilder();
    for (int i = 0; i < jobs; i++) {
      int kind = random.nextInt(8);
      yaml.append("j%d:\n".formatted(i));
      if (kind == 0) {
        yaml.append("  stream: inner\n");
      } else if (kind == 1) {
        yaml.append(
            "  approve: Yes?\n  answer: { remind: 2m, lapses: 9m, then: %s }\n"
                .formatted(List.of("fail", "skip", "approve").get(random.nextInt(3))));
      } else {
        yaml.append(
            "  host: %s\n  run: x\n"
                .formatted(random.nextBoolean() ? "quay-north" : "any of quays"));
      }
      if (i > 0 && random.nextInt(4) > 0) {
        yaml.append("  waits-for: '").append(prerequisite(random, i, 2)).append("'\n");
      }
      if (i > 0 && random.nextInt(6) == 0) {
        yaml.append("  only-if: value n of j%d >= 1\n".formatted(random.nextInt(i)));
      }
      if (kind > 1 && random.nextInt(3) == 0) {
        yaml.append("  retry: { times: 2, wait: 1m }\n  stop-after: 5m\n");
      }
      if (random.nextInt(4) == 0) {
        yaml.append(
            "  takes: { ledger-slots: 1 }\n  priority: %d\n".formatted(random.nextInt(101)));
      }
      if (random.nextInt(4) == 0) {
        yaml.append(
            "  overlap: %s\n"
                .formatted(List.of("wait", "skip", "replace", "allow 2").get(random.nextInt(4))));
      }
      if (random.nextInt(3) == 0) {
        yaml.append("  start-by: \"21:35\"\n  finish-by: \"21:50\"\n  usually: 3m\n");
      }
    }
    String starts = random.nextBoolean() ? "at: \"21:30\"" : "at: [\"21:30\", \"21:34\"]";
    return Pier.read(
        Pier.SITE,
        INNER,
        "stream: night\nschedule: { days: every day, %s, zone: Europe/Oslo }\njobs:\n"
                .formatted(starts)
            + yaml.toString().indent(2));
  }

  private static String prerequisite(SplittableRandom random, int below, int depth) {
    int form = depth == 0 ? 0 : random.nextInt(9);
    String job = "j" + random.nextInt(below);
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
      case 6 -> job + (random.nextBoolean() ? " ended with code 0" : " succeeded within 2h");
      case 7 -> (random.nextBoolean() ? "not " : "") + job + " running";
      case 8 -> "value n of " + job + " < 2";
      default -> job + " " + OUTCOMES.get(random.nextInt(4));
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
    return switch (random.nextInt(11)) {
      case 0, 1, 2 -> new BoardEvent.AttemptBegan(at, run.id(), attempt);
      case 3, 4, 5 -> {
        Ending ending =
            random.nextInt(8) == 0
                ? new Ending(Ending.Kind.values()[random.nextInt(5)], 1, "")
                : Ending.exited(random.nextInt(2));
        Map<String, String> values =
            random.nextInt(4) == 0 ? Map.of() : Map.of("n", "" + random.nextInt(3));
        yield new BoardEvent.AttemptEnded(at, run.id(), attempt, ending, at, values);
      }
      case 6, 7 -> {
        Action action = Action.values()[random.nextInt(Action.values().length)];
        long argument =
            action == Action.START_AT ? at + random.nextInt(300_000) : random.nextInt(101);
        yield new BoardEvent.PersonActed(at, run.id(), action, "ida", "", argument);
      }
      case 8 ->
          random.nextBoolean()
              ? new BoardEvent.FileArrived(at, run.id(), "harbour-feed", "/srv/in/feed-1.csv")
              : new BoardEvent.FileSeen(
                  at, run.id(), "harbour-feed", FileSight.GROWING, "/srv/in/f");
      case 9 ->
          switch (random.nextInt(4)) {
            case 0 -> new BoardEvent.HostLost(at, "quay-south");
            case 1 -> new BoardEvent.HostSeen(at, "quay-south", Set.of());
            case 2 -> new BoardEvent.CapacitySet(at, "ledger-slots", random.nextInt(4) - 1);
            default -> {
              HoldScope scope = new HoldScope(HoldScope.Kind.JOB, run.run().reference().path());
              yield random.nextInt(3) == 0
                  ? new BoardEvent.HoldPlaced(at, scope, "held by ida")
                  : new BoardEvent.HoldLifted(at, scope);
            }
          };
      default -> new BoardEvent.TimeReached(at + 60_000);
    };
  }
}
