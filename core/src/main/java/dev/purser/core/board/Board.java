package dev.purser.core.board;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.definition.Job;
import dev.purser.core.definition.Overlap;
import dev.purser.core.definition.Placement;
import dev.purser.core.definition.Repeat;
import dev.purser.core.definition.Work;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.RunReference;
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
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.function.IntPredicate;

/**
 * The engine. {@link #apply} takes what happened and returns what the outside must do; the same
 * events in the same order give the same instructions, always. Live work, rehearsal and forecast
 * drive this same object.
 *
 * <p>Runs have small indexes; what changes of them lies in parallel arrays, so that a copy is a
 * copy of arrays. What does not change (definitions, linked conditions) is shared between copies.
 * Single threaded, knows no clock and no lock. The rules are told in {@code
 * docs/how-a-run-is-decided.md}.
 */
public final class Board {
  /** What a point of priority is worth: so much waiting, in milliseconds. */
  public static final long POINT_MILLIS = 60_000;

  static final int TOO_LONG = 1 << 1;
  static final int CANCELLING = 1 << 2;
  static final int NOT_NEEDED = 1 << 3;
  static final int START_NOW = 1 << 16;
  static final int MARKED_SUCCEEDED = 1 << 17;
  static final int MARKED_FAILED = 1 << 18;
  static final int STOPPING = TOO_LONG | CANCELLING | MARKED_SUCCEEDED | MARKED_FAILED;

  private static final Placement NOWHERE = new Placement.Nowhere();
  private static final DateTimeFormatter HH_MM = DateTimeFormatter.ofPattern("HH:mm");
  private static final int ALERTS = 4; // the bit of the first kind of alert

  final RunTable table;
  private final Map<Long, Integer> indexes;
  private final Site site;
  private final Map<HoldScope, String> standing;
  private final Bits waiting;
  private final Links links;
  private Timers timers;
  private long now;
  private long promisedWake = Long.MAX_VALUE;
  private long nextCount = Long.MAX_VALUE;
  private long countAlarm;

  private List<Instruction> out = new ArrayList<>();
  private final IntQueue toTry = new IntQueue();
  private final IntQueue toJudge = new IntQueue();
  private final Set<String> toServe = new TreeSet<>();
  private boolean roomFreed;

  /** An empty board. */
  public Board() {
    table = new RunTable();
    indexes = new HashMap<>();
    site = new Site();
    standing = new TreeMap<>();
    waiting = new Bits();
    links = new Links(table);
    timers = new Timers();
  }

