package dev.purser.service.board;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.AlertRule;
import dev.purser.core.board.BoardView;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Kind;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.RunReference;
import dev.purser.core.prerequisite.Prerequisite;
import dev.purser.core.run.HoldScope;
import dev.purser.core.run.RunStatus;
import dev.purser.service.Settings;
import dev.purser.service.alert.AlertWriter;
import dev.purser.service.definition.DefinitionRecords;
import dev.purser.service.definition.Renames;
import dev.purser.service.history.DurationHistory;
import dev.purser.service.run.RunRecords;
import dev.purser.service.run.RunRow;
import io.micrometer.core.instrument.Counter;
import io.micrometer.core.instrument.MeterRegistry;
import jakarta.persistence.EntityManagerFactory;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicLong;
import org.hibernate.SessionFactory;
import org.hibernate.StatelessSession;
import org.hibernate.Transaction;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/** Turns the board into rows and rows into the board. */
@Component
class EngineRecords {
  private static final Logger LOG = LoggerFactory.getLogger(EngineRecords.class);

  private static final RowInsert NEW_RUN = new RowInsert(RunRow.class, "run");
  private static final long ALL = -1;
  private static final String MOMENT = "insert into moment (run, at, state, note) values (?,?,?,?)";
  private static final String ALERT_OPENED =
      "insert ignore into open_alert (run, kind) values (?,?)";
  private static final String ALERT_CLOSED = "delete from open_alert where run=? and kind=?";
  private static final String SENT =
      "insert into attempt (run, number, host, sent, note, output_total, output_kept,"
          + " output_complete) values (?,?,?,?,'',0,0,false)";
  private static final String BEGAN =
      "update attempt set started=? where run=? and number=? and started is null";

  /** What was only given up is told anew when its host is back. */
  private static final String ENDED =
      "update attempt set ended=?, exit_code=?, note=? where run=? and number=? and exit_code is null";

  private static final String FORGET_VALUES = "delete from run_value where run=?";
  private static final String VALUE =
      "insert into run_value (run, name, attempt, value) values (?,?,?,?)";

  /** Told again after a cut, it is there already. */
  private static final String PIECE =
      "insert ignore into output_piece (run, attempt, start, length, data) values (?,?,0,?,?)";

  private static final String WHOLE_OUTPUT =
      "update attempt set output_kept=?, output_total=?, output_complete=true"
          + " where run=? and number=? and output_kept=0";

  private final SessionFactory sessions;
  private final RunRecords runs;
  private final DefinitionRecords definitionRecords;
  private final Renames renames;
  private final AlertWriter alerts;
  private final DurationHistory history;
  private final Lease lease;
  private final Settings settings;
  private final Counter rowCount;
  private final Clock clock;
  private final Map<String, Integer> lastNumbers = new HashMap<>();
  private final AtomicLong lastId = new AtomicLong();
  private final Map<Long, Definitions> revisions = new ConcurrentHashMap<>();

  EngineRecords(
      EntityManagerFactory factory,
      RunRecords runs,
      DefinitionRecords definitionRecords,
      Renames renames,
      AlertWriter alerts,
      DurationHistory history,
      Lease lease,
      Settings settings,
      Clock clock,
      MeterRegistry meters) {
    this.sessions = factory.unwrap(SessionFactory.class);
    this.runs = runs;
    this.definitionRecords = definitionRecords;
    this.renames = renames;
    this.alerts = alerts;
    this.history = history;
    this.lease = lease;
    this.settings = settings;
    this.clock = clock;
    this.rowCount = meters.counter("purser.records.rows");
  }

  /**
   * What the records hold.
   *
   * @param standing what holds and what is set until further notice, as events
   * @param lastEventAt the latest time that the records speak of, epoch milliseconds
   */
  record Found(
      Definitions definitions,
      long revision,
      List<BoardEvent.Restored> runs,
      List<BoardEvent> standing,
      long lastEventAt) {}

