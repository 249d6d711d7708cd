package dev.purser.service.sql;

import dev.purser.core.definition.Definitions;
import dev.purser.core.fill.Unfillable;
import dev.purser.core.job.Where;
import dev.purser.core.job.Work;
import dev.purser.core.run.Ending;
import dev.purser.core.schedule.Durations;
import dev.purser.core.sql.Dialect;
import dev.purser.core.sql.Sql;
import dev.purser.core.sql.SqlText;
import dev.purser.core.sql.Statement;
import dev.purser.remote.http.Site;
import dev.purser.remote.sql.Database;
import dev.purser.remote.sql.Statements;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.call.Sites;
import dev.purser.service.result.Results;
import dev.purser.service.work.Attempt;
import dev.purser.service.work.BegunAttempts;
import dev.purser.service.work.Fillings;
import dev.purser.service.work.Reports;
import dev.purser.service.work.Worker;
import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/** Carries out statements in databases, each attempt on a thread of its own while it runs. */
@Component
public class SqlWorker implements Worker {
  private static final Logger LOG = LoggerFactory.getLogger(SqlWorker.class);
  private static final int AT_ONCE = 24;
  private static final long AGAIN_MILLIS = 2_000;
  private static final int MOST_BROKEN = 5;

  private final BegunAttempts records;
  private final Results results;
  private final Fillings fillings;
  private final Reports reports;
  private final Engine engine;
  private final Sites sites;
  private final Database database;
  private final AuditTrail audit;
  private final Clock clock;
  private final Map<Key, Going> going = new ConcurrentHashMap<>();
  private final ScheduledExecutorService threads;

  SqlWorker(
      BegunAttempts records,
      Results results,
      Fillings fillings,
      Reports reports,
      Engine engine,
      Sites sites,
      AuditTrail audit,
      Clock clock) {
    this.records = records;
    this.results = results;
    this.fillings = fillings;
    this.reports = reports;
    this.engine = engine;
    this.sites = sites;
    this.database = new Database(sites.gate());
    this.audit = audit;
    this.clock = clock;
    this.threads =
        Executors.newScheduledThreadPool(
            AT_ONCE,
            work -> {
              Thread thread = new Thread(work, "statements");
              thread.setDaemon(true);
              return thread;
            });
  }

  /** Whose attempt it is. */
  private record Key(long run, int attempt) {}

  /** An attempt that is going on here. */
  private static final class Going {
    private Statements statements;
    private Connection connection;
    private Instant awaySince;

    /** How it ended in the database, once that is known here, whether or not it is on record. */
    private volatile BegunAttempts.Ended ended;

    /** Whether what was begun here is known not to have been committed. */
    private boolean undone;

    private int broken;

    private boolean stopped;
    private boolean letGo;
    private boolean busy;
    private boolean dead;

    /** Whether it was let go; then it is not taken up here as it is any more. */
    synchronized boolean isGone() {
      busy = busy && !letGo;
      return letGo;
    }

    synchronized boolean isStopped() {
      return stopped;
    }

    /** Takes on what runs now; it may have been asked to stop before. */
    synchronized void take(Connection over, Statements running) {
      connection = over;
      statements = running;
      if (stopped) {
        running.stopBefore();
      }
    }

    synchronized void stop() throws SQLException {
      stopped = true;
      if (statements != null) {
        statements.stop();
      }
    }

    /** Cuts the connection: the database rolls back what it has not committed. */
    synchronized void cut() {
      if (connection != null) {
        try {
          connection.abort(Runnable::run);
        } catch (SQLException e) {
          LOG.debug("a connection could not be cut", e);
        }
      }
    }

    /** Whether something is done for it; false where it was let go. */
    synchronized boolean begins() {
      busy = !letGo;
      return busy;
    }

    synchronized void ends() {
      busy = false;
    }

    /** Whether it is still at it, since before it was let go: then it goes on. */
    synchronized boolean isAdopted() {
      letGo = letGo && !busy;
      return busy;
    }

    /** As where the process ends. */
    synchronized void die() {
      letGo = true;
      dead = true;
      cut();
    }

    synchronized boolean isDead() {
      return dead;
    }

    /** What runs in the database runs on: it may be taken up here, and its end is on record. */
    synchronized boolean letGo() {
      letGo = true;
      return !busy;
    }
  }

  @PreDestroy
  void close() {
    cutOff();
    threads.shutdownNow();
  }

  @Override
  public boolean takes(Work work, Where where) {
    return work instanceof Sql && where instanceof Where.InService;
  }

