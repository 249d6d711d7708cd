package dev.purser.service.arrival;

import dev.purser.core.arrival.Arrival;
import dev.purser.core.arrival.ArrivalState;
import dev.purser.core.arrival.Finding;
import dev.purser.core.arrival.Ledger;
import dev.purser.core.board.BoardView;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.definition.StartsOn;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.run.FileSight;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import dev.purser.service.board.InTurn;
import dev.purser.service.board.Turn;
import java.time.Clock;
import java.time.Duration;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.atomic.AtomicLong;
import java.util.function.Function;
import org.springframework.stereotype.Component;

/**
 * The part of files in the engine's turn: what is found goes into the ledger, runs that wait get
 * what is whole, streams that start on files are started, and files follow what becomes of their
 * runs. All of it is written in the transaction of the turn. What it answers others is what is on
 * record, or soon will be.
 */
@Component
class ArrivalDesk implements InTurn {
  private static final Duration REMEMBER_USED = Duration.ofDays(2);

  private final ArrivalRecords records;
  private final Starters starters;
  private final Clock clock;
  private final AtomicLong lastId = new AtomicLong();

  private Ledger ledger = new Ledger(lastId::incrementAndGet);
  private final Waiters waiters = new Waiters();
  private final KnownFiles knownFiles;
  private final Map<Long, Long> leads = new HashMap<>();
  private final Map<Long, Set<Long>> members = new HashMap<>();
  private final Map<String, Map<String, String>> troubles = new TreeMap<>();
  private final Map<String, String> lastUsed = new HashMap<>();
  private final Set<String> dirty = new LinkedHashSet<>();
  private final List<Outbox> outbox = new ArrayList<>();

  ArrivalDesk(ArrivalRecords records, Starters starters, Clock clock) {
    this.records = records;
    this.knownFiles = new KnownFiles(records);
    this.starters = starters;
    this.clock = clock;
  }

  // ---- taking up

  @Override
  public synchronized void takeUp(BoardView board, long now) {
    lastId.set(records.lastId());
    ledger = new Ledger(lastId::incrementAndGet);
    waiters.forget();
    leads.clear();
    members.clear();
    troubles.clear();
    knownFiles.forget();
    lastUsed.clear();
    outbox.clear();
    dirty.clear();
    records.open().forEach(ledger::restore);
    for (Arrival used : records.lastUsed(clock.instant().minus(REMEMBER_USED))) {
      lastUsed.putIfAbsent(usedKey(used), used.path());
    }
    Map<Long, List<Long>> ofArrival = new HashMap<>();
    for (RunSpec run : board.runs()) {
      arrivalOf(run)
          .ifPresent(id -> ofArrival.computeIfAbsent(id, a -> new ArrayList<>()).add(run.id()));
      RunStatus status = board.status(run.id()).orElseThrow();
      if (status.state() == RunState.WAITING) {
        for (int i = 0; i < status.files().size(); i++) {
          if (status.files().get(i).sight() != FileSight.ARRIVED) {
            addWaiter(run, run.run().watches().get(i).name());
          }
        }
      }
    }
    for (Arrival one : ledger.all()) {
      for (long run : ofArrival.getOrDefault(one.id(), List.of())) {
        join(one.run(), run);
      }
    }
  }

  /** The arrival by which a run was started; empty where it was not started by a file. */
  private static Optional<Long> arrivalOf(RunSpec run) {
    return run.run().parameters().of(StartsOn.ARRIVAL).map(one -> Long.valueOf(one.value()));
  }

  private void join(long lead, long run) {
    leads.put(run, lead);
    members.computeIfAbsent(lead, any -> new HashSet<>()).add(run);
  }

  private void addWaiter(RunSpec run, String watch) {
    waiters.add(run, watch);
    dirty.add(watch);
  }

  // ---- what is found

  /**
   * Takes in what was found at a place.
   *
   * @param dateOf the business date of a finding
   * @return files of which nothing more need be told
   */
  synchronized List<Finding> found(
      Turn turn,
      String place,
      List<Finding> findings,
      Function<Finding, Optional<LocalDate>> dateOf) {
    Function<Finding, Ledger.Known> known = knownFiles.of(place, findings);
    List<Finding> done = new ArrayList<>();
    for (Finding finding : findings) {
      Optional<FileWatch> watch = turn.definitions().fileWatch(finding.watch());
      if (watch.isPresent()) {
        Ledger.Outcome outcome =
            ledger.found(
                watch.get(),
                place,
                finding,
                dateOf.apply(finding),
                known.apply(finding),
                turn.now());
        outcome.changed().forEach(one -> put(turn, one));
        if (outcome.done()) {
          done.add(finding);
        }
      }
    }
    return done;
  }

  /** Takes in that a directory cannot be looked at, or can again. */
  synchronized void trouble(String watch, String place, String text) {
    Map<String, String> of = troubles.computeIfAbsent(watch, any -> new TreeMap<>());
    if (text.isEmpty()) {
      of.remove(place);
    } else {
      of.put(place, text);
    }
    dirty.add(watch);
  }

