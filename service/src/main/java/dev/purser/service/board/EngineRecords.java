package dev.purser.service.board;

import dev.purser.core.board.AlertKind;
import dev.purser.core.board.BoardEvent;
import dev.purser.core.board.HoldScope;
import dev.purser.core.board.Instruction;
import dev.purser.core.board.RunSpec;
import dev.purser.core.board.RunState;
import dev.purser.core.board.RunStatus;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Job;
import dev.purser.core.definition.Stream;
import dev.purser.core.parameter.Parameters;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.plan.RunReference;
import dev.purser.core.prerequisite.Prerequisite;
import dev.purser.core.schedule.IfMissed;
import dev.purser.core.schedule.StartTimes;
import dev.purser.core.schedule.Window;
import dev.purser.service.Settings;
import dev.purser.service.alert.AlertWriter;
import dev.purser.service.definition.DefinitionRecords;
import dev.purser.service.outlook.DurationHistory;
import dev.purser.service.run.AttemptRow;
import dev.purser.service.run.MomentRow;
import dev.purser.service.run.RunRecords;
import dev.purser.service.run.RunRow;
import dev.purser.service.run.RunValueRow;
import jakarta.persistence.EntityManagerFactory;
import java.sql.SQLException;
import java.sql.SQLNonTransientConnectionException;
import java.sql.SQLRecoverableException;
import java.sql.SQLTransientException;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicLong;
import java.util.stream.Collectors;
import org.hibernate.SessionFactory;
import org.hibernate.StatelessSession;
import org.hibernate.Transaction;
import org.hibernate.exception.JDBCConnectionException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Turns the board into rows and rows into the board. */
@Component
class EngineRecords {
  private static final Logger LOG = LoggerFactory.getLogger(EngineRecords.class);
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final TypeReference<List<RunStatus.FileState>> FILES = new TypeReference<>() {};
  private static final TypeReference<Map<String, String>> TEXTS = new TypeReference<>() {};
  private static final int NOTE = 2_000;

  private final SessionFactory sessions;
  private final RunRecords runs;
  private final DefinitionRecords definitionRecords;
  private final AlertWriter alerts;
  private final DurationHistory history;
  private final Settings settings;
  private final Clock clock;
  private final AtomicLong lastId = new AtomicLong();
  private final Map<Long, Definitions> revisions = new ConcurrentHashMap<>();

  EngineRecords(
      EntityManagerFactory factory,
      RunRecords runs,
      DefinitionRecords definitionRecords,
      AlertWriter alerts,
      DurationHistory history,
      Settings settings,
      Clock clock) {
    this.sessions = factory.unwrap(SessionFactory.class);
    this.runs = runs;
    this.definitionRecords = definitionRecords;
    this.alerts = alerts;
    this.history = history;
    this.settings = settings;
    this.clock = clock;
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
    lastId.set(runs.lastId());
    long revision = definitionRecords.lastRevision();
    revisions.clear();
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
    for (CapacityChangeRow row : runs.all(CapacityChangeRow.class)) {
      events.add(new BoardEvent.CapacitySet(at, row.capacity, row.units));
    }
    return events;
  }