  @Override
  public void start(Attempt attempt) {
    Going before = going.get(key(attempt));
    if (before != null && before.isAdopted()) {
      return;
    }
    Going one = new Going();
    going.put(key(attempt), one);
    threads.execute(() -> orAgain(attempt, one));
  }

  @Override
  public void takeUp(Attempt attempt) {
    start(attempt);
  }

  private static Key key(Attempt attempt) {
    return new Key(attempt.id(), attempt.number());
  }

  /** What fails for want of our own database is tried again. */
  private void orAgain(Attempt attempt, Going one) {
    if (threads.isShutdown() || !one.begins()) {
      return;
    }
    try {
      carryOut(attempt, one);
    } catch (RuntimeException e) {
      LOG.warn("statements cannot go on now, and are tried again: {}", e.getMessage());
      again(attempt, one);
    } finally {
      one.ends();
    }
  }

  private void again(Attempt attempt, Going one) {
    if (!threads.isShutdown()) {
      threads.schedule(() -> orAgain(attempt, one), AGAIN_MILLIS, TimeUnit.MILLISECONDS);
    }
  }

  private void carryOut(Attempt attempt, Going one) {
    if (one.ended != null) {
      put(attempt, one, one.ended);
      return;
    }
    Sql sql = (Sql) attempt.run().run().job().work();
    BegunAttempts.Known known = records.of(attempt.id(), attempt.number());
    if (known.ended().isPresent()) {
      tell(attempt, known.ended().get());
      return;
    }
    Definitions all = engine.definitions();
    Dialect dialect = Dialect.of(all.connection(sql.database()).map(c -> c.address()).orElse(""));
    List<Statement> statements;
    Map<String, String> values;
    try {
      statements = SqlText.read(sql.text(), dialect);
      values = filled(attempt, statements);
    } catch (SqlText.Mistake | Unfillable e) {
      over(attempt, one, new Ending(Ending.Kind.NO_VALUE, -1, e.getMessage()), Map.of());
      return;
    }
    boolean mayAgain = !sql.recordsIn().isEmpty() || Sql.onlyReads(statements);
    if (known.begun() && !mayAgain && !one.undone) {
      over(attempt, one, new Ending(Ending.Kind.LOST, -1, SqlWords.lost(sql.database())), Map.of());
      return;
    }
    if (one.isStopped()) {
      over(attempt, one, new Ending(Ending.Kind.EXITED, 143, SqlWords.stoppedBefore()), Map.of());
      return;
    }
    connect(attempt, one, sql, statements, values);
  }

  private Map<String, String> filled(Attempt attempt, List<Statement> statements) {
    return fillings.of(
        attempt,
        filling -> {
          Map<String, String> values = new HashMap<>();
          for (Statement one : statements) {
            one.values().forEach(inner -> values.put(inner, filling.text("${" + inner + "}")));
          }
          return values;
        });
  }

  private void connect(
      Attempt attempt, Going one, Sql sql, List<Statement> statements, Map<String, String> values) {
    Connection connection;
    try {
      Site site = sites.of(engine.definitions(), sql.database());
      connection = database.open(site);
    } catch (SQLException e) {
      String why = sql.database() + ": " + e.getMessage();
      if (Database.isAway(e)) {
        away(attempt, one, sql, String.valueOf(e.getMessage()));
      } else {
        over(attempt, one, new Ending(Ending.Kind.NOT_STARTED, -1, why), Map.of());
      }
      return;
    } catch (IOException e) {
      over(attempt, one, new Ending(Ending.Kind.NOT_STARTED, -1, e.getMessage()), Map.of());
      return;
    }
    try {
      one.awaySince = null;
      audit.write(
          new AuditTrail.Actor("purser", "the service itself"),
          "use secret",
          attempt.run().run().reference().toString(),
          "connection " + sql.database());
      run(attempt, one, sql, statements, values, connection);
    } finally {
      close(connection);
    }
  }

  /** What is to be committed is; a connection that cannot even be closed is gone anyway. */
  private static void close(Connection connection) {
    try {
      connection.close();
    } catch (SQLException e) {
      LOG.debug("a connection could not be closed", e);
    }
  }

