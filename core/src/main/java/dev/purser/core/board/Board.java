package dev.purser.core.board;

import dev.purser.core.definition.FileWatch;
import dev.purser.core.definition.Job;
import dev.purser.core.definition.Placement;
import dev.purser.core.definition.Work;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.prerequisite.Answer;
import dev.purser.core.schedule.Durations;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * The engine. {@link #apply} takes what happened and returns what the outside must do; the same
 * events in the same order give the same instructions, always. Live work, rehearsal and forecast
 * drive this same object.
 *
 * <p>Runs have small indexes; what changes of them lies in parallel arrays, so that a copy is a
 * copy of arrays. What does not change (definitions, linked conditions) is shared between copies.
 * Single threaded, knows no clock and no lock.
 */
public final class Board {
  private static final DateTimeFormatter HH_MM = DateTimeFormatter.ofPattern("HH:mm");
  private static final int TOO_LONG = 1 << 1;
  private static final int CANCELLING = 1 << 2;
  private static final int NOT_NEEDED = 1 << 3;
  private static final int ALERTS = 4; // the bit of the first kind of alert

  private RunSpec[] specs = new RunSpec[16];
  private byte[] states = new byte[16];
  private int[] marks = new int[16];
  private int[] attempts = new int[16];
  private int[] budgets = new int[16];
  private long[] since = new long[16];
  private long[] started = new long[16];
  private long[] ended = new long[16];
  private long[] retryAt = new long[16];
  private short[] exitCodes = new short[16];
  private String[] hosts = new String[16];
  private String[] notes = new String[16];
  private String[] holds = new String[16];
  private RunStatus.FileState[][] files = new RunStatus.FileState[16][];
  private Condition[] conditions = new Condition[16];
  private int[][] followers = new int[16][];
  private int count;

  private final Map<Long, Integer> indexes;
  private final Site site;
  private final BitSet waiting;
  private Timers timers;
  private long now;
  private long promisedWake = Long.MAX_VALUE;

  private List<Instruction> out = new ArrayList<>();
  private final BitSet toTry = new BitSet();

  /** An empty board. */
  public Board() {
    indexes = new HashMap<>();
    site = new Site();
    waiting = new BitSet();
    timers = new Timers();
  }

  /** A copy that goes its own way from here. */
  public Board(Board other) {
    specs = other.specs.clone();
    states = other.states.clone();
    marks = other.marks.clone();
    attempts = other.attempts.clone();
    budgets = other.budgets.clone();
    since = other.since.clone();
    started = other.started.clone();
    ended = other.ended.clone();
    retryAt = other.retryAt.clone();
    exitCodes = other.exitCodes.clone();
    hosts = other.hosts.clone();
    notes = other.notes.clone();
    holds = other.holds.clone();
    files = other.files.clone();
    conditions = other.conditions.clone();
    followers = other.followers.clone();
    count = other.count;
    indexes = new HashMap<>(other.indexes);
    site = new Site(other.site);
    waiting = (BitSet) other.waiting.clone();
    timers = new Timers(other.timers);
    now = other.now;
    promisedWake = other.promisedWake;
  }

  /**
   * Applies an event.
   *
   * @return what the outside must do, in this order
   */
  public List<Instruction> apply(BoardEvent event) {
    out = new ArrayList<>();
    now = Math.max(now, event.at());
    if (event instanceof BoardEvent.StartsMissed missed) {
      judgeMissed(missed.missedBefore());
    }
    ringAlarms();
    handle(event);
    tryAll();
    if (timers.nextAt() != promisedWake) {
      promisedWake = timers.nextAt();
      out.add(new Instruction.WakeAt(promisedWake));
    }
    return out;
  }

  private void handle(BoardEvent event) {
    if (event instanceof BoardEvent.AttemptBegan began) {
      attemptBegan(began);
    } else if (event instanceof BoardEvent.AttemptEnded over) {
      attemptEnded(over);
    } else if (event instanceof BoardEvent.FileSeen seen) {
      fileSeen(seen);
    } else if (event instanceof BoardEvent.FileArrived arrived) {
      fileArrived(arrived);
    } else if (event instanceof BoardEvent.PersonActed acted) {
      personActed(acted);
    } else if (event instanceof BoardEvent.HostSeen seen) {
      site.seen(seen.host(), seen.labels());
      toTry.or(waiting);
    } else if (event instanceof BoardEvent.HostLost lost) {
      site.lost(lost.host());
    } else if (event instanceof BoardEvent.RunsPlanned planned) {
      planned.runs().forEach(spec -> add(spec, freshStatus(spec)));
      link();
      judgeMissed(planned.missedBefore());
      ringAlarms();
    } else if (event instanceof BoardEvent.RunsRestored restored) {
      restored.runs().forEach(one -> add(one.spec(), one.status()));
      link();
      ringAlarms();
      toTry.or(waiting);
    } else if (event instanceof BoardEvent.RunsWithdrawn withdrawn) {
      withdraw(withdrawn.runs());
    } else if (event instanceof BoardEvent.DatesClosed closed) {
      closeDates(closed.before());
    } else if (event instanceof BoardEvent.SiteDefined defined) {
      site.define(defined.hosts(), defined.groups(), defined.capacities());
      toTry.or(waiting);
    }
  }

  // ---- runs come and go

  private static RunStatus freshStatus(RunSpec spec) {
    int budget = 1 + spec.run().job().retry().times();
    List<RunStatus.FileState> absent =
        spec.run().watches().stream().map(watch -> RunStatus.FileState.ABSENT).toList();
    return new RunStatus(
        RunState.PLANNED,
        "",
        0,
        0,
        budget,
        "",
        0,
        0,
        0,
        -1,
        "",
        RunStatus.Stopping.NO,
        false,
        List.of(),
        absent);
  }

  private void add(RunSpec spec, RunStatus status) {
    if (indexes.containsKey(spec.id())) {
      return;
    }
    if (count == specs.length) {
      grow(count * 2);
    }
    int run = count++;
    indexes.put(spec.id(), run);
    specs[run] = spec;
    states[run] = (byte) status.state().ordinal();
    marks[run] = marksOf(status);
    attempts[run] = status.attempts();
    budgets[run] = status.budget();
    since[run] = status.since() == 0 ? now : status.since();
    started[run] = status.started();
    ended[run] = status.ended();
    retryAt[run] = status.retryAt();
    exitCodes[run] = (short) status.exitCode();
    hosts[run] = status.host();
    notes[run] = status.note();
    holds[run] = status.hold();
    files[run] = status.files().toArray(RunStatus.FileState[]::new);
    waiting.set(run, status.state() == RunState.WAITING);
    if (status.state().isActive()) {
      site.take(hosts[run], job(run).takes());
    }
    setAlarms(run);
    if (status.state() == RunState.PLANNED && status.since() == 0) {
      changed(run, "");
    }
    watchFiles(run, true);
  }

  private static int marksOf(RunStatus status) {
    int mark = status.stopping() == RunStatus.Stopping.TOO_LONG ? TOO_LONG : 0;
    mark |= status.stopping() == RunStatus.Stopping.CANCELLED ? CANCELLING : 0;
    mark |= status.notNeeded() ? NOT_NEEDED : 0;
    for (AlertKind kind : status.openAlerts()) {
      mark |= alertMark(kind);
    }
    return mark;
  }

  private static int alertMark(AlertKind kind) {
    return 1 << (ALERTS + kind.ordinal());
  }

  private void setAlarms(int run) {
    RunState state = stateAt(run);
    PlannedRun planned = specs[run].run();
    if (state.isEnded() && state != RunState.FAILED) {
      return;
    }
    if (state == RunState.PLANNED) {
      timers.add(specs[run].due(), run, Timers.Kind.DUE);
    }
    if (state == RunState.WAITING && retryAt[run] > 0) {
      timers.add(retryAt[run], run, Timers.Kind.RETRY);
    }
    if (state == RunState.RUNNING) {
      setRunningAlarms(run);
    }
    setDeadline(run, planned.startBy(), Timers.Kind.START_BY);
    setDeadline(run, planned.finishBy(), Timers.Kind.FINISH_BY);
  }

  /** A deadline before the run came into its state has been judged already. */
  private void setDeadline(int run, Optional<Instant> deadline, Timers.Kind kind) {
    deadline
        .map(Instant::toEpochMilli)
        .filter(at -> at > since[run])
        .ifPresent(at -> timers.add(at, run, kind));
  }

  private void setRunningAlarms(int run) {
    job(run)
        .stopAfter()
        .ifPresent(
            after -> timers.add(started[run] + after.toMillis(), run, Timers.Kind.STOP_AFTER));
    if (specs[run].longAfter() > 0) {
      timers.add(started[run] + specs[run].longAfter(), run, Timers.Kind.LONG_RUNNING);
    }
  }

  private void grow(int length) {
    specs = Arrays.copyOf(specs, length);
    states = Arrays.copyOf(states, length);
    marks = Arrays.copyOf(marks, length);
    attempts = Arrays.copyOf(attempts, length);
    budgets = Arrays.copyOf(budgets, length);
    since = Arrays.copyOf(since, length);
    started = Arrays.copyOf(started, length);
    ended = Arrays.copyOf(ended, length);
    retryAt = Arrays.copyOf(retryAt, length);
    exitCodes = Arrays.copyOf(exitCodes, length);
    hosts = Arrays.copyOf(hosts, length);
    notes = Arrays.copyOf(notes, length);
    holds = Arrays.copyOf(holds, length);
    files = Arrays.copyOf(files, length);
    conditions = Arrays.copyOf(conditions, length);
    followers = Arrays.copyOf(followers, length);
  }

  /** Ties prerequisites to runs anew; linear in the runs of the board, and rare. */
  private void link() {
    List<PlannedRun> runs = new ArrayList<>(count);
    for (int i = 0; i < count; i++) {
      runs.add(specs[i].run());
    }
    Linker linker = new Linker(runs);
    int[] sizes = new int[count];
    for (int i = 0; i < count; i++) {
      conditions[i] = linker.link(i);
      conditions[i].targets(target -> sizes[target]++);
    }
    for (int i = 0; i < count; i++) {
      followers[i] = new int[sizes[i]];
    }
    for (int i = 0; i < count; i++) {
      int follower = i;
      conditions[i].targets(target -> followers[target][--sizes[target]] = follower);
    }
    toTry.or(waiting);
  }

  private void withdraw(List<Long> ids) {
    Set<Integer> gone = new HashSet<>();
    for (long id : ids) {
      Integer run = indexes.get(id);
      if (run != null && stateAt(run) == RunState.PLANNED) {
        gone.add(run);
      }
    }
    keep(run -> !gone.contains(run));
  }

  private void closeDates(LocalDate before) {
    Set<LocalDate> open = new HashSet<>();
    for (int i = 0; i < count; i++) {
      LocalDate date = specs[i].run().reference().date();
      if (!stateAt(i).isEnded() || !date.isBefore(before)) {
        open.add(date);
      }
    }
    keep(run -> open.contains(specs[run].run().reference().date()));
  }

  private void keep(java.util.function.IntPredicate kept) {
    int to = 0;
    waiting.clear();
    timers = new Timers();
    indexes.clear();
    for (int from = 0; from < count; from++) {
      if (kept.test(from)) {
        move(from, to++);
      }
    }
    for (int i = to; i < count; i++) {
      specs[i] = null;
      files[i] = null;
      conditions[i] = null;
      followers[i] = null;
    }
    count = to;
    link();
  }

  private void move(int from, int to) {
    specs[to] = specs[from];
    states[to] = states[from];
    marks[to] = marks[from];
    attempts[to] = attempts[from];
    budgets[to] = budgets[from];
    since[to] = since[from];
    started[to] = started[from];
    ended[to] = ended[from];
    retryAt[to] = retryAt[from];
    exitCodes[to] = exitCodes[from];
    hosts[to] = hosts[from];
    notes[to] = notes[from];
    holds[to] = holds[from];
    files[to] = files[from];
    indexes.put(specs[to].id(), to);
    waiting.set(to, stateAt(to) == RunState.WAITING);
    setAlarms(to);
  }

  // ---- time

  private void ringAlarms() {
    while (timers.nextAt() <= now) {
      long at = timers.nextAt();
      int run = timers.nextRun();
      Timers.Kind kind = timers.nextKind();
      timers.removeNext();
      ring(at, run, kind);
    }
  }

  private void ring(long at, int run, Timers.Kind kind) {
    RunState state = stateAt(run);
    switch (kind) {
      case DUE -> {
        if (state == RunState.PLANNED && !specs[run].run().leftOut().isEmpty()) {
          end(run, RunState.SKIPPED, specs[run].run().leftOut());
        } else if (state == RunState.PLANNED) {
          enter(run, RunState.WAITING, "");
          watchFiles(run, true);
          toTry.set(run);
        }
      }
      case RETRY -> {
        if (state == RunState.WAITING && retryAt[run] == at) {
          retryAt[run] = 0;
          toTry.set(run);
        }
      }
      case STOP_AFTER -> {
        Duration limit = job(run).stopAfter().orElse(Duration.ZERO);
        boolean stopping = (marks[run] & (TOO_LONG | CANCELLING)) != 0;
        boolean due = state == RunState.RUNNING && started[run] + limit.toMillis() == at;
        if (due && !stopping) {
          stop(run, TOO_LONG, "is being stopped after " + Durations.print(limit));
        }
      }
      case LONG_RUNNING -> {
        if (state == RunState.RUNNING && started[run] + specs[run].longAfter() == at) {
          String usual = Durations.print(Duration.ofMillis(specs[run].longAfter()));
          openAlert(run, AlertKind.LONG_RUNNING, "has been running for longer than " + usual);
        }
      }
      case START_BY -> {
        if (state == RunState.PLANNED || state == RunState.WAITING) {
          toTry.set(run);
          lateCheck(run, "not started by " + clock(run, at));
        }
      }
      case FINISH_BY -> {
        if (!state.isEnded() || state == RunState.FAILED) {
          lateCheck(run, "not finished by " + clock(run, at));
        }
      }
    }
  }

  private void lateCheck(int run, String what) {
    String sentence = why(specs[run].id()).sentence();
    String how = sentence.substring(0, 1).toLowerCase(Locale.ROOT) + sentence.substring(1);
    openAlert(run, AlertKind.LATE, what + ": " + how);
  }

  /** A local time as people of the stream read it, with the date where it is not the run's. */
  String clock(int run, long at) {
    PlannedRun planned = specs[run].run();
    ZonedDateTime local = Instant.ofEpochMilli(at).atZone(planned.zone());
    String id = planned.zone().getId();
    String place = id.substring(id.lastIndexOf('/') + 1).replace('_', ' ');
    boolean ownDate = local.toLocalDate().equals(planned.reference().date());
    return HH_MM.format(local) + " " + place + (ownDate ? "" : " on " + local.toLocalDate());
  }

  // ---- missed starts

  /** Decides what becomes of planned runs whose due time passed while nobody looked. */
  private void judgeMissed(long before) {
    List<Integer> missed = new ArrayList<>();
    for (int run = 0; run < count; run++) {
      if (stateAt(run) == RunState.PLANNED && specs[run].due() < before) {
        missed.add(run);
      }
    }
    MissedStarts judge = new MissedStarts(missed.stream().map(run -> specs[run].run()).toList());
    for (int i = 0; i < missed.size(); i++) {
      int run = missed.get(i);
      Optional<String> skipped = judge.skips(i, now);
      if (skipped.isPresent()) {
        end(run, RunState.SKIPPED, skipped.get());
      } else if (specs[run].run().leftOut().isEmpty()) {
        changed(run, judge.runs(i));
      }
    }
  }

  // ---- starting

  private void tryAll() {
    for (int run = toTry.nextSetBit(0); run >= 0; run = toTry.nextSetBit(0)) {
      toTry.clear(run);
      tryStart(run);
    }
  }

  private void tryStart(int run) {
    if (stateAt(run) != RunState.WAITING) {
      return;
    }
    Answer answer = conditions[run].answer(this, run);
    if (answer == Answer.NO) {
      marks[run] |= NOT_NEEDED;
      end(run, RunState.SKIPPED, "not needed: " + prerequisiteText(run) + " can no longer be met");
      return;
    }
    Job job = job(run);
    boolean ready = answer == Answer.YES && !isHeld(run) && retryAt[run] <= now;
    if (ready && job.work() instanceof Work.Approval approval) {
      out.add(new Instruction.AskPerson(specs[run].id(), approval.question()));
      changed(run, "waits for an answer: " + approval.question());
      return;
    }
    if (!ready || site.lacking(job.takes()).isPresent()) {
      return;
    }
    Optional<String> host = site.choose(job.placement());
    if (host.isPresent()) {
      site.take(host.get(), job.takes());
      attempts[run]++;
      hosts[run] = host.get();
      started[run] = 0;
      exitCodes[run] = -1;
      enter(run, RunState.STARTING, "");
      out.add(new Instruction.StartAttempt(specs[run].id(), attempts[run], host.get()));
      if (specs[run].run().start().window().isPresent()) {
        tryFollowers(run); // the next window may begin once this one has
      }
    }
  }

  private String prerequisiteText(int run) {
    return "\"" + job(run).waitsFor().map(Object::toString).orElse("") + "\"";
  }

  private void watchFiles(int run, boolean watch) {
    boolean wanted = stateAt(run) == RunState.WAITING;
    for (int i = 0; i < files[run].length; i++) {
      if (files[run][i].sight() != FileSight.ARRIVED && (wanted || !watch)) {
        String name = specs[run].run().watches().get(i).name();
        out.add(
            watch
                ? new Instruction.WatchFile(specs[run].id(), name)
                : new Instruction.UnwatchFile(specs[run].id(), name));
      }
    }
  }

  // ---- attempts

  private void attemptBegan(BoardEvent.AttemptBegan event) {
    Integer run = indexes.get(event.run());
    if (run == null || stateAt(run) != RunState.STARTING || attempts[run] != event.attempt()) {
      return;
    }
    started[run] = Math.min(event.happened(), now);
    enter(run, RunState.RUNNING, notes[run]);
    setRunningAlarms(run);
    if ((marks[run] & CANCELLING) == 0) {
      closeLateStart(run);
    }
  }

  /** A late start is over once it runs, unless a finish-by may still be missed or is. */
  private void closeLateStart(int run) {
    long finishBy = specs[run].run().finishBy().map(Instant::toEpochMilli).orElse(Long.MAX_VALUE);
    if (finishBy > now) {
      closeAlert(run, AlertKind.LATE, "it has started");
    }
  }

  private void attemptEnded(BoardEvent.AttemptEnded event) {
    Integer run = indexes.get(event.run());
    if (run == null || !stateAt(run).isActive() || attempts[run] != event.attempt()) {
      return;
    }
    giveBack(run);
    Ending ending = event.ending();
    exitCodes[run] = (short) ending.code();
    int stopMarks = marks[run] & (TOO_LONG | CANCELLING);
    marks[run] &= ~stopMarks;
    if ((stopMarks & CANCELLING) != 0) {
      end(run, RunState.CANCELLED, notes[run]);
    } else if (ending.isSuccess() && stopMarks == 0) {
      end(run, RunState.SUCCEEDED, "");
    } else {
      failed(run, ending, stopMarks == TOO_LONG);
    }
    if (ended[run] == now) { // what is late is the news, not the end
      ended[run] = Math.min(now, Math.max(started[run], event.happened()));
    }
  }

  private void failed(int run, Ending ending, boolean tooLong) {
    Job job = job(run);
    String limit = job.stopAfter().map(Durations::print).orElse("");
    String cause = tooLong ? "stopped after " + limit : ending.inWords();
    boolean repeatLost = ending.kind() == Ending.Kind.LOST && job.mayRepeat();
    boolean retried =
        attempts[run] < budgets[run]
            && (!tooLong || job.retry().onStopAfter())
            && ending.kind() != Ending.Kind.LOST;
    if (!retried && !repeatLost) {
      end(run, RunState.FAILED, cause);
      return;
    }
    retryAt[run] = now + (repeatLost ? 0 : job.retry().pause().toMillis());
    timers.add(retryAt[run], run, Timers.Kind.RETRY);
    closeAlert(run, AlertKind.LONG_RUNNING, "the attempt has ended");
    enter(run, RunState.WAITING, "attempt " + attempts[run] + " " + cause);
    ringAlarms();
  }

  private void giveBack(int run) {
    Map<String, Integer> takes = job(run).takes();
    site.giveBack(hosts[run], takes);
    if (!takes.isEmpty()) {
      toTry.or(waiting);
    }
  }

  private void stop(int run, int mark, String note) {
    boolean first = (marks[run] & (TOO_LONG | CANCELLING)) == 0;
    marks[run] = (marks[run] & ~(TOO_LONG | CANCELLING)) | mark;
    notes[run] = note;
    changed(run, note);
    if (first) {
      out.add(
          new Instruction.StopAttempt(
              specs[run].id(), attempts[run], hosts[run], job(run).grace().toMillis()));
    }
  }

  // ---- files

  private void fileSeen(BoardEvent.FileSeen event) {
    setFile(event.run(), event.watch(), new RunStatus.FileState(event.sight(), event.path()));
  }

  private void fileArrived(BoardEvent.FileArrived event) {
    int run =
        setFile(
            event.run(), event.watch(), new RunStatus.FileState(FileSight.ARRIVED, event.path()));
    if (run >= 0) {
      out.add(new Instruction.UnwatchFile(event.run(), event.watch()));
      toTry.set(run);
    }
  }

  /** Sets what is seen of a file; returns the run, or -1 where nothing has changed. */
  private int setFile(long id, String watch, RunStatus.FileState state) {
    Integer run = indexes.get(id);
    if (run == null || stateAt(run) != RunState.WAITING) {
      return -1;
    }
    List<String> names = specs[run].run().watches().stream().map(FileWatch::name).toList();
    int place = names.indexOf(watch);
    boolean isNews =
        place >= 0
            && files[run][place].sight() != FileSight.ARRIVED
            && !files[run][place].equals(state);
    if (!isNews) {
      return -1;
    }
    files[run] = files[run].clone(); // copies of the board share the old one
    files[run][place] = state;
    changed(run, "file " + watch + ": " + WhyTeller.inWords(state));
    return run;
  }

  // ---- people

  private void personActed(BoardEvent.PersonActed event) {
    Integer run = indexes.get(event.run());
    Optional<String> refusal =
        run == null
            ? Optional.of("the run is not on the board any more")
            : refusal(run, event.action());
    if (refusal.isPresent()) {
      out.add(new Instruction.Refused(event.run(), event.action(), refusal.get()));
      return;
    }
    String note = noteOf(event);
    switch (event.action()) {
      case HOLD -> {
        holds[run] = note;
        changed(run, note);
      }
      case RELEASE -> {
        holds[run] = "";
        changed(run, note);
        toTry.set(run);
      }
      case SKIP -> end(run, RunState.SKIPPED, note);
      case CANCEL -> cancel(run, note);
      case RERUN -> rerun(run, note);
      case APPROVE -> end(run, RunState.SUCCEEDED, note);
      case REFUSE -> end(run, RunState.FAILED, note);
    }
  }

  private static String noteOf(BoardEvent.PersonActed event) {
    String done =
        switch (event.action()) {
          case HOLD -> "held";
          case RELEASE -> "released";
          case SKIP -> "skipped";
          case CANCEL -> "cancelled";
          case RERUN -> "rerun";
          case APPROVE -> "approved";
          case REFUSE -> "refused";
        };
    return done + " by " + event.by() + (event.reason().isBlank() ? "" : ": " + event.reason());
  }

  /** Why an action makes no sense for a run, and what would; empty where it does. */
  private Optional<String> refusal(int run, Action action) {
    if (fitsNow(run, action)) {
      return Optional.empty();
    }
    List<String> possible = actions(specs[run].id()).stream().map(Action::word).toList();
    String instead = possible.isEmpty() ? "" : "; possible now: " + String.join(", ", possible);
    return Optional.of(
        "cannot "
            + action.word()
            + " a run that is "
            + stateAt(run).word()
            + (isHeld(run) ? " and held" : "")
            + instead);
  }

  private boolean fitsNow(int run, Action action) {
    return action.fits(stateAt(run))
        && switch (action) {
          case HOLD -> !isHeld(run);
          case RELEASE -> isHeld(run);
          case CANCEL -> (marks[run] & CANCELLING) == 0;
          case APPROVE, REFUSE ->
              job(run).work() instanceof Work.Approval
                  && !isHeld(run)
                  && conditions[run].answer(this, run) == Answer.YES;
          case SKIP, RERUN -> true;
        };
  }

  /** The actions that make sense for a run now. */
  public Set<Action> actions(long id) {
    Set<Action> possible = EnumSet.noneOf(Action.class);
    Integer run = indexes.get(id);
    if (run != null) {
      for (Action action : Action.values()) {
        if (fitsNow(run, action)) {
          possible.add(action);
        }
      }
    }
    return possible;
  }

  private void cancel(int run, String note) {
    if (stateAt(run).isActive()) {
      stop(run, CANCELLING, note);
    } else {
      end(run, RunState.CANCELLED, note);
    }
  }

  private void rerun(int run, String note) {
    marks[run] &= ~NOT_NEEDED;
    budgets[run] = attempts[run] + 1 + job(run).retry().times();
    retryAt[run] = 0;
    ended[run] = 0;
    closeAlert(run, AlertKind.FAILED, note);
    enter(run, RunState.WAITING, note);
    setDeadline(run, specs[run].run().finishBy(), Timers.Kind.FINISH_BY);
    watchFiles(run, true);
    toTry.set(run);
  }

  // ---- changes of state

  private void enter(int run, RunState state, String note) {
    states[run] = (byte) state.ordinal();
    since[run] = now;
    notes[run] = note;
    waiting.set(run, state == RunState.WAITING);
    changed(run, note);
  }

  private void end(int run, RunState state, String note) {
    watchFiles(run, false);
    holds[run] = "";
    ended[run] = now;
    retryAt[run] = 0;
    enter(run, state, note);
    closeAlert(run, AlertKind.LONG_RUNNING, "it has ended");
    if (state == RunState.FAILED) {
      openAlert(run, AlertKind.FAILED, note);
    } else {
      closeAlert(run, AlertKind.FAILED, "it is " + state.word());
      closeAlert(run, AlertKind.LATE, "it is " + state.word());
    }
    tryFollowers(run);
  }

  private void tryFollowers(int run) {
    for (int follower : followers[run]) {
      toTry.set(follower);
    }
  }

  private void openAlert(int run, AlertKind kind, String text) {
    if ((marks[run] & alertMark(kind)) == 0) {
      marks[run] |= alertMark(kind);
      out.add(new Instruction.OpenAlert(kind, specs[run].id(), text));
      changed(run, "");
    }
  }

  private void closeAlert(int run, AlertKind kind, String text) {
    if ((marks[run] & alertMark(kind)) != 0) {
      marks[run] &= ~alertMark(kind);
      out.add(new Instruction.CloseAlert(kind, specs[run].id(), text));
      changed(run, "");
    }
  }

  private void changed(int run, String note) {
    out.add(new Instruction.RunChanged(specs[run].id(), stateAt(run), note));
  }

  // ---- looking at it

  /** When the board next needs to be told the time; {@link Long#MAX_VALUE} for never. */
  public long nextWake() {
    return timers.nextAt();
  }

  /** How many runs are on the board. */
  public int size() {
    return count;
  }

  /** The time of the last event. */
  public long now() {
    return now;
  }

  /** The runs on the board, in the order in which they came. */
  public List<RunSpec> runs() {
    return List.of(Arrays.copyOf(specs, count));
  }

  /** The run of an id, if it is on the board. */
  public Optional<RunSpec> run(long id) {
    return Optional.ofNullable(indexes.get(id)).map(run -> specs[run]);
  }

  /** What the board knows of a run now; empty where it is not on the board. */
  public Optional<RunStatus> status(long id) {
    return Optional.ofNullable(indexes.get(id)).map(this::statusAt);
  }

  private RunStatus statusAt(int run) {
    RunStatus.Stopping stopping =
        (marks[run] & CANCELLING) != 0
            ? RunStatus.Stopping.CANCELLED
            : (marks[run] & TOO_LONG) != 0 ? RunStatus.Stopping.TOO_LONG : RunStatus.Stopping.NO;
    List<AlertKind> open =
        Arrays.stream(AlertKind.values())
            .filter(kind -> (marks[run] & alertMark(kind)) != 0)
            .toList();
    return new RunStatus(
        stateAt(run),
        holds[run],
        since[run],
        attempts[run],
        budgets[run],
        hosts[run],
        started[run],
        ended[run],
        retryAt[run],
        exitCodes[run],
        notes[run],
        stopping,
        isNotNeeded(run),
        open,
        List.of(files[run]));
  }

  /**
   * Why a run is not running, or what has become of it.
   *
   * @throws IllegalArgumentException where the run is not on the board
   */
  public Why why(long id) {
    Integer run = indexes.get(id);
    if (run == null) {
      throw new IllegalArgumentException("run " + id + " is not on the board");
    }
    return new WhyTeller(this).tell(run);
  }

  RunState stateAt(int run) {
    return RunState.of(states[run]);
  }

  RunStatus.FileState fileAt(int run, int place) {
    return files[run][place];
  }

  boolean isNotNeeded(int run) {
    return (marks[run] & NOT_NEEDED) != 0;
  }

  String holdAt(int run) {
    return holds[run];
  }

  boolean isHeld(int run) {
    return !holds[run].isEmpty();
  }

  Job job(int run) {
    return specs[run].run().job();
  }

  RunSpec specAt(int run) {
    return specs[run];
  }

  Condition conditionAt(int run) {
    return conditions[run];
  }

  long retryAtOf(int run) {
    return retryAt[run];
  }

  long sinceAt(int run) {
    return since[run];
  }

  long startedAt(int run) {
    return started[run];
  }

  String noteAt(int run) {
    return notes[run];
  }

  String hostAt(int run) {
    return hosts[run];
  }

  int attemptsAt(int run) {
    return attempts[run];
  }

  Site site() {
    return site;
  }

  /** References of the runs that hold units of a capacity. */
  List<String> holders(String capacity) {
    List<String> names = new ArrayList<>();
    for (int i = 0; i < count; i++) {
      if (stateAt(i).isActive() && job(i).takes().containsKey(capacity)) {
        names.add(specs[i].run().reference().toString());
      }
    }
    return names;
  }

  boolean isConnected(Placement placement) {
    return site.choose(placement).isPresent();
  }
}
