package dev.purser.core.board;

import dev.purser.core.definition.Placement;
import dev.purser.core.definition.Work;
import dev.purser.core.prerequisite.Answer;
import dev.purser.core.schedule.Durations;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;

/** Puts what the board knows into words. */
final class WhyTeller {
  private static final int MAX_DEPTH = 12;
  private static final int MOST_NAMES = 5;
  private static final String OPERATOR = "an operator";

  private final Board board;
  private final Set<Integer> told = new HashSet<>();

  WhyTeller(Board board) {
    this.board = board;
  }

  Why tell(int run) {
    List<Why.Reason> reasons = board.stateAt(run) == RunState.WAITING ? missing(run, 0) : List.of();
    return new Why(sentence(run, reasons), reasons);
  }

  private String sentence(int run, List<Why.Reason> reasons) {
    String note = board.table.notes[run];
    boolean step = board.job(run).isStep();
    return switch (board.stateAt(run)) {
      case PLANNED ->
          "It is due at "
              + board.clock(run, board.table.due[run])
              + (note.isEmpty() ? "" : ", " + note)
              + (board.isHeld(run) ? ", and is " + board.holdAt(run) : "");
      case WAITING ->
          reasons.isEmpty()
              ? "It is about to start"
              : "It waits: "
                  + reasons.stream().map(Why.Reason::text).collect(Collectors.joining("; "));
      case STARTING ->
          "It has been sent to "
              + host(run)
              + " and is starting there"
              + (board.site().hosts().isUp(host(run))
                  ? ""
                  : ", as soon as that host is connected again");
      case RUNNING ->
          step
              ? "It has been going on since "
                  + board.clock(run, board.table.started[run])
                  + below(run)
                  + (board.isHeld(run) ? "; it is " + board.holdAt(run) : "")
                  + (note.isEmpty() ? "" : "; " + note)
              : "It has been running on "
                  + host(run)
                  + " since "
                  + board.clock(run, board.table.started[run])
                  + away(run)
                  + (note.isEmpty() ? "" : "; " + note);
      case SUCCEEDED ->
          "It succeeded at " + board.clock(run, since(run)) + (note.isEmpty() ? "" : ", " + note);
      case FAILED ->
          "It failed at "
              + board.clock(run, since(run))
              + ": "
              + note
              + tries(run)
              + "; it stays so until a person reruns or skips it";
      case CANCELLED ->
          "It was "
              + (note.startsWith("cancelled") ? "" : "cancelled: ")
              + note
              + "; it stays so until a person reruns or skips it";
      case SKIPPED ->
          "It was "
              + (note.startsWith("skipped") ? "" : "skipped")
              + (board.isNotNeeded(run) ? " as " : note.startsWith("skipped") ? "" : ": ")
              + note;
    };
  }

  /** How far a step has come. */
  private String below(int run) {
    int ended = 0;
    List<String> waiting = new ArrayList<>();
    boolean moves = false;
    int[] children = board.table.children[run];
    for (int child : children) {
      RunState state = board.stateAt(child);
      ended += state.isEnded() ? 1 : 0;
      moves |= state.isActive() || (!state.isEnded() && !isStuck(child));
      if (state == RunState.WAITING) {
        waiting.add(board.specAt(child).run().reference().job());
      }
    }
    return ": "
        + ended
        + " of "
        + children.length
        + " below it have ended"
        + (moves || waiting.isEmpty() ? "" : "; nothing moves, " + some(waiting) + " wait");
  }

  private boolean isStuck(int run) {
    return board.isHeld(run) || board.answerOf(run).compareTo(Answer.OPEN) < 0;
  }

  /** What is not known of a run because its host is away. */
  private String away(int run) {
    Hosts hosts = board.site().hosts();
    if (hosts.isUp(host(run))) {
      return "";
    }
    long since = hosts.lostAt(host(run));
    return "; that host has not been connected"
        + (since > 0 ? " since " + board.clock(run, since) : "")
        + ", and says what has become of it when it is back";
  }

