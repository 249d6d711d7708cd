package dev.purser.core.why;

import dev.purser.core.course.Course;
import dev.purser.core.course.Marks;
import dev.purser.core.course.Runs;
import dev.purser.core.prerequisite.Answer;
import dev.purser.core.prerequisite.Prerequisite;
import dev.purser.core.run.FileSight;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import dev.purser.core.schedule.Durations;
import dev.purser.core.tie.Condition;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** Puts what the board knows into words. */
public final class WhyTeller {
  private static final int MAX_DEPTH = 12;
  private static final String OPERATOR = "an operator";

  private final Course course;
  private final Runs runs;
  private final Standing standing;
  private final Set<Integer> told = new HashSet<>();

  /** One that has told nothing yet; it tells of one run. */
  public WhyTeller(Course course) {
    this.course = course;
    this.runs = course.runs();
    this.standing = new Standing(course);
  }

  /** Why the run at an index is not running, or what has become of it. */
  public Why tell(int run) {
    List<Why.Reason> reasons =
        switch (course.stateAt(run)) {
          case WAITING -> missing(run, 0);
          case PLANNED -> inTheWay(run);
          default -> List.of();
        };
    return new Why(standing.sentence(run, reasons), reasons);
  }

  /** Why the run at an index has no host to go to, as all stands; empty where it has one. */
  public Optional<Why.Reason> noHost(int run) {
    return new Lacking(course).noHost(run);
  }

  /**
   * What of a run that is not due yet will not come right by itself: what a person must see to,
   * before the night rather than in it. Files, hosts and units may still come.
   */
  private List<Why.Reason> inTheWay(int run) {
    told.add(run);
    List<Why.Reason> reasons = new ArrayList<>(held(run));
    if (course.gate(run) != Answer.YES) {
      reasons.add(step(course.ties().parent(run), run, 0));
    }
    if (!runs.has(run, Marks.START_NOW)) {
      reasons.addAll(unmet(course.ties().condition(run), run, 0));
    }
    reasons.removeIf(reason -> !reason.hangsOnPerson() || reason.isFileAlone());
    return reasons;
  }

  private List<Why.Reason> held(int run) {
    String hold = course.holdAt(run);
    return hold.isEmpty()
        ? List.of()
        : List.of(reason(Why.What.HOLD, "", "it is " + hold, 0, OPERATOR));
  }

  private long since(int run) {
    return runs.since.get(run);
  }

  /** All that keeps a waiting run from starting. */
  private List<Why.Reason> missing(int run, int depth) {
    told.add(run);
    List<Why.Reason> reasons = new ArrayList<>(held(run));
    if (runs.retryAt.get(run) > course.now()) {
      reasons.add(
          reason(
              Why.What.RETRY,
              "",
              runs.notes.get(run)
                  + "; it is tried again at "
                  + course.spec(run).clock(runs.retryAt.get(run)),
              since(run),
              ""));
    }
    if (course.gate(run) != Answer.YES) {
      reasons.add(step(course.ties().parent(run), run, depth));
    }
    if (!runs.has(run, Marks.START_NOW)) {
      reasons.addAll(unmet(course.ties().condition(run), run, depth));
      Condition check = course.ties().check(run);
      if (reasons.isEmpty() && check != null) {
        reasons.addAll(unmet(check, run, depth));
      }
    }
    if (reasons.isEmpty()) {
      reasons.addAll(new Lacking(course).of(run));
    }
    return reasons;
  }

  private Why.Reason step(int parent, int run, int depth) {
    RunState state = course.stateAt(parent);
    String name = course.spec(parent).run().reference().toString();
    String text =
        switch (state) {
          case PLANNED ->
              "its step " + name + " is due at " + course.spec(run).clock(runs.due.get(parent));
          case WAITING -> "its step " + name + " is itself waiting";
          default -> "its step " + name + " is " + state.word();
        };
    return new Why.Reason(
        Why.What.STEP,
        "",
        text,
        since(parent),
        state.isEnded() ? OPERATOR : "",
        course.spec(parent).id(),
        deeper(parent, depth));
  }

  /** Why another waiting run waits; nothing where that has been told already, or lies too deep. */
  private List<Why.Reason> deeper(int run, int depth) {
    boolean tell =
        course.stateAt(run) == RunState.WAITING && depth < MAX_DEPTH && !told.contains(run);
    return tell ? missing(run, depth + 1) : List.of();
  }

