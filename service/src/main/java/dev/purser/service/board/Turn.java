package dev.purser.service.board;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.board.AlertWords;
import dev.purser.core.board.Board;
import dev.purser.core.board.BoardView;
import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.RunReference;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.Function;
import org.hibernate.StatelessSession;

/** One turn of the engine: what is applied in it, and what must be written for it. */
public final class Turn {
  /** Of an alert that was opened, and of which nothing has been said yet. */
  private static final AlertWords.Said UNSAID = new AlertWords.Said("", "");

  private final Board board;
  private final EngineRecords records;
  private final long now;
  private Definitions definitions;
  private long revision;

  private final IdentityHashMap<Instruction.OpenAlert, AlertWords.Said> said =
      new IdentityHashMap<>();
  private final Map<AlertOfRun, Boolean> alertChanges = new LinkedHashMap<>();

  private final List<BoardEvent> applied = new ArrayList<>();
  private final List<Instruction> instructions = new ArrayList<>();
  private final Set<Long> fresh = new LinkedHashSet<>();
  private final Set<Long> touched = new LinkedHashSet<>();
  private final Set<Long> gone = new LinkedHashSet<>();
  private final Set<Long> redefined = new LinkedHashSet<>();
  private final List<Moment> moments = new ArrayList<>();
  private final Map<Long, RunState> lastStates = new HashMap<>();
  private final List<BoardEvent> attemptEvents = new ArrayList<>();
  private final List<Consumer<StatelessSession>> more = new ArrayList<>();
  private final Bulk bulk = new Bulk();
  private final List<Output> outputs = new ArrayList<>();
  private final Notes notes = new Notes();
  private final Map<String, Object> memory = new HashMap<>();
  private final Map<Long, RunSpec> specs = new LinkedHashMap<>();
  private final Map<Long, RunStatus> statuses = new LinkedHashMap<>();

  Turn(Board board, Definitions definitions, long revision, EngineRecords records, long now) {
    this.board = board;
    this.definitions = definitions;
    this.revision = revision;
    this.records = records;
    this.now = Math.max(now, board.now());
  }

  /** A kind of alert of a run. */
  record AlertOfRun(long run, AlertKind kind) {}

  /** Something to be written into a run's history. */
  record Moment(long run, long at, RunState state, String note) {}

  /**
   * All output of an attempt.
   *
   * @param length in bytes before it was deflated
   */
  record Output(long run, int attempt, long length, byte[] deflated) {}

  /** A run that has changed, for those who look on. */
  public record Change(long run, String reference, String state) {}

  /** The time of the turn, epoch milliseconds. */
  public long now() {
    return now;
  }

  /** The board. */
  public BoardView board() {
    return board;
  }

  /** The definitions in force. */
  public Definitions definitions() {
    return definitions;
  }

  /** The revision of the definitions in force. */
  public long revision() {
    return revision;
  }

  /** Puts other definitions in force. */
  public void define(Definitions fresh, long freshRevision) {
    definitions = fresh;
    revision = freshRevision;
    apply(dev.purser.core.forecast.Outlook.site(fresh, now));
  }

  /**
   * Applies an event to the board. What follows from it is decided when the turn ends; refusals and
   * what changes at once is told here.
   */
  public List<Instruction> apply(BoardEvent event) {
    applied.add(event);
    List<Instruction> given = board.apply(event);
    instructions.addAll(given);
    boolean ofAttempt =
        event instanceof BoardEvent.AttemptBegan
            || event instanceof BoardEvent.AttemptEnded
            || (event instanceof BoardEvent.AttemptTold told && isGoingOn(told));
    if (ofAttempt) {
      attemptEvents.add(event);
    }
    for (Instruction instruction : given) {
      instruction.accept(notes);
    }
    return given;
  }

  private boolean isGoingOn(BoardEvent.AttemptTold told) {
    return board
        .status(told.run())
        .filter(one -> one.state().isActive() && one.attempts() == told.attempt())
        .isPresent();
  }

  /** What of the instructions must be written down besides. */
  private final class Notes extends Instruction.Some {
    @Override
    public Void visit(Instruction.RunChanged changed) {
      note(changed);
      return null;
    }