  private String host(int run) {
    return board.table.hosts[run];
  }

  private long since(int run) {
    return board.table.since[run];
  }

  private String tries(int run) {
    int attempts = board.table.attempts[run];
    return attempts > 1 ? ", after " + attempts + " attempts" : "";
  }

  /** All that keeps a waiting run from starting. */
  private List<Why.Reason> missing(int run, int depth) {
    told.add(run);
    List<Why.Reason> reasons = new ArrayList<>();
    String hold = board.holdAt(run);
    if (!hold.isEmpty()) {
      reasons.add(reason(Why.What.HOLD, "", "it is " + hold, since(run), OPERATOR));
    }
    if (board.table.retryAt[run] > board.now()) {
      reasons.add(
          reason(
              Why.What.RETRY,
              "",
              board.table.notes[run]
                  + "; it is tried again at "
                  + board.clock(run, board.table.retryAt[run]),
              since(run),
              ""));
    }
    if (board.gate(run) != Answer.YES) {
      reasons.add(step(board.table.parents[run], run, depth));
    }
    if ((board.table.marks[run] & Board.START_NOW) == 0) {
      reasons.addAll(unmet(board.table.conditions[run], run, depth));
      Condition check = board.table.checks[run];
      if (reasons.isEmpty() && check != null) {
        reasons.addAll(unmet(check, run, depth));
      }
    }
    if (reasons.isEmpty()) {
      reasons.addAll(shared(run));
    }
    return reasons;
  }

  private Why.Reason step(int parent, int run, int depth) {
    RunState state = board.stateAt(parent);
    String name = board.specAt(parent).run().reference().toString();
    String text =
        switch (state) {
          case PLANNED ->
              "its step " + name + " is due at " + board.clock(run, board.table.due[parent]);
          case WAITING -> "its step " + name + " is itself waiting";
          default -> "its step " + name + " is " + state.word();
        };
    return new Why.Reason(
        Why.What.STEP,
        "",
        text,
        since(parent),
        state.isEnded() ? OPERATOR : "",
        board.specAt(parent).id(),
        deeper(parent, depth));
  }

  /** Why another waiting run waits; nothing where that has been told already, or lies too deep. */
  private List<Why.Reason> deeper(int run, int depth) {
    boolean tell =
        board.stateAt(run) == RunState.WAITING && depth < MAX_DEPTH && !told.contains(run);
    return tell ? missing(run, depth + 1) : List.of();
  }

  private List<Why.Reason> unmet(Condition condition, int run, int depth) {
    if (condition.answer(board, run) == Answer.YES) {
      return List.of();
    }
    if (condition instanceof Condition.OnRun on) {
      return List.of(onRun(on, run, depth));
    }
    if (condition instanceof Condition.OnRunning on) {
      return List.of(onRunning(on, run, depth));
    }
    if (condition instanceof Condition.OnLatest on) {
      return List.of(onLatest(on, run, depth));
    }
    if (condition instanceof Condition.OnValue on) {
      return List.of(onValue(on, run, depth));
    }
    if (condition instanceof Condition.OnFile on) {
      return List.of(onFile(on, run));
    }
    if (condition instanceof Condition.OnWindow on) {
      return List.of(onWindow(on, depth));
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
      return List.of(new Why.Reason(Why.What.EITHER, "", either, since(run), "", 0, below));
    }
    return List.of(notSettled(condition, run));
  }

  /** The opposite of something that has not been settled: told by what is still open of it. */
  private Why.Reason notSettled(Condition condition, int run) {
    List<String> open = new ArrayList<>();
    List<Long> ids = new ArrayList<>();
    condition.targets(
        target -> {
          if (!board.stateAt(target).isEnded()) {
            open.add(board.specAt(target).run().reference().path() + " has not ended");
            ids.add(board.specAt(target).id());
          }
        });
    return new Why.Reason(
        Why.What.NOT_SETTLED,
        "",
        "it is not settled yet whether it is needed" + (open.isEmpty() ? "" : ": " + some(open)),
        since(run),
        "",
        ids.isEmpty() ? 0 : ids.get(0),
        List.of());
  }