  Found load() {
    history.load();
    renames.forget();
    lastId.set(runs.lastId() + (settings.restored() ? Lease.ABOVE_ALL_SINCE_THE_BACKUP : 0));
    long revision = definitionRecords.lastRevision();
    revisions.clear();
    lastNumbers.clear();
    Definitions current = definitionRecords.at(revision);
    revisions.put(revision, current);
    LocalDate from = LocalDate.ofInstant(clock.instant(), settings.zone()).minusDays(1);
    Map<Long, BoardEvent.Restored> restored = new LinkedHashMap<>();
    long last = 0;
    for (RunRow row : runs.forBoard(from)) {
      restore(row).ifPresent(one -> restored.put(row.id, one));
      last = Math.max(last, row.since.toEpochMilli());
    }
    List<PlannedRun> open =
        restored.values().stream()
            .filter(one -> !one.status().state().isEnded())
            .map(one -> one.spec().run())
            .toList();
    for (BoardEvent.Restored one : lookedAt(open)) {
      restored.putIfAbsent(one.spec().id(), one);
    }
    long at = Math.min(last, clock.millis());
    return new Found(current, revision, List.copyOf(restored.values()), standing(at), at);
  }

  private List<BoardEvent> standing(long at) {
    List<BoardEvent> events = new ArrayList<>();
    for (StandingHoldRow row : runs.all(StandingHoldRow.class)) {
      HoldScope.Kind.of(row.kind)
          .map(kind -> new BoardEvent.HoldPlaced(at, new HoldScope(kind, row.name), row.note))
          .ifPresent(events::add);
    }
    for (HostDrainRow row : runs.all(HostDrainRow.class)) {
      events.add(new BoardEvent.HostDrained(at, row.host, row.note));
    }
    for (CapacityChangeRow row : runs.all(CapacityChangeRow.class)) {
      events.add(new BoardEvent.CapacitySet(at, row.capacity, row.units));
    }
    return events;
  }

  private Optional<BoardEvent.Restored> restore(RunRow row) {
    Definitions then = revisions.computeIfAbsent(row.revision, definitionRecords::at);
    String name =
        then.job(row.stream + "/" + row.job).isPresent()
            ? row.stream
            : renames.then(Kind.STREAM, row.stream, row.revision);
    if (then.job(name + "/" + row.job).isPresent()) {
      return Optional.of(RunRows.restore(row, name, then));
    }
    if (row.ended == null) {
      LOG.error("{} stays open: revision {} does not define it", row.reference(), row.revision);
    }
    return Optional.empty();
  }

  /** Past runs on record at which prerequisites of the given runs look. */
  List<BoardEvent.Restored> lookedAt(List<PlannedRun> planned) {
    Map<Long, BoardEvent.Restored> found = new LinkedHashMap<>();
    Set<String> asked = new HashSet<>();
    for (PlannedRun run : planned) {
      for (Prerequisite asks : run.job().asks()) {
        for (Prerequisite.Target target : asks.targets()) {
          if (!target.isSameDate()) {
            for (String path : pathsOf(run, target)) {
              Instant since =
                  target.within().map(span -> run.due().minus(span)).orElse(Instant.EPOCH);
              LocalDate date = target.previous() ? run.previous().orElseThrow() : null;
              boolean isNew = asked.add(path + " " + date + " " + since);
              for (RunRow row : isNew ? runs.ended(path, date, since) : List.<RunRow>of()) {
                restore(row).ifPresent(one -> found.put(row.id, one));
              }
            }
          }
        }
      }
    }
    return List.copyOf(found.values());
  }

  private static List<String> pathsOf(PlannedRun run, Prerequisite.Target target) {
    PlannedRun.Whole whole = run.ties().wholeStreams().get(target.name());
    return whole != null
        ? whole.jobs()
        : List.of(Definitions.resolve(target.name(), run.reference().stream()));
  }

  /**
   * The highest number of a stream's starts on a date; the records are asked once, for then they
   * are followed.
   */
  int lastNumber(BoardView board, String stream, LocalDate date) {
    return lastNumbers.computeIfAbsent(
        stream + "@" + date,
        any ->
            board.runs().stream()
                .map(run -> run.run().reference())
                .filter(run -> run.stream().equals(stream) && run.date().equals(date))
                .mapToInt(RunReference::number)
                .reduce(runs.lastNumber(stream, date), Math::max));
  }

