package dev.purser.core.forecast;

import dev.purser.core.board.Action;
import dev.purser.core.board.Board;
import dev.purser.core.board.BoardEvent;
import dev.purser.core.board.Ending;
import dev.purser.core.board.Instruction;
import dev.purser.core.board.RunSpec;
import dev.purser.core.board.RunState;
import dev.purser.core.board.RunStatus;
import dev.purser.core.definition.Work;
import java.time.LocalDate;
import java.time.LocalTime;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.PriorityQueue;
import java.util.SplittableRandom;

/**
 * Plays a board to its end on a simulated clock: the outside is a queue of things that will happen,
 * and whatever the board instructs puts something into it.
 */
public final class Rehearsal {
  private final Board board;
  private final Outcomes outcomes;
  private final SplittableRandom random;
  private final PriorityQueue<Coming> coming = new PriorityQueue<>();
  private final List<BoardEvent> events = new ArrayList<>();
  private final Map<Long, Long> firstStart = new HashMap<>();
  private final Map<Long, BoardEvent> causes = new HashMap<>();
  private long order;

  /**
   * Something that will happen; of two at one time, the one that was put in first.
   *
   * @param order which breaks ties
   */
  private record Coming(long at, long order, BoardEvent event) implements Comparable<Coming> {
    @Override
    public int compareTo(Coming other) {
      return at != other.at ? Long.compare(at, other.at) : Long.compare(order, other.order);
    }
  }

  /**
   * Prepares a rehearsal.
   *
   * @param board played on from where it stands; the caller gives a copy where it is needed again
   * @param outcomes what is assumed
   * @param random the only source of chance
   */
  public Rehearsal(Board board, Outcomes outcomes, SplittableRandom random) {
    this.board = board;
    this.outcomes = outcomes;
    this.random = random;
  }

  /** Assumes that attempts that are out already go on, each for longer than it has until now. */
  public void assumeActiveAttemptsGoOn() {
    for (RunSpec run : board.runs()) {
      RunStatus status = board.status(run.id()).orElseThrow();
      if (status.state().isActive() && !run.run().job().isStep()) {
        long began = status.state() == RunState.RUNNING ? status.started() : board.now();
        firstStart.put(run.id(), began);
        Outcomes.Outcome outcome = outcomes.attempt(run, status.attempts(), random);
        long end = Math.max(began + outcome.millis(), board.now() + 1);
        if (status.state() == RunState.STARTING) {
          expect(
              board.now(), new BoardEvent.AttemptBegan(board.now(), run.id(), status.attempts()));
        }
        expect(end, ended(end, run.id(), status.attempts(), outcome));
      } else if (status.state() == RunState.WAITING) {
        for (int i = 0; i < run.run().watches().size(); i++) {
          expectFile(run.id(), run.run().watches().get(i).name());
        }
        if (board.actions(run.id()).contains(Action.APPROVE)) {
          expectApproval(run);
        }
      }
    }
  }

  /** Applies an event of one's own before or between playing. */
  public List<Instruction> apply(BoardEvent event) {
    events.add(event);
    List<Instruction> given = board.apply(event);
    for (Instruction instruction : given) {
      follow(instruction);
      if (instruction instanceof Instruction.RunChanged changed) {
        noteStart(changed, event);
      }
    }
    return given;
  }

  /** Remembers what it was that let a run start. */
  private void noteStart(Instruction.RunChanged changed, BoardEvent event) {
    boolean starts = changed.state() == RunState.STARTING || changed.state() == RunState.RUNNING;
    if (starts && causes.putIfAbsent(changed.run(), event) == null) {
      firstStart.putIfAbsent(changed.run(), board.now());
    }
  }

  /** What happened at the moment at which a run started first; empty where it has not. */
  public Optional<BoardEvent> causeOfStart(long run) {
    return Optional.ofNullable(causes.get(run));
  }

  /** Plays until nothing more happens, or until the given time. */
  public void play(long until) {
    while (true) {
      long next = coming.isEmpty() ? Long.MAX_VALUE : coming.peek().at();
      long wake = board.nextWake();
      if (Math.min(next, wake) > until || Math.min(next, wake) == Long.MAX_VALUE) {
        return;
      }
      if (wake <= next) {
        apply(new BoardEvent.TimeReached(wake));
      } else {
        apply(coming.remove().event());
      }
    }
  }