    @Override
    public Void visit(Instruction.OpenAlert open) {
      touched.add(open.run());
      said.put(open, UNSAID);
      alertChanges.put(new AlertOfRun(open.run(), open.kind()), true);
      return null;
    }

    @Override
    public Void visit(Instruction.CloseAlert close) {
      touched.add(close.run());
      alertChanges.put(new AlertOfRun(close.run(), close.kind()), false);
      return null;
    }
  }

  /** Whether nothing has come in that must be decided yet. */
  boolean isDecided() {
    return board.isDecided();
  }

  /** Decides who may start, and tells the alerts that were opened. */
  void decide() {
    apply(new BoardEvent.TurnEnded(now));
    said.replaceAll(
        (open, before) ->
            before.equals(UNSAID) && board.run(open.run()).isPresent()
                ? AlertWords.of(open, board)
                : before);
  }

  /** Alerts that were opened (true) or closed, each as it stands now. */
  Map<AlertOfRun, Boolean> alertChanges() {
    return alertChanges;
  }

  /** The key of what an alert comes of that was opened in this turn. */
  String alertCause(Instruction.OpenAlert open) {
    return said.getOrDefault(open, UNSAID).cause();
  }

  /** What an alert that was opened in this turn says. */
  String alertText(Instruction.OpenAlert open) {
    return said.getOrDefault(open, UNSAID).text();
  }

  private void note(Instruction.RunChanged changed) {
    touched.add(changed.run());
    boolean isNews = !changed.note().isEmpty() || lastStates.get(changed.run()) != changed.state();
    boolean planned = changed.state() == RunState.PLANNED && changed.note().isEmpty();
    lastStates.put(changed.run(), changed.state());
    if (isNews && !planned) {
      moments.add(new Moment(changed.run(), now, changed.state(), changed.note()));
    }
  }

  /** Puts planned runs on the board, each with a new id; returns their ids in the same order. */
  public List<Long> plan(List<PlannedRun> runs) {
    return plan(runs, 0);
  }

  /**
   * Puts planned runs on the board of which some may have been missed.
   *
   * @param missedBefore those due before this were; 0 for none
   */
  public List<Long> plan(List<PlannedRun> runs, long missedBefore) {
    return plan(runs, missedBefore, Map.of());
  }

  /**
   * The same for runs of which some were there before as others.
   *
   * @param said what people have said of those
   */
  public List<Long> plan(
      List<PlannedRun> runs, long missedBefore, Map<RunReference, RunStatus.Said> said) {
    List<RunSpec> added = new ArrayList<>();
    Map<Long, RunStatus.Said> saidById = new HashMap<>();
    for (PlannedRun run : runs) {
      long id = records.nextId();
      added.add(new RunSpec(id, run, records.longAfter(run, definitions)));
      if (said.containsKey(run.reference())) {
        saidById.put(id, said.get(run.reference()));
      }
      records.numbered(run.reference());
      fresh.add(id);
    }
    List<BoardEvent.Restored> past =
        records.lookedAt(runs).stream()
            .filter(one -> board.run(one.spec().id()).isEmpty())
            .toList();
    if (!past.isEmpty()) {
      apply(new BoardEvent.RunsRestored(now, past));
    }
    if (!added.isEmpty()) {
      apply(new BoardEvent.RunsPlanned(now, added, missedBefore, saidById));
    }
    return added.stream().map(RunSpec::id).toList();
  }

  /** Takes runs off the plan that have not begun. */
  public void withdraw(List<Long> runs) {
    if (!runs.isEmpty()) {
      apply(new BoardEvent.RunsWithdrawn(now, runs));
      runs.stream().filter(id -> board.run(id).isEmpty()).forEach(gone::add);
    }
  }