  /** What is wrong with the directories of watches, by watch and place. */
  synchronized Map<String, Map<String, String>> troubles() {
    Map<String, Map<String, String>> copy = new TreeMap<>();
    troubles.forEach(
        (watch, of) -> {
          if (!of.isEmpty()) {
            copy.put(watch, new TreeMap<>(of));
          }
        });
    return copy;
  }

  /** Everything that is not over. */
  synchronized List<Arrival> open() {
    return List.copyOf(ledger.all());
  }

  /** The dates of runs that wait for files of a watch. */
  synchronized Set<LocalDate> datesWanted(String watch) {
    Set<LocalDate> dates = new TreeSet<>();
    waiters.of(watch).forEach(one -> dates.add(one.date()));
    return dates;
  }

  /** What has to be told since this was asked last. */
  synchronized List<Outbox> toTell() {
    List<Outbox> all = List.copyOf(outbox);
    outbox.clear();
    return all;
  }

  // ---- people

  /** What a person decides of an arrival; empty where it makes no sense, with the reason. */
  synchronized Arrival decide(Turn turn, Arrival known, ArrivalState state, String note) {
    Arrival now = ledger.get(known.id()).orElse(known);
    Arrival decided = ledger.decide(now, state, note, turn.now());
    put(turn, decided);
    return decided;
  }

  /** An arrival as it is now. */
  synchronized Arrival asItIs(Arrival known) {
    return ledger.get(known.id()).orElse(known);
  }

  /** The runs that were started with what a run has; itself where it was not started by a file. */
  synchronized Set<Long> startedWith(long lead) {
    return Set.copyOf(members.getOrDefault(lead, Set.of(lead)));
  }

  // ---- following up

  @Override
  public synchronized void complete(Turn turn) {
    int from = 0;
    while (true) {
      int to = turn.instructionCount();
      follow(turn, turn.instructionsFrom(from));
      from = to;
      giveOut(turn);
      starters.startAll(turn, ledger, this);
      if (turn.instructionCount() == to) {
        break;
      }
    }
    tellBoard(turn);
  }

  private void follow(Turn turn, List<Instruction> instructions) {
    Followed followed = new Followed(turn);
    instructions.forEach(instruction -> instruction.accept(followed));
  }

  /** Of what the board instructs, what is about files, and runs that files follow. */
  private final class Followed extends Instruction.Some {
    private final Turn turn;

    Followed(Turn turn) {
      this.turn = turn;
    }

    @Override
    public Void visit(Instruction.WatchFile watch) {
      turn.board().run(watch.run()).ifPresent(run -> addWaiter(run, watch.watch()));
      return null;
    }

    @Override
    public Void visit(Instruction.UnwatchFile unwatch) {
      waiters.remove(unwatch.run(), unwatch.watch());
      return null;
    }

    @Override
    public Void visit(Instruction.RunChanged changed) {
      followRun(turn, changed.run());
      return null;
    }
  }

  /** What a run has becomes used, or unprocessed, or is at work again. */
  private void followRun(Turn turn, long run) {
    long lead = leads.getOrDefault(run, run);
    if (ledger.of(lead).isEmpty()) {
      return;
    }
    Set<Long> all = members.getOrDefault(lead, Set.of(lead));
    List<String> bad = new ArrayList<>();
    boolean over = true;
    boolean used = false;
    for (long one : all) {
      Optional<RunState> state = turn.board().state(one);
      if (state.isEmpty()) {
        continue;
      }
      over &= state.get().isEnded();
      used |= state.get() == RunState.SUCCEEDED;
      if (state.get() == RunState.FAILED || state.get() == RunState.CANCELLED) {
        bad.add(inWords(turn.board(), one));
      }
    }
    if (!bad.isEmpty()) {
      move(turn, lead, ArrivalState.UNPROCESSED, String.join("; ", bad));
    } else if (!over) {
      move(turn, lead, ArrivalState.TAKEN, "");
    } else {
      String note = used ? "" : "its run was skipped: " + inWords(turn.board(), lead);
      move(turn, lead, used ? ArrivalState.USED : ArrivalState.UNPROCESSED, note);
    }
  }

  private static String inWords(BoardView board, long run) {
    return board
        .run(run)
        .map(
            spec -> {
              RunStatus status = board.status(run).orElseThrow();
              String note = status.note().isEmpty() ? "" : ": " + status.note();
              return spec.run().reference() + " " + status.state().word() + note;
            })
        .orElse("");
  }

  private void move(Turn turn, long lead, ArrivalState state, String note) {
    for (Arrival one : ledger.move(lead, state, note, turn.now())) {
      put(turn, one);
      if (state == ArrivalState.USED) {
        tidy(turn, one);
        members.getOrDefault(lead, Set.of()).forEach(leads::remove);
        members.remove(lead);
      }
    }
  }