  private String notPlanned(String path, int run, boolean previous) {
    var planned = board.specAt(run).run();
    return path
        + " is not planned on "
        + (previous
            ? planned.previous().orElseThrow() + ", the previous business date"
            : planned.reference().date());
  }

  private Why.Reason onRun(Condition.OnRun on, int run, int depth) {
    int target = on.target();
    if (target < 0) {
      return reason(
          Why.What.RUN, on.path(), notPlanned(on.path(), run, on.previous()), since(run), OPERATOR);
    }
    String asked = on.outcome().word() + on.codes().map(codes -> " with code " + codes).orElse("");
    String name =
        on.previous()
            ? on.path() + " of " + board.specAt(target).run().reference().date()
            : on.path();
    return about(Why.What.RUN, target, name, asked, run, depth);
  }

  /** How another run stands, which is not as it is asked for. */
  private Why.Reason about(
      Why.What what, int target, String name, String asked, int run, int depth) {
    RunState state = board.stateAt(target);
    String note = board.table.notes[target];
    String at = board.clock(run, since(target));
    String text =
        switch (state) {
          case PLANNED -> name + " is due at " + board.clock(run, board.table.due[target]);
          case WAITING -> name + " is itself waiting since " + at;
          case STARTING -> name + " is starting on " + host(target);
          case RUNNING ->
              board.job(target).isStep()
                  ? name + " has been going on since " + at + below(target)
                  : name + " has been running on " + host(target) + " since " + at;
          case FAILED -> name + " failed at " + at + " (" + note + ")";
          case CANCELLED -> name + " was " + note;
          case SUCCEEDED, SKIPPED -> name + " is " + state.word() + ", not " + asked;
        };
    String who = state.isEnded() || board.isHeld(target) ? OPERATOR : "";
    return new Why.Reason(
        what, "", text, since(target), who, board.specAt(target).id(), below(target, depth));
  }

  /** What lies below a run that another waits for: its own reasons, or those of its step's runs. */
  private List<Why.Reason> below(int target, int depth) {
    boolean goesOn = board.job(target).isStep() && board.stateAt(target) == RunState.RUNNING;
    if (!goesOn || depth >= MAX_DEPTH || !told.add(target)) {
      return deeper(target, depth);
    }
    List<Why.Reason> reasons = new ArrayList<>();
    for (int child : board.table.children[target]) {
      RunState state = board.stateAt(child);
      if ((!state.isEnded() && state != RunState.PLANNED) || state == RunState.FAILED) {
        String name = board.specAt(child).run().reference().path();
        reasons.add(about(Why.What.RUN, child, name, "", target, depth + 1));
      }
    }
    return reasons;
  }

  private Why.Reason onRunning(Condition.OnRunning on, int run, int depth) {
    if (on.target() < 0) {
      return reason(
          Why.What.RUN, on.path(), notPlanned(on.path(), run, false), since(run), OPERATOR);
    }
    if (on.wanted()) {
      return about(Why.What.RUN, on.target(), on.path(), "running", run, depth);
    }
    return new Why.Reason(
        Why.What.RUN,
        "",
        on.path() + " is " + board.stateAt(on.target()).word() + ", and this must not be",
        since(on.target()),
        "",
        board.specAt(on.target()).id(),
        List.of());
  }

  private Why.Reason onLatest(Condition.OnLatest on, int run, int depth) {
    String wanted =
        "no run of " + on.path() + " has " + on.outcome().word() + " within " + on.span();
    for (int target : on.targets()) {
      if (!board.stateAt(target).isEnded()) {
        Why.Reason next = about(Why.What.RUN, target, on.path(), "", run, depth);
        return new Why.Reason(
            Why.What.RUN,
            "",
            wanted + "; " + next.text(),
            next.since(),
            next.who(),
            next.run(),
            next.below());
      }
    }
    return new Why.Reason(
        Why.What.RUN,
        on.path(),
        wanted + ", and none is to come",
        since(run),
        OPERATOR,
        0,
        List.of());
  }