  /** A run has a number that no later start may have. */
  void numbered(RunReference run) {
    lastNumbers.computeIfPresent(
        run.stream() + "@" + run.date(), (any, last) -> Math.max(last, run.number()));
  }

  long nextId() {
    return lastId.incrementAndGet();
  }

  /**
   * Milliseconds after which a run takes longer than usual: as a rule of alerts says, else as its
   * job does; 0 where nothing is known.
   */
  long longAfter(PlannedRun run, Definitions definitions) {
    AlertRule rule =
        definitions.alertRules().ofJob(run.reference().path()).get(AlertKind.LONG_RUNNING).rule();
    if (rule.longerThanRuns() > 0) {
      return history.longerThan(run.reference().path(), rule.longerThanRuns());
    }
    return rule.longerThan()
        .map(Duration::toMillis)
        .or(() -> run.job().usually().map(range -> range.high().toMillis()))
        .orElseGet(() -> history.longest(run.reference().path()));
  }

  boolean isThere() {
    try {
      runs.lastId();
      return true;
    } catch (RuntimeException e) {
      return false;
    }
  }

  /**
   * Writes a turn in one transaction. Told again after its commit was cut, it is written once.
   *
   * @param number of the turn
   * @throws Lease.Lost where another service has become the active one
   */
  void write(Turn turn, long number) {
    turn.seal();
    try (StatelessSession session = sessions.openStatelessSession()) {
      session.setJdbcBatchSize(500);
      Transaction transaction = session.beginTransaction();
      try {
        if (lease.assertIn(session, number)) {
          writeAll(turn, session);
        } else {
          LOG.info("the turn was written before the connection was cut");
        }
        transaction.commit();
      } catch (RuntimeException e) {
        rollBack(transaction, e);
        throw e;
      }
    }
    turn.statuses()
        .forEach((id, status) -> history.take(turn.specs().get(id).run().reference(), status));
  }

  /**
   * The runs of a turn whose rows can never be written: each is tried by itself, and taken back.
   *
   * @param turn that could not be written
   */
  List<Long> unwritable(Turn turn) {
    List<Long> found = new ArrayList<>();
    for (long id : turn.statuses().keySet()) {
      if (!turn.gone().contains(id) && !turn.isFresh(id) && !canBeWritten(turn, id)) {
        found.add(id);
      }
    }
    return found;
  }

  private boolean canBeWritten(Turn turn, long id) {
    try (StatelessSession session = sessions.openStatelessSession()) {
      Transaction transaction = session.beginTransaction();
      try {
        Bulk bulk = new Bulk();
        RunRows.change(bulk, turn.specs().get(id), turn.statuses().get(id));
        writeMoments(turn, bulk, id);
        bulk.write(session);
        return true;
      } catch (RuntimeException e) {
        return DatabaseAway.is(e);
      } finally {
        transaction.rollback();
      }
    }
  }

  private static void rollBack(Transaction transaction, RuntimeException cause) {
    try {
      transaction.rollback();
    } catch (RuntimeException e) {
      cause.addSuppressed(e);
    }
  }

  private void writeAll(Turn turn, StatelessSession session) {
    forget(turn, session);
    turn.more().forEach(write -> write.accept(session));
    Bulk bulk = new Bulk();
    bulk.expect(FORGET_VALUES);
    writeRuns(turn, bulk);
    writeAttempts(turn, bulk);
    writeOpenAlerts(turn, bulk);
    writeMoments(turn, bulk);
    writeOutputs(turn, bulk);
    bulk.write(session);
    turn.bulk().write(session);
    rowCount.increment(bulk.size());
    alerts.write(
        new AlertWriter.Happened(
            turn.instructions(),
            turn::alertText,
            turn::alertCause,
            turn.specs(),
            turn.statuses(),
            turn.definitions(),
            history::usual,
            turn.now()),
        session);
  }

  /** Runs that were taken off the plan. */
  private static void forget(Turn turn, StatelessSession session) {
    for (long id : turn.gone()) {
      session
          .createMutationQuery("delete from RunRow r where r.id = :id")
          .setParameter("id", id)
          .executeUpdate();
      session
          .createMutationQuery("delete from MomentRow m where m.run = :id")
          .setParameter("id", id)
          .executeUpdate();
    }
  }

