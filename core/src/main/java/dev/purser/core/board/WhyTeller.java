package dev.purser.core.board;

import dev.purser.core.definition.Placement;
import dev.purser.core.definition.Work;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.prerequisite.Answer;
import dev.purser.core.schedule.Durations;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/** Puts what the board knows into words. */
final class WhyTeller {
  private static final int MAX_DEPTH = 12;
  private static final String OPERATOR = "an operator";

  private final Board board;

  WhyTeller(Board board) {
    this.board = board;
  }

  Why tell(int run) {
    List<Why.Reason> reasons = board.stateAt(run) == RunState.WAITING ? missing(run, 0) : List.of();
    return new Why(sentence(run, reasons), reasons);
  }

  private String sentence(int run, List<Why.Reason> reasons) {
    String note = board.noteAt(run);
    return switch (board.stateAt(run)) {
      case PLANNED ->
          "It is due at "
              + board.clock(run, board.specAt(run).due())
              + (board.isHeld(run) ? ", and " + board.holdAt(run) : "");
      case WAITING ->
          reasons.isEmpty()
              ? "It is about to start"
              : "It waits: "
                  + reasons.stream().map(Why.Reason::text).collect(Collectors.joining("; "));
      case STARTING -> "It has been sent to " + board.hostAt(run) + " and is starting there";
      case RUNNING ->
          "It has been running on "
              + board.hostAt(run)
              + " since "
              + board.clock(run, board.startedAt(run))
              + (note.isEmpty() ? "" : "; " + note);
      case SUCCEEDED ->
          "It succeeded at "
              + board.clock(run, board.sinceAt(run))
              + (note.isEmpty() ? "" : ", " + note);
      case FAILED ->
          "It failed at "
              + board.clock(run, board.sinceAt(run))
              + ": "
              + note
              + tries(run)
              + "; it stays so until a person reruns or skips it";
      case CANCELLED -> "It was " + note + "; it stays so until a person reruns or skips it";
      case SKIPPED -> "It was " + (board.isNotNeeded(run) ? "skipped as " : "") + note;
    };
  }

  private String tries(int run) {
    int attempts = board.attemptsAt(run);
    return attempts > 1 ? ", after " + attempts + " attempts" : "";
  }

  /** All that keeps a waiting run from starting. */
  private List<Why.Reason> missing(int run, int depth) {
    List<Why.Reason> reasons = new ArrayList<>();
    if (board.isHeld(run)) {
      reasons.add(reason("it is " + board.holdAt(run), board.sinceAt(run), OPERATOR));
    }
    if (board.retryAtOf(run) > board.now()) {
      reasons.add(
          reason(
              board.noteAt(run)
                  + "; it is tried again at "
                  + board.clock(run, board.retryAtOf(run)),
              board.sinceAt(run),
              ""));
    }
    reasons.addAll(unmet(board.conditionAt(run), run, depth));
    if (reasons.isEmpty()) {
      reasons.addAll(shared(run));
    }
    return reasons;
  }

  private List<Why.Reason> unmet(Condition condition, int run, int depth) {
    if (condition.answer(board, run) == Answer.YES) {
      return List.of();
    }
    if (condition instanceof Condition.OnRun on) {
      return List.of(onRun(on, run, depth));
    }
    if (condition instanceof Condition.OnFile on) {
      return List.of(onFile(on, run));
    }
    if (condition instanceof Condition.OnWindow on) {
      return List.of(onWindow(on));
    }
    if (condition instanceof Condition.All all) {
      List<Why.Reason> reasons = new ArrayList<>();
      for (Condition part : all.parts()) {
        reasons.addAll(unmet(part, run, depth));
      }
      return reasons;
    }
    if (condition instanceof Condition.Any any) {
      List<Why.Reason> below = new ArrayList<>();
      for (Condition part : any.parts()) {
        below.addAll(unmet(part, run, depth));
      }
      String either = below.stream().map(Why.Reason::text).collect(Collectors.joining(", or "));
      return List.of(new Why.Reason(either, board.sinceAt(run), "", 0, below));
    }
    return List.of(reason("it is not settled yet whether it is needed", board.sinceAt(run), ""));
  }

