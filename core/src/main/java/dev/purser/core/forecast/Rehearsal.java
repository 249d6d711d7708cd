package dev.purser.core.forecast;

import dev.purser.core.board.Board;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.job.Approval;
import dev.purser.core.run.Action;
import dev.purser.core.run.Ending;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import java.time.LocalDate;
import java.time.LocalTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.SplittableRandom;
import java.util.TreeSet;

/**
 * Plays a board to its end on a simulated clock: the outside is a queue of things that will happen,
 * and whatever the board instructs puts something into it.
 */
public final class Rehearsal {
  private final Board board;
  private final Outcomes outcomes;
  private final Draws draws;
  private final ComingEvents coming = new ComingEvents();
  private final List<BoardEvent> events = new ArrayList<>();
  private long[] firstStart = {};
  private int[] firstTurn = {};
  private int turnBegan;
  private boolean keepsRecord = true;
  private long[] things;
  private final Set<Long> tooEarly = new TreeSet<>();

  /** Where it began: what should have happened before then and has not is not assumed to. */
  private final long begin;

  private final Outside outside = new Outside();

  /**
   * Prepares a rehearsal.
   *
   * @param board played on from where it stands; the caller gives a copy where it is needed again
   * @param outcomes what is assumed
   * @param random the only source of chance; what is drawn for a run is drawn by what it is, so
   *     that what is left out changes nothing for the others
   */
  public Rehearsal(Board board, Outcomes outcomes, SplittableRandom random) {
    this(board, Sample.of(outcomes, random));
  }

  /** Prepares to play a sample. */
  Rehearsal(Board board, Sample sample) {
    this.board = board;
    this.draws = sample.draws();
    this.outcomes = sample.outcomes();
    this.begin = board.now();
    for (BoardEvent event : outcomes.planned()) {
      if (event.at() > begin) {
        expect(event.at(), event);
      }
    }
  }

  /**
   * Keeps no record of events, and knows already what is drawn by: for one of many samples.
   *
   * @param known of {@link Draws#things}
   */
  void beOneOfMany(long[] known) {
    keepsRecord = false;
    things = known;
  }

  private SplittableRandom chance(RunSpec run, int what) {
    int index = things == null ? -1 : board.indexOf(run.id());
    return draws.of(index >= 0 ? things[index] : Draws.thing(run), what);
  }

  /**
   * When the first attempt of each run began, by its place on the board; shorter where none did.
   */
  long[] firstStarts() {
    return firstStart;
  }

  /** Assumes that attempts that are out already go on, each for longer than it has until now. */
  public void assumeActiveAttemptsGoOn() {
    assumeActiveAttemptsGoOn(begun(board));
  }

  /** The runs of which something is to be assumed: they have begun, and are not over for good. */
  static List<RunSpec> begun(Board board) {
    return board.runs().stream()
        .filter(run -> board.state(run.id()).filter(Rehearsal::isBegun).isPresent())
        .toList();
  }

  private static boolean isBegun(RunState state) {
    return state.isActive() || state == RunState.WAITING || state == RunState.FAILED;
  }

  /**
   * The same where it is known of which: many samples begin alike, and most runs have not begun.
   *
   * @param begun of {@link #begun}, of a board like this one
   */
  void assumeActiveAttemptsGoOn(List<RunSpec> begun) {
    for (RunSpec run : begun) {
      RunStatus status = board.status(run.id()).orElseThrow();
      if (status.state().isActive() && !run.run().job().isStep()) {
        long began = status.state() == RunState.RUNNING ? status.started() : board.now();
        int index = noted(run.id());
        firstStart[index] = began;
        Outcomes.Outcome outcome =
            outcomes.goingOn(
                run, status.attempts(), board.now() - began, chance(run, status.attempts()));
        long end = Math.max(began + outcome.millis(), board.now() + 1);
        if (status.state() == RunState.STARTING) {
          expect(
              board.now(), new BoardEvent.AttemptBegan(board.now(), run.id(), status.attempts()));
        }
        expect(end, ended(end, run.id(), status.attempts(), outcome));
      } else if (status.state() == RunState.WAITING) {
        for (int i = 0; i < run.run().watches().size(); i++) {
          expectMissing(run.id(), run.run().watches().get(i).name());
        }
        if (board.actions(run.id()).contains(Action.APPROVE)) {
          expectApproval(run);
        }
      } else if (status.state() == RunState.FAILED
          && board.actions(run.id()).contains(Action.RERUN)) {
        expectRecovery(run, status);
      }
    }
  }