  private Optional<BoardEvent.Restored> restore(RunRow row) {
    Definitions then = revisions.computeIfAbsent(row.revision, definitionRecords::at);
    if (then.job(row.stream + "/" + row.job).isPresent()) {
      return Optional.of(restore(row, then));
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
    PlannedRun.Whole whole = run.ties().wholeStreams().get(target.job());
    return whole != null
        ? whole.jobs()
        : List.of(Definitions.resolve(target.job(), run.reference().stream()));
  }

  private static BoardEvent.Restored restore(RunRow row, Definitions then) {
    PlannedRun run =
        new Planner(then)
            .again(
                new RunReference(row.stream, row.job, row.businessDate, row.number),
                new Planner.Kept(
                    row.due,
                    start(row),
                    Optional.ofNullable(row.startBy),
                    Optional.ofNullable(row.finishBy),
                    ZoneId.of(row.zone),
                    row.waived,
                    row.leftOut,
                    Optional.ofNullable(row.parameters).map(EngineRecords::parameters),
                    row.assumed == null || row.assumed.isEmpty()
                        ? Set.of()
                        : Set.of(row.assumed.split(","))));
    RunStatus status =
        new RunStatus(
            RunState.of(row.state).orElseThrow(),
            row.hold,
            row.since.toEpochMilli(),
            row.attempts,
            row.budget,
            row.host,
            millis(row.started),
            millis(row.ended),
            millis(row.retryAt),
            row.exitCode == null ? -1 : row.exitCode,
            row.note,
            RunStatus.Stopping.valueOf(row.stopping),
            row.notNeeded,
            Arrays.stream(row.openAlerts.split(","))
                .flatMap(word -> AlertKind.of(word).stream())
                .toList(),
            JSON.readValue(row.files, FILES),
            millis(row.movedDue),
            row.priority,
            row.startNow,
            millis(row.asked),
            row.handedBack == null ? Map.of() : JSON.readValue(row.handedBack, TEXTS));
    return new BoardEvent.Restored(new RunSpec(row.id, run, row.longAfter), status);
  }

  /** Each value with its level; a value without one comes from the schedule. */
  private static Parameters parameters(String text) {
    Parameters all = Parameters.NONE;
    JsonNode tree = JSON.readTree(text);
    for (Map.Entry<String, JsonNode> one : tree.properties()) {
      boolean plain = one.getValue().isString();
      Parameters.Origin origin =
          plain
              ? Parameters.Origin.SCHEDULE
              : Parameters.Origin.of(one.getValue().get(1).asString()).orElseThrow();
      String value = plain ? one.getValue().asString() : one.getValue().get(0).asString();
      all = all.with(origin, Map.of(one.getKey(), value));
    }
    return all;
  }

  private static String text(Parameters parameters) {
    Map<String, List<String>> all = new TreeMap<>();
    parameters
        .all()
        .forEach((name, one) -> all.put(name, List.of(one.value(), one.origin().word())));
    return JSON.writeValueAsString(all);
  }

  private static PlannedRun.Start start(RunRow row) {
    List<Optional<Window.Place>> order =
        Arrays.stream(row.windowAfter.split(" ", -1)).map(Window.Place::parse).toList();
    Optional<Window> window =
        Optional.ofNullable(row.windowStart)
            .map(
                start ->
                    new Window(
                        start,
                        row.windowEnd,
                        order.get(0),
                        order.size() > 1 ? order.get(1) : Optional.empty()));
    return new PlannedRun.Start(
        row.shift.isEmpty()
            ? StartTimes.Shift.NONE
            : StartTimes.Shift.valueOf(row.shift.toUpperCase(Locale.ROOT)),
        IfMissed.of(row.ifMissed).orElse(IfMissed.RUN),
        Optional.ofNullable(row.startLimit),
        window);
  }

  private static String order(Window window) {
    return window.after().map(Window.Place::toString).orElse("")
        + window.previous().map(place -> " " + place).orElse("");
  }

  private static long millis(Instant instant) {
    return instant == null ? 0 : instant.toEpochMilli();
  }

  private static Instant instant(long millis) {
    return millis == 0 ? null : Instant.ofEpochMilli(millis);
  }

  long nextId() {
    return lastId.incrementAndGet();
  }

  /** Milliseconds after which a run takes longer than usual; 0 where nothing is known. */
  long longAfter(PlannedRun run) {
    return run.job()
        .usually()
        .map(range -> range.high().toMillis())
        .orElseGet(() -> history.longest(run.reference().path()));
  }

  /** Whether a failure means that the database cannot be reached just now. */
  static boolean isAway(Throwable failure) {
    for (Throwable cause = failure; cause != null; cause = cause.getCause()) {
      boolean connection =
          cause instanceof JDBCConnectionException
              || cause instanceof SQLTransientException
              || cause instanceof SQLRecoverableException
              || cause instanceof SQLNonTransientConnectionException;
      boolean shutdown =
          cause instanceof SQLException sql
              && sql.getSQLState() != null
              && (sql.getSQLState().startsWith("08") || sql.getErrorCode() == 1053);
      if (connection || shutdown) {
        return true;
      }
    }
    return false;
  }

  boolean isThere() {
    try {
      runs.lastId();
      return true;
    } catch (RuntimeException e) {
      return false;
    }
  }

  /** Writes a turn in one transaction. */
  void write(Turn turn) {
    turn.seal();
    try (StatelessSession session = sessions.openStatelessSession()) {
      session.setJdbcBatchSize(500);
      Transaction transaction = session.beginTransaction();
      try {
        writeAll(turn, session);
        transaction.commit();
      } catch (RuntimeException e) {
        rollBack(transaction, e);
        throw e;
      }
    }
    turn.statuses()
        .forEach((id, status) -> history.take(turn.specs().get(id).run().reference(), status));
  }

  private static void rollBack(Transaction transaction, RuntimeException cause) {
    try {
      transaction.rollback();
    } catch (RuntimeException e) {
      cause.addSuppressed(e);
    }
  }

  private void writeAll(Turn turn, StatelessSession session) {
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
    turn.more().forEach(write -> write.accept(session));
    List<RunRow> fresh = new ArrayList<>();
    List<RunRow> changed = new ArrayList<>();
    turn.specs()
        .forEach(
            (id, spec) -> {
              if (!turn.gone().contains(id)) {
                RunRow row = row(spec, turn.statuses().get(id), turn);
                (turn.isFresh(id) ? fresh : changed).add(row);
              }
            });
    if (!fresh.isEmpty()) {
      session.insertMultiple(fresh);
    }
    for (RunRow row : changed) {
      update(row, session);
    }
    writeAttempts(turn, session);
    for (Turn.Moment moment : turn.moments()) {
      if (!turn.gone().contains(moment.run())) {
        session.insert(momentRow(moment));
      }
    }
    alerts.write(turn.instructions(), turn.specs(), turn.definitions(), turn.now(), session);
  }

  private static MomentRow momentRow(Turn.Moment moment) {
    MomentRow row = new MomentRow();
    row.run = moment.run();
    row.at = Instant.ofEpochMilli(moment.at());
    row.state = moment.state().word();
    row.note = cut(moment.note());
    return row;
  }

  /** Only what the board changes: what was planned stays as it is written. */
  private static void update(RunRow row, StatelessSession session) {
    session
        .createMutationQuery(
            "update RunRow r set r.state = :state, r.hold = :hold, r.since = :since,"
                + " r.attempts = :attempts, r.budget = :budget, r.host = :host,"
                + " r.started = :started, r.ended = :ended, r.retryAt = :retryAt,"
                + " r.exitCode = :exitCode, r.note = :note, r.stopping = :stopping,"
                + " r.notNeeded = :notNeeded, r.openAlerts = :openAlerts, r.files = :files,"
                + " r.movedDue = :movedDue, r.priority = :priority, r.startNow = :startNow,"
                + " r.asked = :asked, r.handedBack = :handedBack"
                + " where r.id = :id")
        .setParameter("state", row.state)
        .setParameter("hold", row.hold)
        .setParameter("since", row.since)
        .setParameter("attempts", row.attempts)
        .setParameter("budget", row.budget)
        .setParameter("host", row.host)
        .setParameter("started", row.started)
        .setParameter("ended", row.ended)
        .setParameter("retryAt", row.retryAt)
        .setParameter("exitCode", row.exitCode)
        .setParameter("note", row.note)
        .setParameter("stopping", row.stopping)
        .setParameter("notNeeded", row.notNeeded)
        .setParameter("openAlerts", row.openAlerts)
        .setParameter("files", row.files)
        .setParameter("movedDue", row.movedDue)
        .setParameter("priority", row.priority)
        .setParameter("startNow", row.startNow)
        .setParameter("asked", row.asked)
        .setParameter("handedBack", row.handedBack)
        .setParameter("id", row.id)
        .executeUpdate();
  }

  private static RunRow row(RunSpec spec, RunStatus status, Turn turn) {
    PlannedRun run = spec.run();
    RunReference reference = run.reference();
    Optional<Stream> stream = turn.definitions().streamAt(reference.stream());
    RunRow row = new RunRow();
    row.id = spec.id();
    row.stream = reference.stream();
    row.job = reference.job();
    row.streamTitle = stream.map(Stream::title).orElse(reference.stream());
    row.title = run.job().title();
    row.department = stream.map(Stream::department).orElse("");
    row.kind = run.job().work().kind();
    row.businessDate = reference.date();
    row.number = reference.number();
    row.revision = turn.revision();
    row.due = run.due();
    row.shift =
        run.shift() == StartTimes.Shift.NONE ? "" : run.shift().name().toLowerCase(Locale.ROOT);
    row.startBy = run.startBy().orElse(null);
    row.finishBy = run.finishBy().orElse(null);
    row.zone = run.zone().getId();
    row.waived = run.waived();
    row.longAfter = spec.longAfter();
    row.state = status.state().word();
    row.hold = cut(status.hold());
    row.since = Instant.ofEpochMilli(status.since());
    row.attempts = status.attempts();
    row.budget = status.budget();
    row.host = status.host();
    row.started = instant(status.started());
    row.ended = instant(status.ended());
    row.retryAt = instant(status.retryAt());
    row.exitCode = status.exitCode() < 0 ? null : status.exitCode();
    row.note = cut(status.note());
    row.stopping = status.stopping().name();
    row.notNeeded = status.notNeeded();
    row.openAlerts =
        status.openAlerts().stream().map(AlertKind::word).collect(Collectors.joining(","));
    row.files = JSON.writeValueAsString(status.files());
    boolean usual =
        stream
            .flatMap(found -> found.job(reference.job()).map(job -> usual(turn, found, job)))
            .filter(run.parameters()::equals)
            .isPresent();
    row.parameters = usual ? null : text(run.parameters());
    row.assumed = String.join(",", new TreeSet<>(run.assumed()));
    row.movedDue = instant(status.due());
    row.priority = status.priority() == run.job().priority() ? -1 : status.priority();
    row.startNow = status.startNow();
    row.asked = instant(status.asked());
    row.handedBack = status.values().isEmpty() ? null : JSON.writeValueAsString(status.values());
    row.tags = tags(stream, run.job());
    row.leftOut =
        run.leftOut().length() > 1_000 ? run.leftOut().substring(0, 1_000) : run.leftOut();
    row.ifMissed = run.start().ifMissed().word();
    row.startLimit = run.start().limit().orElse(null);
    row.windowStart = run.start().window().map(Window::start).orElse(null);
    row.windowEnd = run.start().window().map(Window::end).orElse(null);
    row.windowAfter = run.start().window().map(EngineRecords::order).orElse("");
    return row;
  }

  private static Parameters usual(Turn turn, Stream stream, Job job) {
    return new Planner(turn.definitions()).usualValues(stream, job);
  }

  private static String tags(Optional<Stream> stream, Job job) {
    Set<String> tags = new TreeSet<>(job.tags());
    stream.ifPresent(found -> tags.addAll(found.tags()));
    String all = tags.isEmpty() ? "" : "," + String.join(",", tags) + ",";
    return all.length() <= 500 ? all : all.substring(0, all.lastIndexOf(',', 499) + 1);
  }

  private static String cut(String text) {
    return text.length() <= NOTE ? text : text.substring(0, NOTE - 1) + "…";
  }

  private static void writeAttempts(Turn turn, StatelessSession session) {
    for (Instruction instruction : turn.instructions()) {
      if (instruction instanceof Instruction.StartAttempt start) {
        AttemptRow row = new AttemptRow();
        row.run = start.run();
        row.number = start.attempt();
        row.host = start.host();
        row.sent = Instant.ofEpochMilli(turn.now());
        row.note = "";
        session.insert(row);
      }
    }
    for (BoardEvent event : turn.attemptEvents()) {
      if (event instanceof BoardEvent.AttemptBegan began) {
        session
            .createMutationQuery(
                "update AttemptRow a set a.started = :at where a.run = :run and a.number = :number"
                    + " and a.started is null")
            .setParameter("at", Instant.ofEpochMilli(began.happened()))
            .setParameter("run", began.run())
            .setParameter("number", began.attempt())
            .executeUpdate();
      } else if (event instanceof BoardEvent.AttemptEnded over) {
        session
            .createMutationQuery(
                "update AttemptRow a set a.ended = :at, a.exitCode = :code, a.note = :note"
                    + " where a.run = :run and a.number = :number and a.ended is null")
            .setParameter("at", Instant.ofEpochMilli(over.happened()))
            .setParameter("code", over.ending().code() < 0 ? null : over.ending().code())
            .setParameter("note", cut(over.ending().inWords()))
            .setParameter("run", over.run())
            .setParameter("number", over.attempt())
            .executeUpdate();
        writeValues(over, session);
      }
    }
  }

  private static void writeValues(BoardEvent.AttemptEnded over, StatelessSession session) {
    if (over.values().isEmpty() && over.attempt() == 1) {
      return;
    }
    session
        .createMutationQuery("delete from RunValueRow v where v.run = :run")
        .setParameter("run", over.run())
        .executeUpdate();
    over.values()
        .forEach(
            (name, value) -> {
              RunValueRow row = new RunValueRow();
              row.run = over.run();
              row.name = name;
              row.attempt = over.attempt();
              row.value = value;
              session.insert(row);
            });
  }
}
