package dev.purser.service.arrival;

import dev.purser.core.arrival.Arrival;
import dev.purser.core.arrival.ArrivalState;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.problem.Shorten;
import dev.purser.core.run.Action;
import dev.purser.core.run.RunState;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.board.Turn;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;

/** What people decide of files: to use one after all, to put it aside, to call it done. */
@Component
public class ArrivalActions {
  private static final int MOST_NAMED = 6;

  private final Engine engine;
  private final ArrivalDesk desk;
  private final ArrivalRecords records;
  private final AuditTrail audit;

  ArrivalActions(Engine engine, ArrivalDesk desk, ArrivalRecords records, AuditTrail audit) {
    this.engine = engine;
    this.desk = desk;
    this.records = records;
    this.audit = audit;
  }

  /** What can be decided. */
  public enum Decision {
    /** Use it: its run is tried again, or it is free for the next one. */
    RETRY,
    /** Leave it alone. */
    PUT_ASIDE,
    /** Somebody has dealt with it elsewhere. */
    DONE;

    /** The word in the API and on the command line. */
    public String word() {
      return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    /** The decision of a word. */
    public static Optional<Decision> of(String word) {
      return Arrays.stream(values()).filter(one -> one.word().equals(word)).findFirst();
    }

    /** All words. */
    public static List<String> words() {
      return Arrays.stream(values()).map(Decision::word).toList();
    }
  }

  /**
   * What became of one arrival.
   *
   * @param now its state now; empty where there is none of that number
   * @param refusal why nothing was done; empty where it was done
   * @param effect what became of the runs that had it, in words; empty where there are none
   */
  public record Result(long id, String path, String now, String refusal, String effect) {}

  /**
   * Decides on arrivals, each for itself, and says what became of each, in the same order. Nothing
   * else is kept back by one that is refused.
   */
  public List<Result> decide(
      List<Long> ids, Decision decision, AuditTrail.Actor actor, String reason) {
    Map<Long, Arrival> known =
        records.byIds(new HashSet<>(ids)).stream()
            .map(ArrivalRow::arrival)
            .collect(Collectors.toMap(Arrival::id, Function.identity()));
    return engine
        .ask(
            turn -> {
              List<Result> results = new ArrayList<>();
              for (long id : ids) {
                Arrival one = known.get(id);
                results.add(
                    one == null
                        ? new Result(id, "", "", "there is no arrival " + id, "")
                        : decide(turn, desk.asItIs(one), decision, actor, reason));
              }
              return results;
            })
        .join();
  }

  /** What is wrong with the directories of watches, by watch and place. */
  public Map<String, Map<String, String>> troubles() {
    return desk.troubles();
  }

  private Result decide(
      Turn turn, Arrival one, Decision decision, AuditTrail.Actor actor, String reason) {
    String refusal =
        switch (decision) {
          case RETRY -> retry(turn, one, actor, reason);
          case PUT_ASIDE -> putAside(turn, one, actor, reason);
          case DONE -> done(turn, one, actor, reason);
        };
    Arrival now = desk.asItIs(one);
    String effect = "";
    if (refusal.isEmpty()) {
      effect = itsRuns(turn, one, decision, actor, reason);
      String what = decision.word() + " file";
      String about = "arrival " + one.id() + " of " + one.watch() + ": " + one.path();
      String cut = Shorten.text(about, 250);
      turn.also(session -> session.insert(audit.entry(actor, what, cut, reason)));
    }
    return new Result(
        one.id(), one.path(), afterwards(one, now, decision, refusal).word(), refusal, effect);
  }