  /** Applies events of one's own before or between playing, as one turn. */
  public List<Instruction> apply(BoardEvent... turn) {
    List<Instruction> given = new ArrayList<>();
    for (BoardEvent event : turn) {
      given.addAll(take(event));
    }
    given.addAll(endTurn());
    return given;
  }

  private List<Instruction> take(BoardEvent event) {
    note(event);
    List<Instruction> given = board.apply(event);
    given.forEach(instruction -> instruction.accept(outside));
    return given;
  }

  /** The same for who needs no list, which most of a play does not. */
  private void takeIn(BoardEvent event) {
    note(event);
    board.apply(event, outside);
  }

  private void note(BoardEvent event) {
    if (keepsRecord) {
      events.add(event);
    }
  }

  private List<Instruction> endTurn() {
    List<Instruction> given = take(new BoardEvent.TurnEnded(board.now()));
    turnHasEnded();
    return given;
  }

  private void finishTurn() {
    takeIn(new BoardEvent.TurnEnded(board.now()));
    turnHasEnded();
  }

  private void turnHasEnded() {
    turnBegan = events.size();
    answerLater();
  }

  /** What happened in the turn in which a run started first, in order; empty where it has not. */
  public List<BoardEvent> causesOfStart(long run) {
    int index = board.indexOf(run);
    if (index < 0 || index >= firstTurn.length || firstTurn[index] == 0) {
      return List.of();
    }
    int from = firstTurn[index] - 1;
    int to = from;
    while (!(events.get(to) instanceof BoardEvent.TurnEnded)) {
      to++;
    }
    return events.subList(from, to);
  }

  /**
   * Plays until nothing more happens, or until the given time. All that happens at one simulated
   * instant is one turn; what its decisions make happen at that instant is the next.
   */
  public void play(long until) {
    while (true) {
      long next = coming.nextAt();
      long now = Math.min(next, board.nextWake());
      if (now > until || now == Long.MAX_VALUE) {
        return;
      }
      if (next > now) {
        takeIn(new BoardEvent.TimeReached(now));
      }
      long before = coming.count();
      while (coming.nextAt() <= now && coming.nextNumber() < before) {
        takeIn(coming.take());
      }
      finishTurn();
    }
  }

  /** The board as it stands now. */
  public Board board() {
    return board;
  }

  /**
   * Every event that was applied, in order, where a record is kept: fed to a like board, they give
   * the same again.
   */
  public List<BoardEvent> events() {
    return events;
  }

  /** When the first attempt of a run began, in epoch milliseconds; 0 where none has. */
  public long firstStart(long run) {
    int index = board.indexOf(run);
    return index >= 0 && index < firstStart.length ? firstStart[index] : 0;
  }

  /** Carries out what the board instructs, as far as a rehearsal does. */
  private final class Outside extends Instruction.Some {
    @Override
    public Void visit(Instruction.StartAttempt start) {
      noteStart(start.run());
      startAttempt(start);
      return null;
    }

    @Override
    public Void visit(Instruction.RunChanged changed) {
      if (changed.state() == RunState.RUNNING) {
        noteStart(changed.run()); // a step has no attempt
      }
      return null;
    }

    @Override
    public Void visit(Instruction.StopAttempt stop) {
      stopAttempt(stop);
      return null;
    }

    @Override
    public Void visit(Instruction.Refused refused) {
      if (refused.action() == Action.APPROVE || refused.action() == Action.REFUSE) {
        tooEarly.add(refused.run());
      }
      return null;
    }

    @Override
    public Void visit(Instruction.WatchFile watch) {
      expectFile(watch.run(), watch.watch());
      return null;
    }

