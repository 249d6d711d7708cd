package dev.purser.bench.load;

import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.LocalDateTime;

/**
 * What the same database takes from a program that does nothing but write the same rows: for each
 * run its row and two moments, then its start, then its end and its output; in batches of the same
 * size, each committed with a flush.
 */
final class BareWriter {
  private static final long MILLIS = 15_000;

  private BareWriter() {}

  /**
   * Writes for a while.
   *
   * @param rowsARun how many rows a run costs the service
   * @param rowsABatch how many of them a transaction of the service had
   */
  static double rowsPerSecond(String url, double rowsARun, double rowsABatch) {
    int runs = Math.max(1, (int) Math.round(rowsABatch / rowsARun));
    try (Connection connection =
        DriverManager.getConnection(url + "?useBulkStmts=true", "purser", "purser")) {
      prepare(connection);
      connection.setAutoCommit(false);
      long rows = 0;
      long id = 1;
      write(connection, id, runs); // warm
      id += runs;
      long begin = System.nanoTime();
      while (System.nanoTime() - begin < MILLIS * 1_000_000) {
        rows += write(connection, id, runs);
        id += runs;
      }
      return rows * 1e9 / (System.nanoTime() - begin);
    } catch (SQLException e) {
      throw new IllegalStateException(e);
    }
  }

  private static void prepare(Connection connection) throws SQLException {
    try (Statement statement = connection.createStatement()) {
      for (String table : new String[] {"run", "attempt", "moment", "output_piece"}) {
        statement.execute("drop table if exists bare_" + table);
        statement.execute("create table bare_" + table + " like " + table);
      }
    }
  }

  /** The life of some runs; returns how many rows that were. */
  private static int write(Connection connection, long first, int runs) throws SQLException {
    int rows = 0;
    rows += insertRuns(connection, first, runs);
    rows += moments(connection, first, runs, "waiting");
    connection.commit();
    rows += update(connection, first, runs, "starting");
    rows += moments(connection, first, runs, "starting");
    rows +=
        each(
            connection,
            "insert into bare_attempt values (?,1,'sim-1',utc_timestamp(3),null,null,null,'',0,0,"
                + "false)",
            first,
            runs);
    connection.commit();
    rows += update(connection, first, runs, "succeeded");
    rows += moments(connection, first, runs, "running");
    rows += moments(connection, first, runs, "succeeded");
    rows +=
        each(
            connection,
            "update bare_attempt set started=utc_timestamp(3) where run=? and number=1",
            first,
            runs);
    rows +=
        each(
            connection,
            "update bare_attempt set ended=utc_timestamp(3), exit_code=0, note='succeeded' where"
                + " run=? and number=1",
            first,
            runs);
    rows +=
        each(
            connection,
            "insert into bare_output_piece values (?,1,0,40,'0123456789012345678901234567890123')",
            first,
            runs);
    rows +=
        each(
            connection,
            "update bare_attempt set output_kept=40, output_total=40, output_complete=true where"
                + " run=? and number=1",
            first,
            runs);
    connection.commit();
    return rows;
  }

  private static int insertRuns(Connection connection, long first, int runs) throws SQLException {
    try (PreparedStatement insert =
        connection.prepareStatement(
            "insert into bare_run (id, stream, job, stream_title, title, department, kind,"
                + " business_date, number, revision, due, shift, start_by, finish_by, zone, waived,"
                + " long_after, state, hold, since, attempts, budget, host, started, ended,"
                + " retry_at, exit_code, note, stopping, not_needed, files) values"
                + " (?,'load/day',?,'load/day','j1','','run','2027-01-01',?,1,?,'',null,null,"
                + "'UTC',false,0,'waiting','',?,0,1,'',null,null,null,null,'','NO',false,'[]')")) {
      LocalDateTime now = LocalDateTime.now(java.time.ZoneOffset.UTC);
      for (int i = 0; i < runs; i++) {
        insert.setLong(1, first + i);
        insert.setString(2, "j" + (first + i) % 500);
        insert.setInt(3, (int) ((first + i) / 500));
        insert.setObject(4, now);
        insert.setObject(5, now);
        insert.addBatch();
      }
      insert.executeBatch();
      return runs;
    }
  }

  private static int moments(Connection connection, long first, int runs, String state)
      throws SQLException {
    return each(
        connection,
        "insert into bare_moment (run, at, state, note) values (?,utc_timestamp(3),'"
            + state
            + "','')",
        first,
        runs);
  }

  private static int update(Connection connection, long first, int runs, String state)
      throws SQLException {
    return each(
        connection,
        "update bare_run set state='"
            + state
            + "', hold='', since=utc_timestamp(3), attempts=1, budget=1, host='sim-1',"
            + " started=utc_timestamp(3), ended=null, retry_at=null, exit_code=0, note='',"
            + " stopping='NO', not_needed=false, files='[]', moved_due=null,"
            + " priority=-1, start_now=false, asked=null, handed_back=null, moves=0 where id=?",
        first,
        runs);
  }

  private static int each(Connection connection, String text, long first, int runs)
      throws SQLException {
    try (PreparedStatement statement = connection.prepareStatement(text)) {
      for (int i = 0; i < runs; i++) {
        statement.setLong(1, first + i);
        statement.addBatch();
      }
      statement.executeBatch();
      return runs;
    }
  }
}