  /** A database that is away is waited for as long as its connection says. */
  private void away(Attempt attempt, Going one, Sql sql, String why) {
    if (one.isDead()) {
      return;
    }
    Instant now = clock.instant();
    Duration bears =
        engine.definitions().connection(sql.database()).map(c -> c.bearsOutage()).orElseThrow();
    if (one.awaySince == null) {
      one.awaySince = now;
      String text = sql.database() + " is away: " + why;
      reports.output(attempt, text + "; borne for " + Durations.print(bears) + "\n");
      reports.told(attempt, text, false);
    }
    if (now.isBefore(one.awaySince.plus(bears))) {
      again(attempt, one);
    } else {
      String text = sql.database() + " was away for " + Durations.print(bears) + ": " + why;
      over(attempt, one, new Ending(Ending.Kind.NOT_STARTED, -1, text), Map.of());
    }
  }

  private void run(
      Attempt attempt,
      Going one,
      Sql sql,
      List<Statement> statements,
      Map<String, String> values,
      Connection connection) {
    OutputSink sink = new OutputSink(attempt, reports, results);
    Statements running = new Statements(connection, sql, statements, values, sink);
    results.forget(attempt.id(), attempt.number());
    records.begin(attempt.id(), attempt.number());
    reports.began(attempt);
    one.take(connection, running);
    Statements.End end = running.run(attempt.run().run().reference() + " " + attempt.number());
    if (end.outcome() == Statements.Outcome.NOT_KEPT) { // our own database is away
      one.undone = true;
      LOG.warn("statements are done again: {}", end.why());
      again(attempt, one);
      return;
    }
    boolean asksRecord = end.outcome() == Statements.Outcome.UNKNOWN && !sql.recordsIn().isEmpty();
    boolean broken = end.outcome() == Statements.Outcome.BROKEN && one.broken++ < MOST_BROKEN;
    if (asksRecord || broken) {
      one.undone = broken;
      away(attempt, one, sql, end.why());
      return;
    }
    one.ended = new BegunAttempts.Ended(ending(end, sql), end.values());
    put(attempt, one, one.ended);
  }

  private static Ending ending(Statements.End end, Sql sql) {
    return switch (end.outcome()) {
      case DONE -> Ending.exited(0);
      case DONE_BEFORE -> new Ending(Ending.Kind.EXITED, 0, SqlWords.doneBefore(sql.recordsIn()));
      case FAILED, BROKEN, NOT_KEPT -> new Ending(Ending.Kind.EXITED, Sql.FAILED, end.why());
      case STOPPED -> new Ending(Ending.Kind.EXITED, 143, end.why());
      case UNKNOWN -> new Ending(Ending.Kind.LOST, -1, end.why());
    };
  }

  private void over(Attempt attempt, Going one, Ending ending, Map<String, String> values) {
    put(attempt, one, new BegunAttempts.Ended(ending, values));
  }

  private void put(Attempt attempt, Going one, BegunAttempts.Ended ended) {
    if (one.isDead()) {
      return;
    }
    Ending ending = ended.ending();
    records.end(attempt.id(), attempt.number(), ended);
    if (one.isGone()) {
      going.remove(key(attempt), one); // whoever takes it up finds it on record
      return;
    }
    if (ending.code() != 0 && !ending.note().isEmpty()) {
      reports.output(attempt, ending.note() + "\n");
    }
    tell(attempt, ended);
  }

  /** Until it is on record. */
  private void tell(Attempt attempt, BegunAttempts.Ended ended) {
    reports
        .ended(attempt, ended.ending(), ended.values())
        .whenComplete(
            (done, failure) -> {
              if (failure == null) {
                going.remove(key(attempt));
              } else if (!threads.isShutdown()) {
                threads.schedule(
                    () -> tellAgain(attempt, ended), AGAIN_MILLIS, TimeUnit.MILLISECONDS);
              }
            });
  }

  private void tellAgain(Attempt attempt, BegunAttempts.Ended ended) {
    try {
      tell(attempt, ended);
    } catch (RuntimeException e) {
      threads.schedule(() -> tellAgain(attempt, ended), AGAIN_MILLIS, TimeUnit.MILLISECONDS);
    }
  }

  @Override
  public void stop(Attempt attempt, Duration grace) {
    Going one = going.get(key(attempt));
    if (one == null) {
      return;
    }
    threads.execute(
        () -> {
          try {
            one.stop();
          } catch (SQLException e) {
            LOG.warn("statements cannot be stopped: {}", e.getMessage());
          }
        });
    threads.schedule(one::cut, grace.toMillis(), TimeUnit.MILLISECONDS);
  }

  @Override
  public void letGo() {
    going.values().removeIf(Going::letGo);
  }

  /** As where the process ends: connections break, and nothing more is known here. */
  void cutOff() {
    going.values().forEach(Going::die);
    going.clear();
  }
}