  /** A copy that goes its own way from here. */
  public Board(Board other) {
    table = new RunTable(other.table);
    indexes = new HashMap<>(other.indexes);
    site = new Site(other.site);
    standing = new TreeMap<>(other.standing);
    waiting = new Bits(other.waiting);
    links = new Links(table, other.links);
    timers = new Timers(other.timers);
    now = other.now;
    promisedWake = other.promisedWake;
    nextCount = other.nextCount;
    countAlarm = other.countAlarm;
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
    if (now >= nextCount) {
      countUnits();
    }
    ringAlarms();
    handle(event);
    settle();
    setCountAlarm();
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
      new PeoplesActions(this).act(acted);
    } else if (event instanceof BoardEvent.HoldPlaced placed) {
      standing.put(placed.scope(), placed.note());
    } else if (event instanceof BoardEvent.HoldLifted lifted) {
      standing.remove(lifted.scope());
      waiting.forEach(toTry::add);
    } else if (event instanceof BoardEvent.HostSeen seen) {
      site.hosts().seen(seen.host(), seen.labels());
      roomFreed = true;
      giveUpHosts();
    } else if (event instanceof BoardEvent.HostLost lost) {
      timers.add(site.hosts().lost(lost.host(), now), -1, Timers.Kind.HOST);
    } else if (event instanceof BoardEvent.HostDrained drained) {
      site.hosts().drain(drained.host(), drained.note());
    } else if (event instanceof BoardEvent.HostReturned back) {
      site.hosts().takeBack(back.host());
      roomFreed = true;
    } else if (event instanceof BoardEvent.RunsPlanned planned) {
      int from = table.count;
      planned.runs().forEach(spec -> add(spec, freshStatus(spec)));
      links.added(from, this::tryIfWaiting);
      judgeMissed(planned.missedBefore());
      ringAlarms();
    } else if (event instanceof BoardEvent.RunsRestored restored) {
      restored.runs().forEach(one -> add(one.spec(), one.status()));
      link();
      ringAlarms();
      waiting.forEach(toTry::add);
    } else if (event instanceof BoardEvent.RunsWithdrawn withdrawn) {
      withdraw(withdrawn.runs());
    } else if (event instanceof BoardEvent.DatesClosed closed) {
      closeDates(closed.before());
    } else if (event instanceof BoardEvent.SiteDefined defined) {
      site.define(defined.hosts(), defined.groups(), defined.capacities(), now);
      countUnits();
      waiting.forEach(toTry::add);
    } else if (event instanceof BoardEvent.CapacitySet change) {
      site.set(change.capacity(), change.units(), now);
      lookAgain(change.capacity());
    }
  }

  /** Counts the units of capacities anew. */
  private void countUnits() {
    nextCount = site.count(now);
    site.capacities().forEach(this::lookAgain);
  }

  /** There are more or fewer units than before: all who wait for some are placed anew. */
  private void lookAgain(String capacity) {
    site.line(capacity).forEach(toTry::add);
    toServe.add(capacity);
  }

  /** Sets an alarm for the next change of units, where somebody in line may gain by it. */
  private void setCountAlarm() {
    if (nextCount != Long.MAX_VALUE && nextCount != countAlarm && site.mayGain()) {
      timers.add(nextCount, -1, Timers.Kind.CAPACITY);
      countAlarm = nextCount;
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
        absent,
        0,
        -1,
        false,
        0,
        Map.of(),
        0);
  }

  private void add(RunSpec spec, RunStatus status) {
    if (indexes.containsKey(spec.id())) {
      return;
    }
    int run = table.add();
    indexes.put(spec.id(), run);
    table.specs[run] = spec;
    table.states[run] = (byte) status.state().ordinal();
    table.marks[run] = marksOf(status);
    table.priorities[run] =
        (byte) (status.priority() < 0 ? spec.run().job().priority() : status.priority());
    table.attempts[run] = status.attempts();
    table.budgets[run] = status.budget();
    table.due[run] = status.due() == 0 ? spec.due() : status.due();
    table.since[run] = status.since() == 0 ? now : status.since();
    table.started[run] = status.started();
    table.ended[run] = status.ended();
    table.retryAt[run] = status.retryAt();
    table.asked[run] = status.asked();
    table.exitCodes[run] = (short) status.exitCode();
    table.moves[run] = (short) status.moves();
    table.hosts[run] = status.host();
    table.notes[run] = status.note();
    table.holds[run] = status.hold();
    table.files[run] = status.files().toArray(RunStatus.FileState[]::new);
    table.values[run] = status.values();
    table.needs[run] = needsOf(spec.run());
    waiting.set(run, status.state() == RunState.WAITING);
    if (status.state().isActive()) {
      site.take(run, table.hosts[run], needs(run));
    }
    setAlarms(run);
    if (status.state() == RunState.PLANNED && status.since() == 0) {
      changed(run, "");
    }
    watchFiles(run, true);
  }

  private static int marksOf(RunStatus status) {
    int mark =
        switch (status.stopping()) {
          case NO -> 0;
          case TOO_LONG -> TOO_LONG;
          case CANCELLED -> CANCELLING;
          case SUCCEEDED -> MARKED_SUCCEEDED;
          case FAILED -> MARKED_FAILED;
        };
    mark |= status.notNeeded() ? NOT_NEEDED : 0;
    mark |= status.startNow() ? START_NOW : 0;
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
    PlannedRun planned = table.specs[run].run();
    if (state.isEnded() && state != RunState.FAILED) {
      return;
    }
    if (state == RunState.PLANNED) {
      timers.add(table.due[run], run, Timers.Kind.DUE);
    }
    if (state == RunState.WAITING && table.retryAt[run] > 0) {
      timers.add(table.retryAt[run], run, Timers.Kind.RETRY);
    }
    if (state == RunState.WAITING && table.asked[run] > 0) {
      setAnswerAlarms(run);
    }
    if (state == RunState.RUNNING) {
      setRunningAlarms(run);
    }
    setDeadline(run, planned.startBy(), Timers.Kind.START_BY);
    setDeadline(run, planned.finishBy(), Timers.Kind.FINISH_BY);
  }

  /** A deadline before the run came into its state has been judged already. */
  void setDeadline(int run, Optional<Instant> deadline, Timers.Kind kind) {
    deadline
        .map(Instant::toEpochMilli)
        .filter(at -> at > table.since[run])
        .ifPresent(at -> timers.add(at, run, kind));
  }

  private void setRunningAlarms(int run) {
    job(run)
        .stopAfter()
        .ifPresent(
            after ->
                timers.add(table.started[run] + after.toMillis(), run, Timers.Kind.STOP_AFTER));
    if (table.specs[run].longAfter() > 0) {
      timers.add(table.started[run] + table.specs[run].longAfter(), run, Timers.Kind.LONG_RUNNING);
    }
  }

  private void setAnswerAlarms(int run) {
    if (job(run).work() instanceof Work.Approval approval) {
      long asked = table.asked[run];
      Work.Answering answering = approval.answering();
      answering
          .remind()
          .ifPresent(after -> timers.add(asked + after.toMillis(), run, Timers.Kind.REMIND));
      answering
          .lapses()
          .ifPresent(after -> timers.add(asked + after.toMillis(), run, Timers.Kind.LAPSE));
    }
  }

  /** Ties prerequisites to runs anew. */
  private void link() {
    links.all();
    waiting.forEach(toTry::add);
  }

  private void tryIfWaiting(int run) {
    if (waiting.get(run)) {
      toTry.add(run);
    }
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

  /** What an open run looks at stays, whatever its date. */
  private void closeDates(LocalDate before) {
    Set<LocalDate> open = new HashSet<>();
    BitSet lookedAt = new BitSet();
    for (int i = 0; i < table.count; i++) {
      LocalDate date = table.specs[i].run().reference().date();
      if (!stateAt(i).isEnded() || !date.isBefore(before)) {
        open.add(date);
        table.conditions[i].targets(lookedAt::set);
        if (table.checks[i] != null) {
          table.checks[i].targets(lookedAt::set);
        }
      }
    }
    keep(run -> lookedAt.get(run) || open.contains(table.specs[run].run().reference().date()));
  }

  private void keep(IntPredicate kept) {
    int to = 0;
    waiting.clear();
    timers = new Timers();
    indexes.clear();
    site.forgetRuns();
    for (int from = 0; from < table.count; from++) {
      if (kept.test(from)) {
        if (from != to) {
          table.move(from, to);
        }
        takeAgain(to++);
      }
    }
    table.cut(to);
    countAlarm = 0;
    site.hosts().alarms().forEach(at -> timers.add(at, -1, Timers.Kind.HOST));
    link();
    countUnits();
  }

  private void takeAgain(int run) {
    indexes.put(table.specs[run].id(), run);
    waiting.set(run, stateAt(run) == RunState.WAITING);
    if (stateAt(run).isActive()) {
      site.take(run, table.hosts[run], needs(run));
    }
    setAlarms(run);
  }

  // ---- time

  private void ringAlarms() {
    while (timers.nextAt() <= now) {
      long at = timers.nextAt();
      int run = timers.nextRun();
      Timers.Kind kind = timers.nextKind();
      timers.removeNext();
      if (kind == Timers.Kind.HOST) {
        giveUpHosts();
      } else if (kind != Timers.Kind.CAPACITY) { // those have done their work by waking the board
        ring(at, run, kind);
      }
    }
  }

  private void ring(long at, int run, Timers.Kind kind) {
    RunState state = stateAt(run);
    switch (kind) {
      case DUE -> {
        if (state == RunState.PLANNED && table.due[run] == at) {
          fallDue(run);
        }
      }
      case RETRY -> {
        if (state == RunState.WAITING && table.retryAt[run] == at) {
          table.retryAt[run] = 0;
          toTry.add(run);
        }
      }
      case STOP_AFTER -> {
        Duration limit = job(run).stopAfter().orElse(Duration.ZERO);
        boolean stopping = (table.marks[run] & STOPPING) != 0;
        boolean due = state == RunState.RUNNING && table.started[run] + limit.toMillis() == at;
        if (due && !stopping) {
          stop(run, TOO_LONG, "is being stopped after " + Durations.print(limit));
        }
      }
      case LONG_RUNNING -> {
        if (state == RunState.RUNNING && table.started[run] + table.specs[run].longAfter() == at) {
          String usual = Durations.print(Duration.ofMillis(table.specs[run].longAfter()));
          openAlert(run, AlertKind.LONG_RUNNING, "has been running for longer than " + usual);
        }
      }
      case START_BY -> {
        if (state == RunState.PLANNED || state == RunState.WAITING) {
          toTry.add(run);
          lateCheck(run, "not started by " + clock(run, at));
        }
      }
      case FINISH_BY -> {
        if (!state.isEnded() || state == RunState.FAILED) {
          lateCheck(run, "not finished by " + clock(run, at));
        }
      }
      case REMIND, LAPSE -> {
        if (state == RunState.WAITING && job(run).work() instanceof Work.Approval approval) {
          remindOrLapse(at, run, kind, approval);
        }
      }
      case CAPACITY, HOST -> throw new IllegalStateException("an alarm of no run");
    }
  }

  private void fallDue(int run) {
    String leftOut = table.specs[run].run().leftOut();
    if (!leftOut.isEmpty() && (table.marks[run] & START_NOW) == 0) {
      end(run, RunState.SKIPPED, leftOut);
    } else {
      enter(run, RunState.WAITING, "");
      watchFiles(run, true);
      toTry.add(run);
    }
  }

  /** A question that cannot be answered just now is asked anew when it can. */
  private void remindOrLapse(long at, int run, Timers.Kind kind, Work.Approval approval) {
    Work.Answering answering = approval.answering();
    boolean isAsked = canAnswer(run);
    if (kind == Timers.Kind.REMIND) {
      boolean due = at == table.asked[run] + answering.remind().orElse(Duration.ZERO).toMillis();
      if (due && isAsked) {
        openAlert(
            run,
            AlertKind.APPROVAL,
            "has waited for an answer since "
                + clock(run, table.asked[run])
                + ": "
                + approval.question());
      }
      return;
    }
    Duration limit = answering.lapses().orElse(Duration.ZERO);
    if (at != table.asked[run] + limit.toMillis()) {
      return;
    }
    if (!isAsked) {
      table.asked[run] = 0;
      return;
    }
    String note = "not answered within " + Durations.print(limit) + ", and has lapsed";
    switch (answering.then()) {
      case FAIL -> end(run, RunState.FAILED, note);
      case SKIP -> end(run, RunState.SKIPPED, note);
      case APPROVE -> end(run, RunState.SUCCEEDED, note + ", which means yes");
    }
  }

  private void lateCheck(int run, String what) {
    String sentence = why(table.specs[run].id()).sentence();
    String how = sentence.substring(0, 1).toLowerCase(Locale.ROOT) + sentence.substring(1);
    openAlert(run, AlertKind.LATE, what + ": " + how);
  }

  /** A local time as people of the stream read it, with the date where it is not the run's. */
  String clock(int run, long at) {
    PlannedRun planned = table.specs[run].run();
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
    for (int run = 0; before > 0 && run < table.count; run++) {
      if (stateAt(run) == RunState.PLANNED && table.due[run] < before) {
        missed.add(run);
      }
    }
    MissedStarts judge =
        new MissedStarts(missed.stream().map(run -> table.specs[run].run()).toList());
    for (int i = 0; i < missed.size(); i++) {
      int run = missed.get(i);
      Optional<String> skipped = judge.skips(i, now);
      if (skipped.isPresent()) {
        end(run, RunState.SKIPPED, skipped.get());
      } else if (table.specs[run].run().leftOut().isEmpty()) {
        changed(run, judge.runs(i));
      }
    }
  }

  // ---- starting

  /** Starts all that can start, and judges steps, until nothing more follows. */
  private void settle() {
    while (true) {
      if (!toTry.isEmpty()) {
        tryStart(toTry.take());
        continue;
      }
      if (!toServe.isEmpty()) {
        String what = toServe.iterator().next();
        toServe.remove(what);
        serve(what);
        continue;
      }
      if (roomFreed) {
        roomFreed = false;
        serveRoom();
        continue;
      }
      if (toJudge.isEmpty()) {
        return;
      }
      judge(toJudge.take());
    }
  }

  /** Lets those in line have what is free, first to last, until the first cannot. */
  private void serve(String what) {
    for (int first = site.first(what); first >= 0; ) {
      tryStart(first);
      int next = site.first(what);
      if (next == first) {
        return;
      }
      first = next;
    }
  }

  /** Lets those who wait for a host have the room that there is, first to last. */
  private void serveRoom() {
    Set<Integer> tried = new HashSet<>();
    for (int first = site.hosts().firstWithRoom(tried); first >= 0; ) {
      tried.add(first);
      tryStart(first);
      first = site.hosts().firstWithRoom(tried);
    }
  }

  private void tryStart(int run) {
    if (stateAt(run) != RunState.WAITING) {
      return;
    }
    leaveRoomLine(run);
    List<Site.Need> needs = needs(run);
    List<String> left = site.leave(place(run), needs);
    if (isReady(run)) {
      startOrQueue(run, needs);
    }
    for (String what : left) {
      if (!site.stands(place(run), what)) {
        toServe.add(what);
      }
    }
  }

  /** Whether nothing of its own is missing; a run that is not to start any more is ended here. */
  private boolean isReady(int run) {
    Answer answer = answerOf(run);
    if (answer == Answer.NO) {
      table.marks[run] |= NOT_NEEDED;
      end(run, RunState.SKIPPED, "not needed: " + notNeeded(run));
      return false;
    }
    if (answer == Answer.STUCK && table.parents[run] >= 0) {
      toJudge.add(table.parents[run]);
    }
    if (answer != Answer.YES || isHeld(run) || table.retryAt[run] > now) {
      return false;
    }
    if (job(run).work() instanceof Work.Approval approval) {
      ask(run, approval);
      return false;
    }
    return hasWork(run);
  }

  private String notNeeded(int run) {
    int parent = table.parents[run];
    return parent >= 0 && gate(run) == Answer.NO
        ? "its step " + table.specs[parent].run().reference() + " was skipped"
        : "\"" + job(run).waitsFor().map(Object::toString).orElse("") + "\" can no longer be met";
  }

  /** What its prerequisite and the step above it say together. */
  Answer answerOf(int run) {
    Answer gate = gate(run);
    return (table.marks[run] & START_NOW) != 0
        ? gate
        : gate.and(table.conditions[run].answer(this, run));
  }

  /** Whether the step above a run has begun. */
  Answer gate(int run) {
    int parent = table.parents[run];
    if (parent < 0) {
      return Answer.YES;
    }
    return switch (stateAt(parent)) {
      case RUNNING -> Answer.YES;
      case PLANNED, WAITING, STARTING -> Answer.OPEN;
      case SKIPPED -> Answer.NO;
      // An ended step goes on when one of the runs below it does.
      case SUCCEEDED, FAILED -> Answer.YES;
      case CANCELLED -> Answer.STUCK;
    };
  }

  private void ask(int run, Work.Approval approval) {
    if (table.asked[run] == 0) {
      table.asked[run] = now;
      setAnswerAlarms(run);
      out.add(new Instruction.AskPerson(table.specs[run].id(), approval.question()));
      changed(run, "waits for an answer: " + approval.question());
    }
  }

  boolean canAnswer(int run) {
    return stateAt(run) == RunState.WAITING
        && job(run).work() instanceof Work.Approval
        && !isHeld(run)
        && answerOf(run) == Answer.YES;
  }

  /** Whether its check by values finds something to do; a run without is ended here. */
  private boolean hasWork(int run) {
    Condition check = table.checks[run];
    if (check == null || (table.marks[run] & START_NOW) != 0) {
      return true;
    }
    Answer answer = check.answer(this, run);
    String asked = "\"" + job(run).onlyIf().map(Object::toString).orElse("") + "\"";
    if (answer == Answer.NO) {
      end(run, RunState.SKIPPED, "nothing to do: " + asked + " does not hold" + facts(check));
    } else if (answer == Answer.STUCK) {
      end(
          run,
          RunState.FAILED,
          "cannot tell whether there is anything to do: " + asked + facts(check));
    }
    return answer == Answer.YES;
  }

  private String facts(Condition check) {
    String facts = String.join(", ", new WhyTeller(this).facts(check));
    return facts.isEmpty() ? "" : " (" + facts + ")";
  }

  /** The units that a run needs, those of its own job among them. */
  List<Site.Need> needs(int run) {
    return table.needs[run];
  }

  private static List<Site.Need> needsOf(PlannedRun run) {
    Job job = run.job();
    if (job.takes().isEmpty() && !job.overlap().isLimited()) {
      return List.of();
    }
    List<Site.Need> needs = new ArrayList<>();
    new TreeMap<>(job.takes()).forEach((name, units) -> needs.add(new Site.Need(name, units, -1)));
    if (job.overlap().isLimited()) {
      needs.add(Site.Need.ofJob(run.reference().path(), job.overlap().most()));
    }
    return List.copyOf(needs);
  }

  /** Who comes first: the earlier due, a point of priority counting as a minute of waiting. */
  Site.Place place(int run) {
    return new Site.Place(table.due[run] - table.priorities[run] * POINT_MILLIS, run);
  }

  /** Starts a run that is ready, or puts it in line. */
  private void startOrQueue(int run, List<Site.Need> needs) {
    Job job = job(run);
    Placement placement = job.isStep() ? NOWHERE : job.placement();
    Optional<String> host =
        site.hosts().comesAfter(placement, place(run))
            ? Optional.empty()
            : site.hosts().choose(placement, hostsOfOthers(run));
    if (host.isEmpty()) {
      site.hosts().queue(placement, place(run));
      return;
    }
    List<Site.Lack> lacks = site.lacks(place(run), needs);
    if (!lacks.isEmpty()) {
      if (overlaps(run, job, lacks)) {
        return;
      }
      for (Site.Lack lack : lacks) {
        site.queue(place(run), lack.need());
        if (!lack.tooFew()) {
          toServe.add(lack.need().what());
        }
      }
      return;
    }
    site.take(run, host.get(), needs);
    reopen(table.parents[run], "goes on: " + table.specs[run].run().reference() + " starts");
    table.hosts[run] = host.get();
    table.exitCodes[run] = -1;
    if (job.isStep()) {
      beginStep(run);
    } else {
      table.attempts[run]++;
      table.started[run] = 0;
      enter(run, RunState.STARTING, "");
      out.add(new Instruction.StartAttempt(table.specs[run].id(), table.attempts[run], host.get()));
    }
  }

  /** Where other parts of the same run are or were, if each must be on a host of its own. */
  private Set<String> hostsOfOthers(int run) {
    if (!(job(run).placement() instanceof Placement.Another) || table.parents[run] < 0) {
      return Set.of();
    }
    Set<String> taken = new HashSet<>();
    for (int part : table.children[table.parents[run]]) {
      boolean counts = stateAt(part).isActive() || stateAt(part) == RunState.SUCCEEDED;
      if (part != run && counts) {
        taken.add(table.hosts[part]);
      }
    }
    return taken;
  }

  private void leaveRoomLine(int run) {
    Placement placement = job(run).isStep() ? NOWHERE : job(run).placement();
    site.hosts().leave(placement, place(run));
  }

  /** Deals with earlier runs of the same job at work; whether the run is ended by it. */
  private boolean overlaps(int run, Job job, List<Site.Lack> lacks) {
    Optional<Site.Lack> own = lacks.stream().filter(lack -> lack.need().isOfJob()).findFirst();
    if (own.isEmpty() || job.overlap().manner() == Overlap.Manner.WAIT) {
      return false;
    }
    List<Integer> others = List.copyOf(site.holders(own.get().need().what()));
    if (job.overlap().manner() == Overlap.Manner.SKIP) {
      String names = String.join(", ", references(others));
      end(run, RunState.SKIPPED, "not started: " + names + " is still at work");
      return true;
    }
    for (int other : others) {
      if ((table.marks[other] & STOPPING) == 0) {
        new PeoplesActions(this)
            .cancel(other, "cancelled: replaced by " + table.specs[run].run().reference());
      }
    }
    return false;
  }

  List<String> references(Iterable<Integer> runs) {
    List<String> names = new ArrayList<>();
    runs.forEach(run -> names.add(table.specs[run].run().reference().toString()));
    return names;
  }

  void watchFiles(int run, boolean watch) {
    boolean wanted = stateAt(run) == RunState.WAITING;
    for (int i = 0; i < table.files[run].length; i++) {
      if (table.files[run][i].sight() != FileSight.ARRIVED && (wanted || !watch)) {
        String name = table.specs[run].run().watches().get(i).name();
        out.add(
            watch
                ? new Instruction.WatchFile(table.specs[run].id(), name)
                : new Instruction.UnwatchFile(table.specs[run].id(), name));
      }
    }
  }

  // ---- steps

  private void beginStep(int run) {
    table.started[run] = now;
    enter(run, RunState.RUNNING, "");
    setRunningAlarms(run);
    closeLateStart(run);
    for (int child : table.children[run]) {
      toTry.add(child);
    }
    toJudge.add(run);
  }

  /** A step goes on because something below it does. */
  void reopen(int step, String note) {
    if (step < 0 || !stateAt(step).isEnded()) {
      return;
    }
    reopen(table.parents[step], note);
    table.marks[step] &= ~(NOT_NEEDED | STOPPING);
    table.ended[step] = 0;
    table.started[step] = table.started[step] == 0 ? now : table.started[step];
    site.take(step, "", needs(step));
    closeAlert(step, AlertKind.FAILED, note);
    enter(step, RunState.RUNNING, note);
    setDeadline(step, table.specs[step].run().finishBy(), Timers.Kind.FINISH_BY);
  }

  /** Decides how a step stands, once nothing below it can move by itself. */
  private void judge(int step) {
    if (stateAt(step) != RunState.RUNNING || !job(step).isStep()) {
      return;
    }
    boolean active = false;
    boolean moves = false;
    boolean allEnded = true;
    for (int child : table.children[step]) {
      RunState state = stateAt(child);
      active |= state.isActive();
      allEnded &= state.isEnded();
      moves |= !state.isEnded() && (state.isActive() || isHeld(child) || canMove(child));
    }
    int stopping = table.marks[step] & STOPPING;
    if (stopping != 0 && !active) {
      endStopped(step, stopping);
    } else if (stopping == 0 && !moves) {
      judgeOutcome(step, allEnded);
    }
  }

  private boolean canMove(int run) {
    Answer answer = answerOf(run);
    return answer == Answer.YES || answer == Answer.OPEN;
  }

  private void judgeOutcome(int step, boolean allEnded) {
    var rule = table.specs[step].run().ties().succeedsIf();
    List<String> bad = new ArrayList<>();
    int good = 0;
    boolean open = false;
    for (int child : table.children[step]) {
      RunState state = stateAt(child);
      String name = table.specs[child].run().reference().job();
      if (rule.counts(name)) {
        good += state == RunState.SUCCEEDED ? 1 : 0;
        open |= !state.isEnded();
        if (state == RunState.FAILED || state == RunState.CANCELLED) {
          bad.add(name + " " + state.word());
        }
      }
    }
    boolean isGood =
        rule.isByNumber()
            ? good >= rule.least() || (allEnded && bad.isEmpty())
            : bad.isEmpty() && !open;
    if (isGood) {
      finish(step);
      end(step, RunState.SUCCEEDED, "");
    } else if (!bad.isEmpty()) {
      finish(step);
      end(step, RunState.FAILED, String.join(", ", bad));
    }
  }

  private void finish(int step) {
    giveBack(step);
  }

  private void endStopped(int run, int stopping) {
    String note = table.notes[run];
    table.marks[run] &= ~STOPPING;
    if (job(run).isStep()) {
      finish(run);
    }
    RunState state =
        (stopping & MARKED_SUCCEEDED) != 0
            ? RunState.SUCCEEDED
            : (stopping & MARKED_FAILED) != 0 ? RunState.FAILED : RunState.CANCELLED;
    end(run, state, note);
  }

  // ---- attempts

  private void attemptBegan(BoardEvent.AttemptBegan event) {
    Integer run = indexes.get(event.run());
    if (run == null
        || stateAt(run) != RunState.STARTING
        || table.attempts[run] != event.attempt()) {
      return;
    }
    table.started[run] = Math.min(event.happened(), now);
    enter(run, RunState.RUNNING, table.notes[run]);
    setRunningAlarms(run);
    if ((table.marks[run] & STOPPING) == 0) {
      closeLateStart(run);
    }
  }

  /** A late start is over once it runs, unless a finish-by may still be missed or is. */
  private void closeLateStart(int run) {
    long finishBy =
        table.specs[run].run().finishBy().map(Instant::toEpochMilli).orElse(Long.MAX_VALUE);
    if (finishBy > now) {
      closeAlert(run, AlertKind.LATE, "it has started");
    }
  }

  private void attemptEnded(BoardEvent.AttemptEnded event) {
    Integer run = indexes.get(event.run());
    if (run == null || !stateAt(run).isActive() || table.attempts[run] != event.attempt()) {
      return;
    }
    giveBack(run);
    Ending ending = event.ending();
    table.exitCodes[run] = (short) ending.code();
    table.values[run] = event.values();
    int stopMarks = table.marks[run] & STOPPING;
    table.marks[run] &= ~TOO_LONG;
    if ((stopMarks & ~TOO_LONG) != 0) {
      endStopped(run, stopMarks);
    } else if (ending.kind() == Ending.Kind.NOTHING_TO_DO && stopMarks == 0) {
      end(run, RunState.SKIPPED, "nothing to do: " + saysSo(run));
    } else if (isSuccess(run, ending) && stopMarks == 0) {
      end(run, RunState.SUCCEEDED, inWords(ending));
    } else {
      failed(run, ending, stopMarks == TOO_LONG);
    }
    if (table.ended[run] == now) { // what is late is the news, not the end
      table.ended[run] = Math.min(now, Math.max(table.started[run], event.happened()));
    }
  }

  private static String inWords(Ending ending) {
    String code = ending.code() == 0 ? "" : "with exit code " + ending.code();
    return ending.note().isEmpty() ? code : code + (code.isEmpty() ? "" : "; ") + ending.note();
  }

  private String saysSo(int run) {
    return "its check before work says so ("
        + job(run).onlyIf().map(Object::toString).orElse("")
        + ")";
  }

  private boolean isSuccess(int run, Ending ending) {
    return ending.kind() == Ending.Kind.EXITED && job(run).succeedsWith().contains(ending.code());
  }

  private void failed(int run, Ending ending, boolean tooLong) {
    Job job = job(run);
    String limit = job.stopAfter().map(Durations::print).orElse("");
    String cause = tooLong ? "stopped after " + limit : ending.inWords();
    boolean repeatLost = ending.kind() == Ending.Kind.LOST && mayMove(run);
    if (repeatLost) {
      table.moves[run]++;
    }
    boolean rightCode =
        tooLong
            ? job.retry().onStopAfter()
            : ending.kind() != Ending.Kind.EXITED || job.retry().on().contains(ending.code());
    boolean retried =
        table.attempts[run] < table.budgets[run]
            && rightCode
            && ending.kind() != Ending.Kind.NO_VALUE
            && ending.kind() != Ending.Kind.LOST;
    if (!retried && !repeatLost) {
      end(run, RunState.FAILED, cause);
      return;
    }
    int tried = table.attempts[run] - (table.budgets[run] - 1 - job.retry().times());
    long pause = repeatLost ? 0 : job.retry().pauseAfter(Math.max(tried, 1)).toMillis();
    table.retryAt[run] = now + pause;
    timers.add(table.retryAt[run], run, Timers.Kind.RETRY);
    closeAlert(run, AlertKind.LONG_RUNNING, "the attempt has ended");
    enter(run, RunState.WAITING, "attempt " + table.attempts[run] + " " + cause);
    ringAlarms();
  }

  /** Whether an attempt that was lost may be tried again, on another host. */
  private boolean mayMove(int run) {
    Repeat repeat = job(run).repeat();
    return repeat.allowed()
        && table.moves[run] < repeat.ofRun()
        && movesOfJob(table.specs[run].run().reference()) < repeat.ofJob();
  }

  private int movesOfJob(RunReference reference) {
    int moves = 0;
    for (int i = 0; i < table.count; i++) {
      if (table.moves[i] > 0) {
        RunReference other = table.specs[i].run().reference();
        boolean same =
            other.date().equals(reference.date()) && other.path().equals(reference.path());
        moves += same ? table.moves[i] : 0;
      }
    }
    return moves;
  }

  /** Work on hosts that have been away too long goes elsewhere, where it may and there is room. */
  private void giveUpHosts() {
    List<String> gone = site.hosts().givenUp(now);
    for (int run = 0; !gone.isEmpty() && run < table.count; run++) {
      if (stateAt(run).isActive() && gone.contains(table.hosts[run])) {
        giveUp(run);
      }
    }
  }

  private void giveUp(int run) {
    String host = table.hosts[run];
    int stopping = table.marks[run] & STOPPING;
    if ((stopping & ~TOO_LONG) != 0) {
      endUnreachable(run, stopping, table.notes[run]);
      return;
    }
    Set<String> not = new HashSet<>(hostsOfOthers(run));
    not.add(host);
    if (mayMove(run) && site.hosts().choose(job(run).placement(), not).isPresent()) {
      giveBack(run);
      String since = clock(run, site.hosts().lostAt(host));
      Ending lost =
          new Ending(Ending.Kind.LOST, -1, "host " + host + " has been away since " + since);
      out.add(
          new Instruction.GiveUpAttempt(
              table.specs[run].id(), table.attempts[run], lost.inWords()));
      failed(run, lost, false);
    }
  }

  private void giveBack(int run) {
    List<Site.Need> needs = needs(run);
    roomFreed |= site.giveBack(run, table.hosts[run], needs);
    needs.forEach(need -> toServe.add(need.what()));
  }

  /** Asks an attempt to stop; it ends when the news of that come. */
  void stop(int run, int mark, String note) {
    boolean first = (table.marks[run] & STOPPING) == 0;
    table.marks[run] = (table.marks[run] & ~STOPPING) | mark;
    table.notes[run] = note;
    changed(run, note);
    if (first) {
      out.add(
          new Instruction.StopAttempt(
              table.specs[run].id(),
              table.attempts[run],
              table.hosts[run],
              job(run).grace().toMillis()));
    }
  }

  /** Ends a run whose attempt nobody can stop just now: its host is told when it is back. */
  void endUnreachable(int run, int mark, String note) {
    giveBack(run);
    table.notes[run] = note;
    out.add(
        new Instruction.GiveUpAttempt(
            table.specs[run].id(),
            table.attempts[run],
            "could not be stopped: host " + table.hosts[run] + " is away"));
    endStopped(run, mark);
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
      toTry.add(run);
    }
  }

  /** Sets what is seen of a file; returns the run, or -1 where nothing has changed. */
  private int setFile(long id, String watch, RunStatus.FileState state) {
    Integer run = indexes.get(id);
    if (run == null || stateAt(run) != RunState.WAITING) {
      return -1;
    }
    List<String> names = table.specs[run].run().watches().stream().map(FileWatch::name).toList();
    int place = names.indexOf(watch);
    boolean isNews =
        place >= 0
            && table.files[run][place].sight() != FileSight.ARRIVED
            && !table.files[run][place].equals(state);
    if (!isNews) {
      return -1;
    }
    table.files[run] = table.files[run].clone(); // copies of the board share the old one
    table.files[run][place] = state;
    changed(run, "file " + watch + ": " + WhyTeller.inWords(state));
    return run;
  }

  // ---- changes of state

  void enter(int run, RunState state, String note) {
    leaveRoomLine(run);
    boolean heardOf = links.isHeard(run) && stateAt(run).isActive() != state.isActive();
    if (site.isInLine(run)) {
      toServe.addAll(site.leave(place(run), needs(run)));
    }
    if (stateAt(run).isEnded() && !state.isEnded()) {
      links.again(run);
    }
    table.states[run] = (byte) state.ordinal();
    table.since[run] = now;
    table.notes[run] = note;
    waiting.set(run, state == RunState.WAITING);
    changed(run, note);
    if (heardOf) {
      tryFollowers(run);
    }
  }

  void end(int run, RunState state, String note) {
    watchFiles(run, false);
    table.holds[run] = "";
    table.ended[run] = now;
    table.retryAt[run] = 0;
    table.asked[run] = 0;
    enter(run, state, note);
    closeAlert(run, AlertKind.LONG_RUNNING, "it has ended");
    closeAlert(run, AlertKind.APPROVAL, "it is " + state.word());
    if (state == RunState.FAILED && !job(run).isStep()) { // a step fails with what is below it
      openAlert(run, AlertKind.FAILED, note + valuesInWords(run));
    } else if (state != RunState.FAILED) {
      closeAlert(run, AlertKind.FAILED, "it is " + state.word());
      closeAlert(run, AlertKind.LATE, "it is " + state.word());
    }
    tryFollowers(run);
    if (table.parents[run] >= 0) {
      toJudge.add(table.parents[run]);
    }
    for (int child : table.children[run]) {
      toTry.add(child); // a step that was skipped takes what is below it along
    }
  }

  private String valuesInWords(int run) {
    if (table.values[run].isEmpty()) {
      return "";
    }
    List<String> all = new ArrayList<>();
    new TreeMap<>(table.values[run]).forEach((name, value) -> all.add(name + " = " + value));
    return "; it handed back " + String.join(", ", all);
  }

  void tryFollowers(int run) {
    for (int follower : table.followers[run]) {
      toTry.add(follower);
    }
  }

  private void openAlert(int run, AlertKind kind, String text) {
    if ((table.marks[run] & alertMark(kind)) == 0) {
      table.marks[run] |= alertMark(kind);
      out.add(new Instruction.OpenAlert(kind, table.specs[run].id(), text));
      changed(run, "");
    }
  }

  void closeAlert(int run, AlertKind kind, String text) {
    if ((table.marks[run] & alertMark(kind)) != 0) {
      table.marks[run] &= ~alertMark(kind);
      out.add(new Instruction.CloseAlert(kind, table.specs[run].id(), text));
      changed(run, "");
    }
  }

  void changed(int run, String note) {
    out.add(new Instruction.RunChanged(table.specs[run].id(), stateAt(run), note));
  }

  void instruct(Instruction instruction) {
    out.add(instruction);
  }

  /** Has a run looked at again before this event is done with. */
  void tryAgain(int run) {
    toTry.add(run);
  }

  void judgeAgain(int step) {
    toJudge.add(step);
  }

  /** Takes a run out of line; who stood behind it is served. */
  void leaveLine(int run) {
    leaveRoomLine(run);
    toServe.addAll(site.leave(place(run), needs(run)));
  }

  /** Has a planned run fall due at its time, which may be another than before. */
  void setDue(int run, long at) {
    leaveLine(run);
    table.due[run] = at;
    if (at > now) {
      watchFiles(run, false);
      enter(run, RunState.PLANNED, table.notes[run]);
      timers.add(at, run, Timers.Kind.DUE);
    } else if (stateAt(run) == RunState.PLANNED) {
      fallDue(run);
    } else {
      toTry.add(run);
    }
  }

  // ---- looking at it

  /** The actions that make sense for a run now. */
  public Set<Action> actions(long id) {
    Integer run = indexes.get(id);
    return run == null ? Set.of() : new PeoplesActions(this).possible(run);
  }

  /** When the board next needs to be told the time; {@link Long#MAX_VALUE} for never. */
  public long nextWake() {
    return timers.nextAt();
  }

  /** How many runs are on the board. */
  public int size() {
    return table.count;
  }

  /** The time of the last event. */
  public long now() {
    return now;
  }

  /** The hosts that have, or may have, a process of some run. */
  public Set<String> hostsAtWork() {
    Set<String> hosts = new TreeSet<>();
    for (int run = 0; run < table.count; run++) {
      if (stateAt(run).isActive() && !table.hosts[run].isEmpty()) {
        hosts.add(table.hosts[run]);
      }
    }
    return hosts;
  }

  /** The runs on the board, in the order in which they came. */
  public List<RunSpec> runs() {
    return List.of(Arrays.copyOf(table.specs, table.count));
  }

  /** The run of an id, if it is on the board. */
  public Optional<RunSpec> run(long id) {
    return Optional.ofNullable(indexes.get(id)).map(run -> table.specs[run]);
  }

  /** What the board knows of a run now; empty where it is not on the board. */
  public Optional<RunStatus> status(long id) {
    return Optional.ofNullable(indexes.get(id)).map(this::statusAt);
  }

  private RunStatus statusAt(int run) {
    int marks = table.marks[run];
    RunStatus.Stopping stopping =
        (marks & CANCELLING) != 0
            ? RunStatus.Stopping.CANCELLED
            : (marks & MARKED_SUCCEEDED) != 0
                ? RunStatus.Stopping.SUCCEEDED
                : (marks & MARKED_FAILED) != 0
                    ? RunStatus.Stopping.FAILED
                    : (marks & TOO_LONG) != 0 ? RunStatus.Stopping.TOO_LONG : RunStatus.Stopping.NO;
    List<AlertKind> open =
        Arrays.stream(AlertKind.values()).filter(kind -> (marks & alertMark(kind)) != 0).toList();
    return new RunStatus(
        stateAt(run),
        table.holds[run],
        table.since[run],
        table.attempts[run],
        table.budgets[run],
        table.hosts[run],
        table.started[run],
        table.ended[run],
        table.retryAt[run],
        table.exitCodes[run],
        table.notes[run],
        stopping,
        isNotNeeded(run),
        open,
        List.of(table.files[run]),
        table.due[run] == table.specs[run].due() ? 0 : table.due[run],
        table.priorities[run],
        (marks & START_NOW) != 0,
        table.asked[run],
        table.values[run],
        table.moves[run]);
  }

  /** The state of a run; empty where it is not on the board. */
  public Optional<RunState> state(long id) {
    return Optional.ofNullable(indexes.get(id)).map(this::stateAt);
  }

  /**
   * Why a run is not running, or what has become of it.
   *
   * @throws IllegalArgumentException where the run is not on the board
   */
  public Why why(long id) {
    return new WhyTeller(this).tell(index(id));
  }

  int index(long id) {
    Integer run = indexes.get(id);
    if (run == null) {
      throw new IllegalArgumentException("run " + id + " is not on the board");
    }
    return run;
  }

  Optional<Integer> find(long id) {
    return Optional.ofNullable(indexes.get(id));
  }

  /** By whom and why a run is held, itself or by what it belongs to; empty where it is not. */
  public String heldBy(long id) {
    return find(id).map(this::holdAt).orElse("");
  }

  /** What is held until it is released, and by whom and why. */
  public Map<HoldScope, String> holds() {
    return Map.copyOf(standing);
  }

  /**
   * How a capacity stands.
   *
   * @param set what a person has set; empty where it is as defined
   * @param holders ids of the runs that hold units
   * @param line ids of the runs that stand in line, first to last
   */
  public record CapacityState(
      int units, Optional<Integer> set, int taken, List<Long> holders, List<Long> line) {}

  /** How a capacity stands now. */
  public CapacityState capacity(String name) {
    return new CapacityState(
        site.units(name),
        site.setTo(name),
        site.taken(name),
        site.holders(name).stream().map(run -> table.specs[run].id()).toList(),
        site.line(name).stream().map(run -> table.specs[run].id()).toList());
  }

  /**
   * A value that a job handed back, as a run means it: from the job's run of the same date and
   * start, or else from the last one of the date that handed back anything.
   *
   * @param job as it is written: of the same stream, or a full path
   */
  public Optional<String> handedBack(long id, String job, String name) {
    RunReference own = table.specs[index(id)].run().reference();
    String path = Definitions.resolve(job, own.stream());
    Optional<String> last = Optional.empty();
    for (int i = 0; i < table.count; i++) {
      RunReference other = table.specs[i].run().reference();
      String value = table.values[i].get(name);
      if (value != null && other.date().equals(own.date()) && other.path().equals(path)) {
        if (other.number() == own.number()) {
          return Optional.of(value);
        }
        last = Optional.of(value);
      }
    }
    return last;
  }

  /** The runs that a run waits for or looks at, by id. */
  public List<Long> looksAt(long id) {
    List<Long> ids = new ArrayList<>();
    table.conditions[index(id)].targets(target -> ids.add(table.specs[target].id()));
    return ids;
  }

  /** The runs that wait for a run or look at it, by id. */
  public List<Long> followers(long id) {
    return Arrays.stream(table.followers[index(id)])
        .distinct()
        .mapToObj(run -> table.specs[run].id())
        .toList();
  }

  /** The runs right below a step, by id. */
  public List<Long> below(long id) {
    return Arrays.stream(table.children[index(id)]).mapToObj(run -> table.specs[run].id()).toList();
  }

  /** The step that a run is below, by id. */
  public Optional<Long> above(long id) {
    int parent = table.parents[index(id)];
    return parent < 0 ? Optional.empty() : Optional.of(table.specs[parent].id());
  }

  RunState stateAt(int run) {
    return RunState.of(table.states[run]);
  }

  RunStatus.FileState fileAt(int run, int place) {
    return table.files[run][place];
  }

  boolean isNotNeeded(int run) {
    return (table.marks[run] & NOT_NEEDED) != 0;
  }

  boolean isHeld(int run) {
    return !holdAt(run).isEmpty();
  }

  /** By whom and why it is held: itself, a step above it, or what one of them belongs to. */
  String holdAt(int run) {
    for (int one = run; one >= 0; one = table.parents[one]) {
      if (!table.holds[one].isEmpty()) {
        return one == run
            ? table.holds[one]
            : "held with its step: "
                + table.specs[one].run().reference()
                + " is "
                + table.holds[one];
      }
      for (Map.Entry<HoldScope, String> hold : standing.entrySet()) {
        if (hold.getKey().holds(table.specs[one])) {
          return "held with the " + hold.getKey() + ", which was " + hold.getValue();
        }
      }
    }
    return "";
  }

  Job job(int run) {
    return table.specs[run].run().job();
  }

  RunSpec specAt(int run) {
    return table.specs[run];
  }

  int exitCodeAt(int run) {
    return table.exitCodes[run];
  }

  long endedAt(int run) {
    return table.ended[run];
  }

  Map<String, String> valuesAt(int run) {
    return table.values[run];
  }

  Site site() {
    return site;
  }

  /** By whom and why hosts are drained, by name. */
  public Map<String, String> drainedHosts() {
    return Map.copyOf(site.hosts().drained());
  }
}