  private Why.Reason onValue(Condition.OnValue on, int run, int depth) {
    if (on.target() < 0) {
      return reason(
          Why.What.VALUE,
          on.name(),
          notPlanned(on.path(), run, on.previous()),
          since(run),
          OPERATOR);
    }
    if (!board.stateAt(on.target()).isEnded()) {
      return about(Why.What.VALUE, on.target(), on.path(), "", run, depth);
    }
    return new Why.Reason(
        Why.What.VALUE,
        on.name(),
        fact(on),
        since(on.target()),
        OPERATOR,
        board.specAt(on.target()).id(),
        List.of());
  }

  private String fact(Condition.OnValue on) {
    if (on.target() < 0) {
      return on.path() + " is not planned";
    }
    String value = board.valuesAt(on.target()).get(on.name());
    return value == null
        ? on.path() + " handed back no value " + on.name()
        : on.name() + " of " + on.path() + " is " + value;
  }

  /** What the values are that a check looks at. */
  List<String> facts(Condition condition) {
    List<String> facts = new ArrayList<>();
    if (condition instanceof Condition.OnValue on) {
      facts.add(fact(on));
    } else if (condition instanceof Condition.All all) {
      for (Condition part : all.parts()) {
        facts.addAll(facts(part));
      }
    } else if (condition instanceof Condition.Any any) {
      for (Condition part : any.parts()) {
        facts.addAll(facts(part));
      }
    }
    return facts.stream().distinct().toList();
  }