  private static void writeRuns(Turn turn, Bulk bulk) {
    turn.specs()
        .forEach(
            (id, spec) -> {
              RunStatus status = turn.statuses().get(id);
              if (turn.gone().contains(id)) {
                return;
              }
              if (turn.isFresh(id)) {
                NEW_RUN.add(bulk, RunRows.row(spec, status, turn));
              } else {
                RunRows.change(bulk, spec, status);
                if (turn.isRedefined(id)) {
                  RunRows.redefined(bulk, spec, status, turn);
                }
              }
            });
  }

  private static void writeMoments(Turn turn, Bulk bulk) {
    writeMoments(turn, bulk, ALL);
  }

  /** Those of one run, or of all. */
  private static void writeMoments(Turn turn, Bulk bulk, long run) {
    for (Turn.Moment moment : turn.moments()) {
      boolean wanted = run == ALL || run == moment.run();
      if (wanted && !turn.gone().contains(moment.run())) {
        bulk.add(
            MOMENT,
            moment.run(),
            Instant.ofEpochMilli(moment.at()),
            moment.state().word(),
            RunRows.cut(moment.note()));
      }
    }
  }

  private static void writeOutputs(Turn turn, Bulk bulk) {
    for (Turn.Output output : turn.outputs()) {
      long length = output.length();
      if (length > 0) {
        bulk.add(PIECE, output.run(), output.attempt(), length, output.deflated());
      }
      bulk.add(WHOLE_OUTPUT, length, length, output.run(), output.attempt());
    }
  }

  /** Of what the board instructs, what is written besides the runs themselves. */
  private static final class Written extends Instruction.Some {
    private final Turn turn;
    private final Bulk bulk;

    Written(Turn turn, Bulk bulk) {
      this.turn = turn;
      this.bulk = bulk;
    }

    @Override
    public Void visit(Instruction.StartAttempt start) {
      Instant sent = Instant.ofEpochMilli(turn.now());
      bulk.add(SENT, start.run(), start.attempt(), start.where().word(), sent);
      return null;
    }

    @Override
    public Void visit(Instruction.GiveUpAttempt lost) {
      Instant at = Instant.ofEpochMilli(turn.now());
      bulk.add(ENDED, at, null, RunRows.cut(lost.note()), lost.run(), lost.attempt());
      return null;
    }
  }

  /** Which alerts are open, a row each: of several changes in a turn the last one counts. */
  private static void writeOpenAlerts(Turn turn, Bulk bulk) {
    turn.alertChanges()
        .forEach(
            (alert, open) -> {
              if (!turn.gone().contains(alert.run())) {
                bulk.add(open ? ALERT_OPENED : ALERT_CLOSED, alert.run(), alert.kind().word());
              }
            });
  }

  private static void writeAttempts(Turn turn, Bulk bulk) {
    Written written = new Written(turn, bulk);
    turn.instructions().forEach(instruction -> instruction.accept(written));
    for (BoardEvent event : turn.attemptEvents()) {
      if (event instanceof BoardEvent.AttemptBegan began) {
        Instant at = Instant.ofEpochMilli(began.happened());
        bulk.add(BEGAN, at, began.run(), began.attempt());
      } else if (event instanceof BoardEvent.AttemptTold told && !told.values().isEmpty()) {
        writeValues(told.run(), told.attempt(), told.values(), bulk);
      } else if (event instanceof BoardEvent.AttemptEnded over) {
        bulk.add(
            ENDED,
            Instant.ofEpochMilli(over.happened()),
            over.ending().code() < 0 ? null : over.ending().code(),
            RunRows.cut(over.ending().inWords()),
            over.run(),
            over.attempt());
        if (!over.values().isEmpty() || over.attempt() > 1) {
          writeValues(over.run(), over.attempt(), over.values(), bulk);
        }
      }
    }
  }

  /** In the place of what was known before. */
  private static void writeValues(long run, int attempt, Map<String, String> values, Bulk bulk) {
    bulk.add(FORGET_VALUES, run);
    values.forEach((name, value) -> bulk.add(VALUE, run, name, attempt, value));
  }
}
