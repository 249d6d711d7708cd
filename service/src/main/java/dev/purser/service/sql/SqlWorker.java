package dev.purser.service.sql;

import dev.purser.core.definition.Connection;
import dev.purser.core.definition.Definitions;
import dev.purser.core.fill.Unfillable;
import dev.purser.core.job.OnlyIf;
import dev.purser.core.job.Where;
import dev.purser.core.job.Work;
import dev.purser.core.run.Ending;
import dev.purser.core.sql.Dialect;
import dev.purser.core.sql.Sql;
import dev.purser.core.sql.SqlText;
import dev.purser.core.sql.Statement;
import dev.purser.remote.http.Road;
import dev.purser.remote.sql.Database;
import dev.purser.remote.sql.Statements;
import dev.purser.service.board.Engine;
import dev.purser.service.call.Sites;
import dev.purser.service.result.Results;
import dev.purser.service.work.Attempt;
import dev.purser.service.work.BegunAttempts;
import dev.purser.service.work.BlockingWorker;
import dev.purser.service.work.Fillings;
import dev.purser.service.work.Reports;
import java.io.IOException;
import java.sql.SQLException;
import java.time.Clock;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/**
 * Carries out statements in databases, each attempt on a thread of its own while it runs. What the
 * service lets go runs on in the database, and its end is put on record for whoever takes it up.
 */
@Component
public class SqlWorker extends BlockingWorker {
  private static final Logger LOG = LoggerFactory.getLogger(SqlWorker.class);
  private static final int AT_ONCE = 24;
  private static final int MOST_BROKEN = 5;

  private final BegunAttempts records;
  private final Results results;
  private final Fillings fillings;
  private final Reports reports;
  private final Engine engine;
  private final Sites sites;
  private final Database database;

  SqlWorker(
      BegunAttempts records,
      Results results,
      Fillings fillings,
      Reports reports,
      Engine engine,
      Sites sites,
      Clock clock) {
    super("statements", AT_ONCE, records, reports, clock);
    this.records = records;
    this.results = results;
    this.fillings = fillings;
    this.reports = reports;
    this.engine = engine;
    this.sites = sites;
    this.database = new Database(sites.gate(), sites.drivers());
  }

  /** Statements that are going on here. */
  private static final class Asking extends Going {
    private Statements statements;
    private java.sql.Connection connection;

    /** Whether what was begun here is known not to have been committed. */
    private boolean undone;

    private int broken;

    Asking(Attempt attempt) {
      super(attempt);
    }

    /** Takes on what runs now; it may have been asked to stop before. */
    synchronized void take(java.sql.Connection over, Statements running) {
      connection = over;
      statements = running;
      if (isStopped()) {
        running.stopBefore();
      }
    }

    synchronized void stop() throws SQLException {
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
  }

  @Override
  protected Going going(Attempt attempt) {
    return new Asking(attempt);
  }

  @Override
  protected void interrupt(Going one) {
    try {
      ((Asking) one).stop();
    } catch (SQLException e) {
      LOG.warn("statements cannot be stopped: {}", e.getMessage());
    }
  }

  @Override
  protected void cut(Going one) {
    ((Asking) one).cut();
  }

  @Override
  public boolean takes(Work work, Where where) {
    return work instanceof Sql && where instanceof Where.InService;
  }

  @Override
  protected void carryOut(Going going) {
    Asking one = (Asking) going;
    Attempt attempt = one.attempt();
    Sql sql = (Sql) attempt.run().run().job().work();
    Definitions all = engine.definitions();
    Dialect dialect = Dialect.of(all.connection(sql.database()).map(c -> c.address()).orElse(""));
    List<Statement> statements;
    List<Statement> check;
    Map<String, String> values;
    try {
      statements = SqlText.read(sql.text(), dialect);
      check = check(attempt, dialect);
      values = filled(attempt, Stream.concat(check.stream(), statements.stream()).toList());
    } catch (SqlText.Mistake | Unfillable e) {
      over(one, new Ending(Ending.Kind.NO_VALUE, -1, e.getMessage()), Map.of());
      return;
    }
    boolean begun = records.of(attempt.id(), attempt.number()).begun();
    boolean mayAgain = !sql.recordsIn().isEmpty() || Sql.onlyReads(statements);
    if (begun && !mayAgain && !one.undone) {
      over(one, new Ending(Ending.Kind.LOST, -1, SqlWords.lost(sql.database())), Map.of());
    } else if (one.isStopped()) {
      over(one, new Ending(Ending.Kind.EXITED, 143, SqlWords.stoppedBefore()), Map.of());
    } else {
      connect(one, new Asked(sql, check.stream().findFirst(), statements, values), all);
    }
  }