  /** The board as it stands now. */
  public Board board() {
    return board;
  }

  /** Every event that was applied, in order: fed to a like board, they give the same again. */
  public List<BoardEvent> events() {
    return events;
  }

  /** When the first attempt of a run began, in epoch milliseconds; 0 where none has. */
  public long firstStart(long run) {
    return firstStart.getOrDefault(run, 0L);
  }

  private void follow(Instruction instruction) {
    if (instruction instanceof Instruction.StartAttempt start) {
      startAttempt(start);
    } else if (instruction instanceof Instruction.StopAttempt stop) {
      stopAttempt(stop);
    } else if (instruction instanceof Instruction.WatchFile watch) {
      expectFile(watch.run(), watch.watch());
    } else if (instruction instanceof Instruction.AskPerson ask) {
      board.run(ask.run()).ifPresent(this::expectApproval);
    }
  }

  private void startAttempt(Instruction.StartAttempt start) {
    long at = board.now();
    Outcomes.Outcome outcome =
        outcomes.attempt(board.run(start.run()).orElseThrow(), start.attempt(), random);
    expect(at, new BoardEvent.AttemptBegan(at, start.run(), start.attempt()));
    long end = at + outcome.millis();
    expect(end, ended(end, start.run(), start.attempt(), outcome));
  }

  private static BoardEvent ended(long at, long run, int attempt, Outcomes.Outcome outcome) {
    return new BoardEvent.AttemptEnded(at, run, attempt, outcome.ending(), at, outcome.values());
  }

  /** A stopped attempt is assumed to end at once when it is asked. */
  private void stopAttempt(Instruction.StopAttempt stop) {
    long at = board.now();
    expect(at, new BoardEvent.AttemptEnded(at, stop.run(), stop.attempt(), Ending.exited(143)));
  }

  private void expectFile(long run, String watch) {
    RunSpec spec = board.run(run).orElseThrow();
    LocalDate date = spec.run().reference().date();
    long looked = Math.max(board.now(), 0);
    arrival(outcomes.file(watch, date, random), looked, spec)
        .ifPresent(
            at -> expect(at, new BoardEvent.FileArrived(at, run, watch, "(assumed) " + watch)));
  }

  private static Optional<Long> arrival(Outcomes.FileOutcome outcome, long looked, RunSpec run) {
    if (outcome instanceof Outcomes.FileOutcome.Never) {
      return Optional.empty();
    }
    if (outcome instanceof Outcomes.FileOutcome.After after) {
      return Optional.of(looked + after.millis());
    }
    if (outcome instanceof Outcomes.FileOutcome.AsUsual usual) {
      return Optional.of(
          usual.times().expected(run.run().reference().date(), usual.part(), looked));
    }
    if (outcome instanceof Outcomes.FileOutcome.At at) {
      LocalTime time = at.time();
      long due = run.run().due().toEpochMilli();
      LocalTime dueTime = run.run().due().atZone(run.run().zone()).toLocalTime();
      LocalDate day = run.run().due().atZone(run.run().zone()).toLocalDate();
      boolean nextDay = time.isBefore(dueTime) && dueTime.getHour() >= 12 && time.getHour() < 12;
      long when =
          day.plusDays(nextDay ? 1 : 0)
              .atTime(time)
              .atZone(run.run().zone())
              .toInstant()
              .toEpochMilli();
      return Optional.of(Math.max(Math.max(when, due), looked));
    }
    return Optional.of(looked);
  }

  private void expectApproval(RunSpec run) {
    if (run.run().job().work() instanceof Work.Approval) {
      outcomes.approval(run).ifPresent(answer -> expectAnswer(run, answer));
    }
  }

  private void expectAnswer(RunSpec run, Outcomes.Answer answer) {
    long at = board.now() + answer.millis();
    List<String> by = ((Work.Approval) run.run().job().work()).answering().by();
    expect(
        at,
        new BoardEvent.PersonActed(
            at,
            run.id(),
            answer.yes() ? Action.APPROVE : Action.REFUSE,
            by.isEmpty() ? "rehearsal" : by.get(0),
            "assumed answer"));
  }

  private void expect(long at, BoardEvent event) {
    coming.add(new Coming(at, order++, event));
  }
}