  void tidy(Turn turn, Arrival one) {
    boolean tidies =
        turn.definitions()
            .fileWatch(one.watch())
            .filter(watch -> watch.handling().afterUse() != FileWatch.AfterUse.LEAVE)
            .isPresent();
    if (tidies) {
      turn.write("update arrival set tidy='pending' where id=?", one.id());
      outbox.add(new Outbox.Tidy(one));
    }
  }

  /** Runs that wait get what is whole, who was due first comes first. */
  private void giveOut(Turn turn) {
    for (String name : waiters.watches()) {
      Optional<FileWatch> watch = turn.definitions().fileWatch(name);
      if (watch.isEmpty()) {
        continue;
      }
      for (Waiters.Waiter waiter : waiters.of(name)) {
        Optional<LocalDate> date = Optional.of(watch.get().keyDate(waiter.date()));
        if (ledger.ready(watch.get(), date) < watch.get().whole().setOf()) {
          if (!watch.get().isDated()) {
            break;
          }
          continue;
        }
        give(turn, watch.get(), waiter, date);
      }
    }
  }

  private void give(Turn turn, FileWatch watch, Waiters.Waiter waiter, Optional<LocalDate> date) {
    Optional<Ledger.Outcome> taken = ledger.take(watch, date, false, waiter.run(), turn.now());
    taken.ifPresent(outcome -> outcome.changed().forEach(one -> put(turn, one)));
    List<String> paths =
        taken.filter(Ledger.Outcome::done).isEmpty()
            ? List.of()
            : ledger.of(waiter.run()).stream()
                .filter(one -> one.watch().equals(watch.name()))
                .map(Arrival::path)
                .toList();
    if (!paths.isEmpty()) {
      turn.apply(
          new BoardEvent.FileArrived(
              turn.now(), waiter.run(), watch.name(), String.join("\n", paths)));
    }
  }

  /** Files were given to the runs of a start. */
  void started(Turn turn, Ledger.Outcome taken, List<Long> runs) {
    taken.changed().forEach(one -> put(turn, one));
    runs.forEach(run -> join(runs.get(0), run));
  }

  /** Files could not be given to anybody. */
  void refused(Turn turn, List<Arrival> arrivals, String because) {
    for (Arrival one : arrivals) {
      put(turn, ledger.decide(one, ArrivalState.UNPROCESSED, because, turn.now()));
    }
  }

  // ---- telling

  private void put(Turn turn, Arrival one) {
    ArrivalRecords.put(turn, one);
    dirty.add(one.watch());
    if (!one.state().isOpen()) {
      knownFiles.over(one);
      outbox.add(new Outbox.Done(one));
    }
    if (one.state() == ArrivalState.TAKEN || one.state() == ArrivalState.USED) {
      lastUsed.put(usedKey(one), one.path());
    }
  }

  private static String usedKey(Arrival one) {
    return one.watch() + one.date().map(LocalDate::toString).orElse("");
  }

  /** Says to runs that wait what is seen of their files. */
  private void tellBoard(Turn turn) {
    for (String name : dirty) {
      Optional<FileWatch> watch = turn.definitions().fileWatch(name);
      for (Waiters.Waiter waiter : waiters.of(name)) {
        watch.ifPresent(
            one -> {
              RunStatus.FileState seen = sight(one, waiter);
              turn.apply(
                  new BoardEvent.FileSeen(
                      turn.now(), waiter.run(), name, seen.sight(), seen.path()));
            });
      }
    }
    dirty.clear();
  }

  private RunStatus.FileState sight(FileWatch watch, Waiters.Waiter waiter) {
    Optional<LocalDate> date = Optional.of(watch.keyDate(waiter.date()));
    List<Arrival> open = ledger.open(watch, date);
    int ready = ledger.ready(watch, date);
    int least = watch.whole().setOf();
    if (ready > 0 && ready < least) {
      String text = ready + " of " + least + " files are there";
      return new RunStatus.FileState(FileSight.INCOMPLETE, text);
    }
    for (Arrival one : open) {
      if (one.state() == ArrivalState.SETTLING) {
        return new RunStatus.FileState(FileSight.GROWING, one.path());
      }
    }
    for (Arrival one : open) {
      if (one.state() == ArrivalState.SEEN) {
        return one.size() == 0
            ? new RunStatus.FileState(FileSight.EMPTY, one.path())
            : new RunStatus.FileState(FileSight.INCOMPLETE, one.path() + " " + one.note());
      }
    }
    Optional<Arrival> asked = ledger.asked(watch, date);
    if (asked.isPresent()) {
      String text = asked.get().path() + ": " + asked.get().note();
      return new RunStatus.FileState(FileSight.INCOMPLETE, text);
    }
    Map<String, String> trouble = troubles.getOrDefault(watch.name(), Map.of());
    if (!trouble.isEmpty()) {
      return new RunStatus.FileState(FileSight.UNREADABLE, trouble.values().iterator().next());
    }
    String used = lastUsed.get(watch.name() + waiter.date());
    return used == null
        ? new RunStatus.FileState(FileSight.ABSENT, "")
        : new RunStatus.FileState(FileSight.USED, used);
  }
}