  /**
   * Has runs that are there take the definitions in force, where they stand. One that they do not
   * have, or that would be the same, stays as it is.
   *
   * @param renewed what a run becomes by them
   * @param note by whom and why, for people
   * @return how many have become others
   */
  public int redefine(
      List<RunSpec> runs, Function<PlannedRun, Optional<PlannedRun>> renewed, String note) {
    List<RunSpec> others = new ArrayList<>();
    for (RunSpec run : runs) {
      renewed
          .apply(run.run())
          .filter(after -> !after.equals(run.run()))
          .map(after -> new RunSpec(run.id(), after, records.longAfter(after, definitions)))
          .ifPresent(others::add);
    }
    if (others.isEmpty()) {
      return 0;
    }
    apply(new BoardEvent.RunsRedefined(now, others, note));
    List<Long> taken =
        others.stream()
            .filter(one -> board.run(one.id()).filter(one::equals).isPresent())
            .map(RunSpec::id)
            .toList();
    redefined.addAll(taken);
    return taken.size();
  }

  /**
   * Has runs go by the name that their stream has now; what is not over goes by the definitions in
   * force from now on.
   *
   * @param runs with the ids that they have
   * @param note from what to what and by whom, for people
   */
  public void rename(List<RunSpec> runs, String note) {
    if (!runs.isEmpty()) {
      apply(new BoardEvent.StreamRenamed(now, runs, note));
      runs.stream()
          .filter(run -> board.state(run.id()).filter(RunState::isOver).isEmpty())
          .forEach(run -> redefined.add(run.id()));
    }
  }

  /** Whether a run has taken other definitions in this turn than those by which it was planned. */
  boolean isRedefined(long run) {
    return redefined.contains(run);
  }

  /** Whether a run was taken off the plan in this turn. */
  public boolean isGone(long run) {
    return gone.contains(run);
  }

  /** Keeps all output of an attempt, which is little, together with its end. */
  public void keepOutput(long run, int attempt, long length, byte[] deflated) {
    outputs.add(new Output(run, attempt, length, deflated));
  }

  /** Adds something to what is written with this turn. */
  public void also(Consumer<StatelessSession> write) {
    more.add(write);
  }

  /**
   * Adds a row to what is written with this turn; many of one statement go together.
   *
   * @param statement with a question mark for each value
   * @param values texts, numbers, truths, bytes, instants or null
   */
  public void write(String statement, Object... values) {
    bulk.add(statement, values);
  }

  /** What was noted in this turn under a name; null where nothing was. */
  public Object noted(String name) {
    return memory.get(name);
  }

  /** Notes something for those who come later in this turn: it is not on record yet. */
  public void note(String name, Object what) {
    memory.put(name, what);
  }

  /** The next free number of a stream's starts on a date. */
  public int nextNumber(String stream, LocalDate date) {
    return records.lastNumber(board, stream, date) + 1;
  }

  /** What was applied and came of it since some place in this turn; for those who follow up. */
  public List<Instruction> instructionsFrom(int place) {
    return List.copyOf(instructions.subList(place, instructions.size()));
  }

  /** How many instructions this turn has until now. */
  public int instructionCount() {
    return instructions.size();
  }

  /** Remembers how the touched runs stand at the end of the turn. */
  void seal() {
    for (long id : touched) {
      Optional<RunSpec> spec = board.run(id);
      if (spec.isPresent() && !statuses.containsKey(id)) {
        specs.put(id, spec.get());
        statuses.put(id, board.status(id).orElseThrow());
      }
    }
  }

  List<Change> changes() {
    return specs.values().stream()
        .map(
            spec ->
                new Change(
                    spec.id(),
                    spec.run().reference().toString(),
                    statuses.get(spec.id()).state().word()))
        .toList();
  }

  List<Instruction> instructions() {
    return instructions;
  }

  List<BoardEvent> applied() {
    return applied;
  }

  Map<Long, RunSpec> specs() {
    return specs;
  }

  Map<Long, RunStatus> statuses() {
    return statuses;
  }

  boolean isFresh(long id) {
    return fresh.contains(id);
  }

  Set<Long> gone() {
    return gone;
  }

  List<Moment> moments() {
    return moments;
  }

  List<Output> outputs() {
    return outputs;
  }

  List<BoardEvent> attemptEvents() {
    return attemptEvents;
  }

  Bulk bulk() {
    return bulk;
  }

  List<Consumer<StatelessSession>> more() {
    return more;
  }
}