  /**
   * What becomes of the runs that could not process it: once it is done in another way they have
   * succeeded, by that person's word, and what waits for them goes on; once it is put aside they
   * are left out, with all of the start that it began. Their alerts close with that.
   */
  private String itsRuns(
      Turn turn, Arrival one, Decision decision, AuditTrail.Actor actor, String reason) {
    if (one.state() != ArrivalState.UNPROCESSED || decision == Decision.RETRY || one.run() == 0) {
      return "";
    }
    boolean done = decision == Decision.DONE;
    List<String> touched = new ArrayList<>();
    for (long run : desk.startedWith(one.run()).stream().sorted().toList()) {
      Optional<RunState> state = turn.board().state(run);
      boolean failed = state.filter(RunState.FAILED::equals).isPresent();
      boolean notBegun =
          state.filter(s -> s == RunState.WAITING || s == RunState.PLANNED).isPresent();
      if (failed || (notBegun && !done)) {
        String name = turn.board().run(run).orElseThrow().run().reference().toString();
        String because = "its file is " + (done ? "done" : "put aside") + ": " + reason;
        Action action = done ? Action.SUCCEED : Action.SKIP;
        List<Instruction> given =
            turn.apply(
                new BoardEvent.PersonActed(turn.now(), run, action, actor.name(), because, 0));
        touched.add(
            name + given.stream().map(ArrivalActions::refused).collect(Collectors.joining()));
      }
    }
    return touched.isEmpty()
        ? ""
        : Shorten.names(touched, MOST_NAMED)
            + (touched.size() == 1 ? " is " : " are ")
            + (done ? "marked as succeeded, and what waits for that goes on" : "skipped with it");
  }

  private static String refused(Instruction instruction) {
    return instruction instanceof Instruction.Refused refused
        ? " (not done: " + refused.reason() + ")"
        : "";
  }

  /** How it is once this turn is over: what is over is not at the desk any more. */
  private static ArrivalState afterwards(
      Arrival before, Arrival now, Decision decision, String refusal) {
    if (!refusal.isEmpty() || now.state() != before.state()) {
      return now.state();
    }
    return switch (decision) {
      case RETRY -> ArrivalState.TAKEN; // its run is tried again
      case PUT_ASIDE -> ArrivalState.IGNORED;
      case DONE -> ArrivalState.USED;
    };
  }

  private String retry(Turn turn, Arrival one, AuditTrail.Actor actor, String reason) {
    boolean can =
        one.state() == ArrivalState.UNPROCESSED
            || one.state() == ArrivalState.REJECTED
            || one.state() == ArrivalState.IGNORED;
    if (!can) {
      return "it is " + one.state().word() + "; only what was not processed can be tried again";
    }
    if (one.neverUsable().isPresent()) {
      return one.neverUsable().get();
    }
    Set<Long> bad =
        desk.startedWith(one.run()).stream()
            .filter(run -> hasFailed(turn.board().state(run)))
            .collect(Collectors.toSet());
    if (one.run() == 0 || bad.isEmpty()) {
      String note = "to be used, says " + by(actor, reason);
      desk.decide(turn, one, ArrivalState.READY, note);
      return "";
    }
    for (long run : bad) {
      List<Instruction> given =
          turn.apply(
              new BoardEvent.PersonActed(turn.now(), run, Action.RERUN, actor.name(), reason, 0));
      for (Instruction instruction : given) {
        if (instruction instanceof Instruction.Refused refused) {
          return refused.reason();
        }
      }
    }
    return "";
  }

  private static boolean hasFailed(Optional<RunState> state) {
    return state
        .filter(
            one -> one == RunState.FAILED || one == RunState.CANCELLED || one == RunState.SKIPPED)
        .isPresent();
  }

  private String putAside(Turn turn, Arrival one, AuditTrail.Actor actor, String reason) {
    boolean can =
        one.state().isOpen()
            || one.state() == ArrivalState.UNPROCESSED
            || one.state() == ArrivalState.REJECTED;
    if (!can) {
      return "it is " + one.state().word() + " and cannot be put aside";
    }
    String note = one.asideFor("put aside by " + by(actor, reason));
    desk.decide(turn, one, ArrivalState.IGNORED, note);
    return "";
  }

  private String done(Turn turn, Arrival one, AuditTrail.Actor actor, String reason) {
    boolean can =
        one.state() == ArrivalState.READY
            || one.state() == ArrivalState.UNPROCESSED
            || one.state() == ArrivalState.REJECTED;
    if (!can) {
      return "it is " + one.state().word() + " and cannot be marked as done";
    }
    if (reason.isBlank()) {
      return "say why it is done: a reason is needed";
    }
    desk.tidy(
        turn, desk.decide(turn, one, ArrivalState.USED, "marked as done by " + by(actor, reason)));
    return "";
  }

  private static String by(AuditTrail.Actor actor, String reason) {
    return actor.name() + (reason.isBlank() ? "" : ": " + reason);
  }
}