  /** The window before, told by the first of its runs that is not done. */
  private Why.Reason onWindow(Condition.OnWindow on, int depth) {
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
        Why.What.WINDOW,
        "",
        "window "
            + on.window()
            + " comes first and "
            + (on.begunIsEnough() ? "has not begun: " : "is not done: ")
            + board.specAt(open).run().job().name()
            + " is "
            + board.stateAt(open).word(),
        since(open),
        failed ? OPERATOR : "",
        board.specAt(open).id(),
        deeper(open, depth));
  }

  private Why.Reason onFile(Condition.OnFile on, int run) {
    var watch = board.specAt(run).run().watches().get(on.place());
    RunStatus.FileState state = board.fileAt(run, on.place());
    String text = "file " + on.watch() + " on " + watch.where() + ": " + inWords(state);
    boolean away = watch.host().filter(host -> !board.site().hosts().isUp(host)).isPresent();
    if (state.sight() == FileSight.ABSENT && away) {
      text = "file " + on.watch() + ": host " + watch.where() + " is not connected, nobody looks";
    }
    if (state.sight() == FileSight.GROWING) {
      text += "; it must rest for " + Durations.print(watch.whole().stillFor());
    }
    return reason(Why.What.FILE, on.watch(), text, since(run), "whoever sends the file");
  }

  /** What is seen of a file, as the end of a sentence. */
  static String inWords(RunStatus.FileState state) {
    return switch (state.sight()) {
      case ABSENT -> state.path().isEmpty() ? "nothing has come yet" : state.path();
      case EMPTY -> state.path() + " is there but empty or too small";
      case INCOMPLETE -> state.path();
      case GROWING -> state.path() + " is there but still changing";
      case USED -> state.path() + " is there but another run has used it";
      case UNREADABLE -> state.path();
      case ARRIVED -> state.path() + " has arrived";
    };
  }

  /** Once nothing of its own is missing: an approval, hosts, capacities, earlier runs. */
  private List<Why.Reason> shared(int run) {
    var job = board.job(run);
    if (job.work() instanceof Work.Approval approval) {
      List<String> by = approval.answering().by();
      long asked = board.table.asked[run];
      return List.of(
          reason(
              Why.What.ANSWER,
              "",
              "a person must answer: " + approval.question() + lapse(run, approval),
              asked > 0 ? asked : since(run),
              by.isEmpty() ? OPERATOR : String.join(" or ", by)));
    }
    List<Why.Reason> reasons = new ArrayList<>();
    Placement placement = job.placement();
    Hosts hosts = board.site().hosts();
    boolean inLine = hosts.line(placement).contains(board.place(run));
    if (!job.isStep() && (inLine || hosts.choose(placement, Set.of()).isEmpty())) {
      boolean full = hosts.candidates(placement).stream().anyMatch(hosts::isFull);
      reasons.add(
          reason(
              Why.What.HOST,
              String.valueOf(placement),
              hostText(run, placement),
              since(run),
              full ? "" : "an administrator"));
      return reasons;
    }
    for (Site.Lack lack : board.site().lacks(board.place(run), board.needs(run))) {
      reasons.add(lack.need().isOfJob() ? overlap(run, lack) : capacity(run, lack));
    }
    return reasons;
  }

  private String lapse(int run, Work.Approval approval) {
    return approval
        .answering()
        .lapses()
        .map(
            after ->
                " (it lapses at "
                    + board.clock(run, board.table.asked[run] + after.toMillis())
                    + ", which means "
                    + approval.answering().then().word()
                    + ")")
        .orElse("");
  }

  private Why.Reason overlap(int run, Site.Lack lack) {
    List<String> others = board.references(board.site().holders(lack.need().what()));
    return reason(
        Why.What.OVERLAP,
        lack.need().what(),
        others.isEmpty()
            ? "an earlier run of the same job comes first"
            : "it must not overlap itself, and "
                + some(others)
                + (others.size() == 1 ? " is" : " are")
                + " at work",
        since(run),
        "");
  }

  private Why.Reason capacity(int run, Site.Lack lack) {
    String name = lack.need().what();
    Site site = board.site();
    List<String> ahead = ahead(run, name);
    List<String> holders = board.references(site.holders(name));
    int units = site.units(name);
    boolean never = lack.need().units() > units;
    String text =
        "it needs "
            + lack.need().units()
            + " of capacity "
            + name
            + ", where "
            + Math.max(0, site.free(lack.need()))
            + " of "
            + units
            + " are free"
            + (holders.isEmpty() ? "" : "; held by " + some(holders))
            + (ahead.isEmpty() ? "" : "; before it in line: " + some(ahead));
    return reason(Why.What.CAPACITY, name, text, since(run), never ? OPERATOR : "");
  }

  private List<String> ahead(int run, String name) {
    List<Integer> ahead = new ArrayList<>();
    for (Site.Place one : board.site().places(name)) {
      if (one.compareTo(board.place(run)) >= 0) {
        break;
      }
      ahead.add(one.run());
    }
    return board.references(ahead);
  }

  private static String some(List<String> names) {
    int rest = names.size() - MOST_NAMES;
    return String.join(", ", names.subList(0, Math.min(MOST_NAMES, names.size())))
        + (rest > 0 ? " and " + rest + " more" : "");
  }

  private String hostText(int run, Placement placement) {
    Hosts hosts = board.site().hosts();
    List<String> candidates = hosts.candidates(placement);
    if (candidates.isEmpty()) {
      return "no host belongs to the group " + placement.ofGroup().orElse("");
    }
    List<String> each = new ArrayList<>();
    candidates.forEach(host -> each.add(host + " " + hostState(run, hosts, host)));
    return placement.ofGroup().isEmpty()
        ? "host " + each.get(0)
        : "no host of " + placement.ofGroup().get() + " is free for it: " + some(each);
  }

  private String hostState(int run, Hosts hosts, String host) {
    if (!hosts.isUp(host)) {
      long since = hosts.lostAt(host);
      return "is not connected" + (since > 0 ? " since " + board.clock(run, since) : "");
    }
    if (hosts.drained().containsKey(host)) {
      return "takes no new work, it was " + hosts.drained().get(host);
    }
    return hosts.isFull(host)
        ? "has all the " + hosts.atMost(host) + " attempts that it takes at once"
        : "is taken by another part, or by those before it in line";
  }

  private static Why.Reason reason(
      Why.What what, String about, String text, long since, String who) {
    return new Why.Reason(what, about, text, since, who, 0, List.of());
  }
}