  private List<Why.Reason> unmet(Condition condition, int run, int depth) {
    if (condition.answer(course, run) == Answer.YES) {
      return List.of();
    }
    return condition.accept(new Unmet(run, depth));
  }

  /** Why a condition that is not met is not, kind by kind. */
  private final class Unmet implements Condition.Visitor<List<Why.Reason>> {
    private final int run;
    private final int depth;

    Unmet(int run, int depth) {
      this.run = run;
      this.depth = depth;
    }

    @Override
    public List<Why.Reason> visit(Condition.Met condition) {
      return List.of();
    }

    @Override
    public List<Why.Reason> visit(Condition.OnRun on) {
      return List.of(onRun(on, run, depth));
    }

    @Override
    public List<Why.Reason> visit(Condition.OnStream on) {
      return onStream(on, run, depth);
    }

    @Override
    public List<Why.Reason> visit(Condition.OnRunning on) {
      return List.of(onRunning(on, run, depth));
    }

    @Override
    public List<Why.Reason> visit(Condition.OnLatest on) {
      return List.of(onLatest(on, run, depth));
    }

    @Override
    public List<Why.Reason> visit(Condition.OnValue on) {
      return List.of(onValue(on, run, depth));
    }

    @Override
    public List<Why.Reason> visit(Condition.OnFile on) {
      return List.of(onFile(on, run));
    }

    @Override
    public List<Why.Reason> visit(Condition.OnWindow on) {
      return List.of(onWindow(on, depth));
    }

    @Override
    public List<Why.Reason> visit(Condition.All all) {
      return parts(all.parts());
    }

    @Override
    public List<Why.Reason> visit(Condition.Any any) {
      List<Why.Reason> below = parts(any.parts());
      String either = below.stream().map(Why.Reason::text).collect(Collectors.joining(", or "));
      return List.of(new Why.Reason(Why.What.EITHER, "", either, since(run), "", 0, below));
    }

    @Override
    public List<Why.Reason> visit(Condition.Not not) {
      return List.of(notSettled(not, run));
    }

    private List<Why.Reason> parts(Condition[] parts) {
      List<Why.Reason> reasons = new ArrayList<>();
      for (Condition part : parts) {
        reasons.addAll(unmet(part, run, depth));
      }
      return reasons;
    }
  }

  private String path(int run) {
    return course.spec(run).run().reference().path();
  }

  /** What of a start of a stream has not been done, or all of it where it was done otherwise. */
  private List<Why.Reason> onStream(Condition.OnStream on, int run, int depth) {
    boolean success = on.outcome() == Prerequisite.Outcome.SUCCEEDED;
    List<Why.Reason> reasons = new ArrayList<>();
    for (int target : on.targets()) {
      RunState state = course.stateAt(target);
      boolean isDone = success ? state == RunState.SUCCEEDED || state == RunState.SKIPPED : false;
      if (!isDone) {
        reasons.add(about(Why.What.RUN, target, path(target), on.outcome().word(), run, depth));
      }
    }
    return reasons;
  }

