package dev.purser.core.why;

import dev.purser.core.course.Course;
import dev.purser.core.course.Hosts;
import dev.purser.core.course.Runs;
import dev.purser.core.job.Where;
import dev.purser.core.prerequisite.Answer;
import dev.purser.core.run.RunState;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;

/** Puts into words how a run stands: of itself, and as what another run waits for. */
final class Standing {
  private final Course course;
  private final Runs runs;

  Standing(Course course) {
    this.course = course;
    this.runs = course.runs();
  }

  /**
   * How a run stands that another one waits for, which is not as it is asked for.
   *
   * @param name what it is called there
   * @param asked how it should stand, for a run that stands otherwise for good
   * @param reader the run that waits: times are on its clock
   */
  String ofAnother(int run, String name, String asked, int reader) {
    RunState state = course.stateAt(run);
    String note = runs.notes.get(run);
    String at = course.spec(reader).clock(since(run));
    return switch (state) {
      case PLANNED ->
          name
              + " is "
              + (course.isHeld(run) ? course.holdAt(run) + " and " : "")
              + "due at "
              + course.spec(reader).clock(runs.due.get(run));
      case WAITING -> name + " is itself waiting since " + at;
      case STARTING -> name + " is starting " + place(run);
      case RUNNING ->
          course.isStep(run)
              ? name + " has been going on since " + at + below(run)
              : name + " has been running " + place(run) + " since " + at;
      case FAILED -> name + " failed at " + at + " (" + note + ")";
      case CANCELLED -> name + " was " + note;
      case SUCCEEDED, SKIPPED -> name + " is " + state.word() + ", not " + asked;
    };
  }

  /**
   * How a run stands, as a sentence without its full stop.
   *
   * @param reasons why it does not start, where it waits
   */
  String sentence(int run, List<Why.Reason> reasons) {
    String note = runs.notes.get(run);
    boolean step = course.isStep(run);
    return switch (course.stateAt(run)) {
      case PLANNED ->
          "It is due at "
              + course.spec(run).clock(runs.due.get(run))
              + (note.isEmpty() ? "" : ", " + note)
              + (course.isHeld(run) ? ", and is " + course.holdAt(run) : "")
              + inTheWay(reasons);
      case WAITING ->
          reasons.isEmpty()
              ? "It is about to start"
              : "It waits: "
                  + reasons.stream().map(Why.Reason::text).collect(Collectors.joining("; "));
      case STARTING ->
          where(run)
              .as(
                  host ->
                      "It has been sent to "
                          + host
                          + " and is starting there"
                          + (isReachable(run) ? "" : ", as soon as that host is connected again"),
                  () -> "It is starting in the service" + (note.isEmpty() ? "" : ": " + note),
                  () -> "It is starting");
      case RUNNING ->
          step
              ? "It has been going on since "
                  + course.spec(run).clock(runs.started.get(run))
                  + below(run)
                  + (course.isHeld(run) ? "; it is " + course.holdAt(run) : "")
                  + (note.isEmpty() ? "" : "; " + note)
              : "It has been running "
                  + place(run)
                  + " since "
                  + course.spec(run).clock(runs.started.get(run))
                  + away(run)
                  + (note.isEmpty() ? "" : "; " + note);
      case SUCCEEDED, FAILED, CANCELLED, SKIPPED -> ended(run);
    };
  }

  /** What stands in the way of a run that is not due yet, but for its own hold. */
  private static String inTheWay(List<Why.Reason> reasons) {
    String others =
        reasons.stream()
            .filter(reason -> reason.what() != Why.What.HOLD)
            .map(Why.Reason::text)
            .collect(Collectors.joining("; "));
    return others.isEmpty() ? "" : "; in its way already: " + others;
  }

  private String ended(int run) {
    String note = runs.notes.get(run);
    return switch (course.stateAt(run)) {
      case SUCCEEDED ->
          "It succeeded at "
              + course.spec(run).clock(since(run))
              + (note.isEmpty() ? "" : ", " + note);
      case FAILED ->
          "It failed at "
              + course.spec(run).clock(since(run))
              + ": "
              + note
              + tries(run)
              + "; it stays so until a person reruns or skips it";
      case CANCELLED ->
          "It was "
              + withState("cancelled", ": ", note)
              + "; it stays so until a person reruns or skips it";
      case SKIPPED ->
          "It was " + withState("skipped", course.isNotNeeded(run) ? " as " : ": ", note);
      case PLANNED, WAITING, STARTING, RUNNING ->
          throw new IllegalStateException("it has not ended");
    };
  }

  /** How far a step has come. */
  private String below(int run) {
    int ended = 0;
    List<String> waiting = new ArrayList<>();
    boolean moves = false;
    int[] children = course.ties().children(run);
    for (int child : children) {
      RunState state = course.stateAt(child);
      ended += state.isEnded() ? 1 : 0;
      moves |= state.isActive() || (!state.isEnded() && !isStuck(child));
      if (state == RunState.WAITING) {
        waiting.add(course.spec(child).run().reference().job());
      }
    }
    return ": "
        + ended
        + " of "
        + children.length
        + " below it have ended"
        + (moves || waiting.isEmpty() ? "" : "; nothing moves, " + Lacking.some(waiting) + " wait");
  }

  private boolean isStuck(int run) {
    return course.isHeld(run) || course.answer(run).compareTo(Answer.OPEN) < 0;
  }

  /** What is not known of a run because its host is away. */
  private String away(int run) {
    Hosts hosts = course.hosts();
    if (isReachable(run)) {
      return "";
    }
    long since = hosts.lostAt(runs.hosts.get(run));
    return "; that host has not been connected"
        + (since > 0 ? " since " + course.spec(run).clock(since) : "")
        + ", and says what has become of it when it is back";
  }

  private String tries(int run) {
    int attempts = runs.attempts.get(run);
    return attempts > 1 ? ", after " + attempts + " attempts" : "";
  }

  /** A note that says by itself what became of the run is not told so twice. */
  private static String withState(String state, String join, String note) {
    return note.startsWith(state) ? note : state + join + note;
  }

  private String place(int run) {
    return where(run).inWords();
  }

  private Where where(int run) {
    return course.hosts().where(runs.hosts.get(run));
  }

  private boolean isReachable(int run) {
    return course.hosts().isReachable(runs.hosts.get(run));
  }

  private long since(int run) {
    return runs.since.get(run);
  }
}