    @Override
    public Void visit(Instruction.AskPerson ask) {
      board.run(ask.run()).ifPresent(Rehearsal.this::expectApproval);
      return null;
    }
  }

  /** An answer that came while the question could not be answered comes when it can. */
  private void answerLater() {
    if (!tooEarly.isEmpty()) {
      for (long run : List.copyOf(tooEarly)) {
        if (board.actions(run).contains(Action.APPROVE)) {
          tooEarly.remove(run);
          board.run(run).ifPresent(this::expectApproval);
        }
      }
    }
  }

  /** Remembers when a run started first, and in which turn. */
  private void noteStart(long run) {
    int index = noted(run);
    if (firstStart[index] == 0) {
      firstStart[index] = board.now();
      firstTurn[index] = turnBegan + 1;
    }
  }

  private int noted(long run) {
    int index = board.indexOf(run);
    if (index >= firstStart.length) {
      firstStart = Arrays.copyOf(firstStart, board.size());
      firstTurn = Arrays.copyOf(firstTurn, board.size());
    }
    return index;
  }

  private void startAttempt(Instruction.StartAttempt start) {
    long at = board.now();
    RunSpec run = board.run(start.run()).orElseThrow();
    Outcomes.Outcome outcome = outcomes.attempt(run, start.attempt(), chance(run, start.attempt()));
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

  private void expectRecovery(RunSpec run, RunStatus status) {
    long since = Math.min(status.since(), begin);
    outcomes
        .recovery(run, begin - since, chance(run, Draws.RECOVERY))
        .ifPresent(
            after -> {
              long at = Math.max(since + after, begin + 1);
              expect(
                  at,
                  new BoardEvent.PersonActed(
                      at, run.id(), Action.RERUN, "rehearsal", "assumed, as before"));
            });
  }

  /** A file that is looked for already and of which nothing is known is not assumed to come. */
  private void expectMissing(long run, String watch) {
    RunSpec spec = board.run(run).orElseThrow();
    Outcomes.FileOutcome outcome = file(spec, watch);
    if (!(outcome instanceof Outcomes.FileOutcome.AtOnce)) {
      expectFile(spec, watch, outcome);
    }
  }

  private void expectFile(long run, String watch) {
    RunSpec spec = board.run(run).orElseThrow();
    expectFile(spec, watch, file(spec, watch));
  }

  private Outcomes.FileOutcome file(RunSpec spec, String watch) {
    LocalDate date = spec.run().reference().date();
    return outcomes.file(watch, date, draws.of(watch, date));
  }

  private void expectFile(RunSpec spec, String watch, Outcomes.FileOutcome outcome) {
    long run = spec.id();
    long looked = Math.max(board.now(), 0);
    arrival(outcome, looked, spec)
        .ifPresent(
            at -> expect(at, new BoardEvent.FileArrived(at, run, watch, "(assumed) " + watch)));
  }

  private Optional<Long> arrival(Outcomes.FileOutcome outcome, long looked, RunSpec run) {
    if (outcome instanceof Outcomes.FileOutcome.Never) {
      return Optional.empty();
    }
    if (outcome instanceof Outcomes.FileOutcome.After after) {
      return Optional.of(looked + after.millis());
    }
    if (outcome instanceof Outcomes.FileOutcome.AsUsual usual) {
      return usual
          .times()
          .expected(run.run().reference().date(), usual.part(), begin)
          .map(at -> Math.max(at, looked));
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
    if (run.run().job().work() instanceof Approval) {
      long asked = board.status(run.id()).map(RunStatus::asked).orElse(0L);
      long since = asked > 0 ? Math.min(asked, board.now()) : board.now();
      outcomes
          .approval(run, board.now() - since, chance(run, Draws.ANSWER))
          .ifPresent(answer -> expectAnswer(run, since, answer));
    }
  }

  private void expectAnswer(RunSpec run, long since, Outcomes.Answer answer) {
    long at = Math.max(since + answer.millis(), board.now());
    List<String> by = ((Approval) run.run().job().work()).answering().by();
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
    coming.add(at, event);
  }
}