  /** The opposite of something that has not been settled: told by what is still open of it. */
  private Why.Reason notSettled(Condition condition, int run) {
    List<String> open = new ArrayList<>();
    List<Long> ids = new ArrayList<>();
    condition.targets(
        target -> {
          if (!course.stateAt(target).isEnded()) {
            open.add(course.spec(target).run().reference().path() + " has not ended");
            ids.add(course.spec(target).id());
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
    var planned = course.spec(run).run();
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
          Why.What.RUN, on.path(), notPlanned(on.path(), run, on.previous()), 0, OPERATOR);
    }
    String asked = on.outcome().word() + on.codes().map(codes -> " with code " + codes).orElse("");
    String name =
        path(target) + (on.previous() ? " of " + course.spec(target).run().reference().date() : "");
    return about(Why.What.RUN, target, name, asked, run, depth);
  }

  /** How another run stands, which is not as it is asked for. */
  private Why.Reason about(
      Why.What what, int target, String name, String asked, int run, int depth) {
    RunState state = course.stateAt(target);
    String text = standing.ofAnother(target, name, asked, run);
    String who = state.isEnded() || course.isHeld(target) ? OPERATOR : "";
    return new Why.Reason(
        what, "", text, since(target), who, course.spec(target).id(), below(target, depth));
  }

  /** What lies below a run that another waits for: its own reasons, or those of its step's runs. */
  private List<Why.Reason> below(int target, int depth) {
    boolean goesOn = course.isStep(target) && course.stateAt(target) == RunState.RUNNING;
    if (!goesOn || depth >= MAX_DEPTH || !told.add(target)) {
      return deeper(target, depth);
    }
    List<Why.Reason> reasons = new ArrayList<>();
    for (int child : course.ties().children(target)) {
      RunState state = course.stateAt(child);
      if ((!state.isEnded() && state != RunState.PLANNED) || state == RunState.FAILED) {
        String name = course.spec(child).run().reference().path();
        reasons.add(about(Why.What.RUN, child, name, "", target, depth + 1));
      }
    }
    return reasons;
  }

  private Why.Reason onRunning(Condition.OnRunning on, int run, int depth) {
    if (on.target() < 0) {
      return reason(Why.What.RUN, on.path(), notPlanned(on.path(), run, false), 0, OPERATOR);
    }
    if (on.wanted()) {
      return about(Why.What.RUN, on.target(), path(on.target()), "running", run, depth);
    }
    return new Why.Reason(
        Why.What.RUN,
        "",
        path(on.target()) + " is " + course.stateAt(on.target()).word() + ", and this must not be",
        since(on.target()),
        "",
        course.spec(on.target()).id(),
        List.of());
  }

  private Why.Reason onLatest(Condition.OnLatest on, int run, int depth) {
    String wanted =
        "no run of " + on.path() + " has " + on.outcome().word() + " within " + on.span();
    for (int target : on.targets()) {
      if (!course.stateAt(target).isEnded()) {
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
          Why.What.VALUE, on.name(), notPlanned(on.path(), run, on.previous()), 0, OPERATOR);
    }
    if (!course.stateAt(on.target()).isEnded()) {
      return about(Why.What.VALUE, on.target(), on.path(), "", run, depth);
    }
    return new Why.Reason(
        Why.What.VALUE,
        on.name(),
        fact(on),
        since(on.target()),
        OPERATOR,
        course.spec(on.target()).id(),
        List.of());
  }

  private String fact(Condition.OnValue on) {
    if (on.target() < 0) {
      return on.path() + " is not planned";
    }
    String value = course.valuesAt(on.target()).get(on.name());
    return value == null
        ? on.path() + " handed back no value " + on.name()
        : on.name() + " of " + on.path() + " is " + value;
  }

  /** What the values are that a check looks at. */
  public List<String> facts(Condition condition) {
    List<String> facts = new ArrayList<>();
    condition.values(value -> facts.add(fact(value)));
    return facts.stream().distinct().toList();
  }

  /** The window before, told by the first of its runs that is not done. */
  private Why.Reason onWindow(Condition.OnWindow on, int depth) {
    int open = on.targets()[0];
    for (int target : on.targets()) {
      RunState state = course.stateAt(target);
      if (!state.isEnded() || state == RunState.FAILED) {
        open = target;
        break;
      }
    }
    boolean failed = course.stateAt(open) == RunState.FAILED;
    return new Why.Reason(
        Why.What.WINDOW,
        "",
        "window "
            + on.window()
            + " comes first and "
            + (on.begunIsEnough() ? "has not begun: " : "is not done: ")
            + course.spec(open).run().job().name()
            + " is "
            + course.stateAt(open).word(),
        since(open),
        failed ? OPERATOR : "",
        course.spec(open).id(),
        deeper(open, depth));
  }

  private Why.Reason onFile(Condition.OnFile on, int run) {
    var watch = course.spec(run).run().watches().get(on.place());
    RunStatus.FileState state = runs.files.get(run).get(on.place());
    String text = "file " + on.watch() + " on " + watch.where() + ": " + state.inWords();
    boolean away =
        watch.host().filter(host -> !course.hosts().isUp(course.hosts().of(host))).isPresent();
    if (state.sight() == FileSight.ABSENT && away) {
      text = "file " + on.watch() + ": host " + watch.where() + " is not connected, nobody looks";
    }
    if (state.sight() == FileSight.GROWING) {
      text += "; it must rest for " + Durations.print(watch.whole().stillFor());
    }
    return reason(Why.What.FILE, on.watch(), text, since(run), "whoever sends the file");
  }

  private static String some(List<String> names) {
    return Lacking.some(names);
  }

  static Why.Reason reason(Why.What what, String about, String text, long since, String who) {
    return new Why.Reason(what, about, text, since, who, 0, List.of());
  }
}