  private Why.Reason onRun(Condition.OnRun on, int run, int depth) {
    if (on.target() < 0) {
      PlannedRun planned = board.specAt(run).run();
      return reason(
          on.path() + " is not planned on " + planned.reference().date(),
          board.sinceAt(run),
          OPERATOR);
    }
    int target = on.target();
    RunState state = board.stateAt(target);
    String name = on.path();
    String at = board.clock(run, board.sinceAt(target));
    String text =
        switch (state) {
          case PLANNED -> name + " is due at " + board.clock(run, board.specAt(target).due());
          case WAITING -> name + " is itself waiting since " + at;
          case STARTING -> name + " is starting on " + board.hostAt(target);
          case RUNNING -> name + " has been running on " + board.hostAt(target) + " since " + at;
          case FAILED -> name + " failed at " + at + " (" + board.noteAt(target) + ")";
          case CANCELLED -> name + " was " + board.noteAt(target);
          case SUCCEEDED, SKIPPED -> name + " is " + state.word() + ", not " + on.outcome().word();
        };
    List<Why.Reason> below =
        state == RunState.WAITING && depth < MAX_DEPTH ? missing(target, depth + 1) : List.of();
    String who = state.isEnded() || board.isHeld(target) ? OPERATOR : "";
    return new Why.Reason(text, board.sinceAt(target), who, board.specAt(target).id(), below);
  }

  /** The window before, told by the first of its runs that is not done. */
  private Why.Reason onWindow(Condition.OnWindow on) {
    int open = on.targets()[0];
    for (int target : on.targets()) {
      RunState state = board.stateAt(target);
      if (!state.isEnded() || state == RunState.FAILED) {
        open = target;
        break;
      }
    }
    boolean failed = board.stateAt(open) == RunState.FAILED;
    return new Why.Reason(
        "window "
            + on.window()
            + " comes first and "
            + (on.begunIsEnough() ? "has not begun: " : "is not done: ")
            + board.specAt(open).run().job().name()
            + " is "
            + board.stateAt(open).word(),
        board.sinceAt(open),
        failed ? OPERATOR : "",
        board.specAt(open).id(),
        List.of());
  }

  private Why.Reason onFile(Condition.OnFile on, int run) {
    var watch = board.specAt(run).run().watches().get(on.place());
    RunStatus.FileState state = board.fileAt(run, on.place());
    String text = "file " + on.watch() + " on " + watch.host() + ": " + inWords(state);
    if (state.sight() == FileSight.ABSENT && !board.site().isUp(watch.host())) {
      text = "file " + on.watch() + ": host " + watch.host() + " is not connected, nobody looks";
    }
    if (state.sight() == FileSight.GROWING) {
      text += "; it must rest for " + Durations.print(watch.stillFor());
    }
    return reason(text, board.sinceAt(run), "whoever sends the file");
  }

  /** What is seen of a file, as the end of a sentence. */
  static String inWords(RunStatus.FileState state) {
    return switch (state.sight()) {
      case ABSENT -> "nothing has come yet";
      case EMPTY -> state.path() + " is there but empty or too small";
      case GROWING -> state.path() + " is there but still changing";
      case USED -> state.path() + " is there but another run has used it";
      case UNREADABLE -> state.path();
      case ARRIVED -> state.path() + " has arrived";
    };
  }

  /** Once nothing of its own is missing: an approval, capacities, hosts. */
  private List<Why.Reason> shared(int run) {
    List<Why.Reason> reasons = new ArrayList<>();
    long since = board.sinceAt(run);
    var job = board.job(run);
    if (job.work() instanceof Work.Approval approval) {
      reasons.add(reason("a person must answer: " + approval.question(), since, OPERATOR));
      return reasons;
    }
    for (Map.Entry<String, Integer> take : job.takes().entrySet()) {
      int free = board.site().free(take.getKey());
      if (free < take.getValue()) {
        reasons.add(
            reason(
                "it needs "
                    + take.getValue()
                    + " of capacity "
                    + take.getKey()
                    + ", where "
                    + free
                    + " of "
                    + board.site().units(take.getKey())
                    + " are free"
                    + heldBy(take.getKey()),
                since,
                ""));
      }
    }
    if (!board.isConnected(job.placement())) {
      reasons.add(reason(hostText(job.placement()), since, "an administrator"));
    }
    return reasons;
  }

  private String heldBy(String capacity) {
    List<String> holders = board.holders(capacity);
    return holders.isEmpty() ? "" : "; held by " + String.join(", ", holders);
  }

  private String hostText(Placement placement) {
    List<String> candidates = board.site().candidates(placement);
    if (placement instanceof Placement.AnyOf any) {
      return candidates.isEmpty()
          ? "no host belongs to the group " + any.group()
          : "no host of " + any.group() + " (" + String.join(", ", candidates) + ") is connected";
    }
    return "host " + placement + " is not connected";
  }

  private static Why.Reason reason(String text, long since, String who) {
    return new Why.Reason(text, since, who, 0, List.of());
  }
}