  /** What is asked of the database, with everything filled in. */
  private record Asked(
      Sql sql, Optional<Statement> check, List<Statement> statements, Map<String, String> values) {}

  /** None where somebody has started it whatever its check says. */
  private static List<Statement> check(Attempt attempt, Dialect dialect) {
    Optional<OnlyIf> check = attempt.run().run().job().onlyIf();
    return check.isPresent()
            && check.get() instanceof OnlyIf.Query query
            && !attempt.status().startNow()
        ? SqlText.read(query.text(), dialect)
        : List.of();
  }

  private Map<String, String> filled(Attempt attempt, List<Statement> statements) {
    return fillings.of(
        attempt,
        filling -> {
          Map<String, String> values = new HashMap<>();
          for (Statement one : statements) {
            one.putIn().forEach(inner -> values.put(inner, filling.text("${" + inner + "}")));
          }
          return values;
        });
  }

  private void connect(Asking one, Asked asked, Definitions all) {
    Sql sql = asked.sql();
    java.sql.Connection connection;
    try {
      connection = database.open(sites.use(all, sql.database(), one.attempt()));
    } catch (SQLException e) {
      if (Database.isAway(e)) {
        away(one, sql, String.valueOf(e.getMessage()));
      } else {
        String why = sql.database() + ": " + e.getMessage();
        over(one, new Ending(Ending.Kind.NOT_STARTED, -1, why), Map.of());
      }
      return;
    } catch (Road.BlockedException e) {
      away(one, sql, e.getMessage());
      return;
    } catch (IOException e) {
      over(one, new Ending(Ending.Kind.NOT_STARTED, -1, e.getMessage()), Map.of());
      return;
    }
    try {
      one.back();
      run(one, asked, connection);
    } finally {
      close(connection);
    }
  }

  /** What is to be committed is; a connection that cannot even be closed is gone anyway. */
  private static void close(java.sql.Connection connection) {
    try {
      connection.close();
    } catch (SQLException e) {
      LOG.debug("a connection could not be closed", e);
    }
  }

  /** A database that is away is waited for as long as its connection says. */
  private void away(Asking one, Sql sql, String why) {
    away(
        one,
        sql.database() + " is away: " + why,
        engine.definitions().connection(sql.database()).map(Connection::bearsOutage).orElseThrow());
  }

  private void run(Asking one, Asked asked, java.sql.Connection connection) {
    Sql sql = asked.sql();
    Attempt attempt = one.attempt();
    OutputSink sink = new OutputSink(attempt, reports, results);
    Statements running =
        new Statements(connection, sql, asked.check(), asked.statements(), asked.values(), sink);
    results.forget(attempt.id(), attempt.number());
    records.begin(attempt.id(), attempt.number());
    reports.began(attempt);
    one.take(connection, running);
    Statements.End end = running.run(attempt.run().run().reference() + " " + attempt.number());
    if (end.outcome() == Statements.Outcome.NOT_KEPT) { // our own database is away
      one.undone = true;
      LOG.warn("statements are done again: {}", end.why());
      again(one);
      return;
    }
    boolean asksRecord = end.outcome() == Statements.Outcome.UNKNOWN && !sql.recordsIn().isEmpty();
    boolean broken = end.outcome() == Statements.Outcome.BROKEN && one.broken++ < MOST_BROKEN;
    if (asksRecord || broken) {
      one.undone = broken;
      away(one, sql, end.why());
      return;
    }
    Ending ending = ending(end, sql);
    if (ending.code() != 0 && !ending.note().isEmpty() && !one.isDead()) {
      reports.output(attempt, ending.note() + "\n");
    }
    over(one, ending, end.values());
  }

  private static Ending ending(Statements.End end, Sql sql) {
    return switch (end.outcome()) {
      case DONE -> Ending.exited(0);
      case NOTHING_TO_DO -> new Ending(Ending.Kind.NOTHING_TO_DO, 1, "");
      case DONE_BEFORE -> new Ending(Ending.Kind.EXITED, 0, SqlWords.doneBefore(sql.recordsIn()));
      case FAILED, BROKEN, NOT_KEPT -> new Ending(Ending.Kind.EXITED, Sql.FAILED, end.why());
      case STOPPED -> new Ending(Ending.Kind.EXITED, 143, end.why());
      case UNKNOWN -> new Ending(Ending.Kind.LOST, -1, end.why());
    };
  }
}
