package dev.purser.remote.sql;

import dev.purser.core.sql.Sql;
import dev.purser.core.sql.Statement;
import java.math.BigDecimal;
import java.sql.CallableStatement;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.SQLWarning;
import java.sql.Types;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.postgresql.PGConnection;
import org.postgresql.util.PSQLException;
import org.postgresql.util.ServerErrorMessage;

/**
 * Carries out the statements of one attempt over one connection. Rows are streamed: however many
 * there are, a thousand are in memory. {@link #stop} may be called from another thread.
 */
public final class Statements {
  private static final int AT_A_TIME = 1_000;
  private static final int LONGEST_CELL = 1_000_000;
  private static final int MOST_VALUES = 50;
  private static final int LONGEST_VALUE = 4_000;
  private static final Pattern NAME = Pattern.compile("[a-z][a-z0-9._-]{0,99}");
  private static final Pattern NOTHING =
      Pattern.compile("|0(\\.0*)?|f|false|no", Pattern.CASE_INSENSITIVE);
  private static final Pattern AT_LINE = Pattern.compile("at line (\\d+)");

  private final Connection connection;
  private final Sql sql;
  private final Optional<Statement> check;
  private final List<Statement> statements;
  private final Map<String, String> values;
  private final RowSink sink;
  private final Map<String, String> handedBack = new LinkedHashMap<>();
  private volatile java.sql.Statement running;
  private volatile boolean stopped;
  private int queries;

  /**
   * For one attempt.
   *
   * @param check a query that decides whether there is anything to do
   * @param values by what stands in the braces
   */
  public Statements(
      Connection connection,
      Sql sql,
      Optional<Statement> check,
      List<Statement> statements,
      Map<String, String> values,
      RowSink sink) {
    this.connection = connection;
    this.sql = sql;
    this.check = check;
    this.statements = statements;
    this.values = values;
    this.sink = sink;
  }

  /** How it ended. */
  public enum Outcome {
    /** All is committed. */
    DONE,
    /** Its check found nothing to do, and nothing was done. */
    NOTHING_TO_DO,
    /** The attempt had been committed before: nothing was done now. */
    DONE_BEFORE,
    /** It failed, and nothing of it is committed; with each its own, what is said is. */
    FAILED,
    /** The connection broke before the commit was sent: nothing is committed. */
    BROKEN,
    /** What it gave could not be kept here, so nothing is committed. */
    NOT_KEPT,
    /** It was stopped, and nothing more of it is committed. */
    STOPPED,
    /** Whether it is committed is not known. */
    UNKNOWN
  }

  /**
   * How it ended.
   *
   * @param why where it did not end well, for people
   * @param values that the run hands back
   */
  public record End(Outcome outcome, String why, Map<String, String> values) {}

  /** It was asked to stop before anything ran. */
  public void stopBefore() {
    stopped = true;
  }

  /** Stops what runs, in the database. */
  public void stop() throws SQLException {
    stopped = true;
    java.sql.Statement now = running;
    if (now != null) {
      now.cancel();
    }
  }

  /**
   * Carries them out.
   *
   * @param attempt by which it is known in the table that is for that
   */
  public End run(String attempt) {
    int done = 0;
    try {
      connection.setReadOnly(Sql.onlyReads(statements));
      connection.setAutoCommit(false);
      if (check.isPresent() && !finds(check.get())) {
        return given(Outcome.NOTHING_TO_DO, "");
      }
      if (!sql.recordsIn().isEmpty() && !record(attempt)) {
        return new End(Outcome.DONE_BEFORE, "", Map.of());
      }
      for (Statement one : statements) {
        if (stopped) {
          return given(Outcome.STOPPED, "stopped before line " + one.line());
        }
        run(one);
        done++;
        if (!sql.together()) {
          connection.commit();
        }
      }
    } catch (SQLException e) {
      return failed(e, done);
    } catch (RuntimeException e) { // the sink's
      boolean undone = sql.together() || done == 0;
      return given(
          undone ? Outcome.NOT_KEPT : Outcome.FAILED,
          "what it gives cannot be kept: " + e.getMessage());
    }
    return sql.together() ? committed() : new End(Outcome.DONE, "", handedBack);
  }

  private End committed() {
    try {
      connection.commit();
      return new End(Outcome.DONE, "", handedBack);
    } catch (SQLException e) {
      return new End(
          Database.isBroken(e) ? Outcome.UNKNOWN : Outcome.FAILED,
          "the commit was not answered: " + text(e),
          Map.of());
    }
  }

  /** Whether the first row of a query begins with anything but null, 0, false or nothing. */
  private boolean finds(Statement query) throws SQLException {
    try (PreparedStatement prepared = connection.prepareStatement(query.text())) {
      bind(prepared, query);
      prepared.setMaxRows(1);
      running = prepared;
      try (ResultSet rows = prepared.executeQuery()) {
        String first = rows.next() ? rows.getString(1) : null;
        return first != null && !NOTHING.matcher(first.strip()).matches();
      }
    } finally {
      running = null;
    }
  }

  /** Writes the attempt down in its transaction. Gives false where it stands there already. */
  private boolean record(String attempt) throws SQLException {
    String text = "insert into " + sql.recordsIn() + " (attempt) values (?)";
    try (PreparedStatement insert = connection.prepareStatement(text)) {
      running = insert;
      insert.setString(1, attempt);
      insert.executeUpdate();
      return true;
    } catch (SQLException e) {
      if (Database.isTwice(e)) {
        rollBack();
        return false;
      }
      throw e;
    } finally {
      running = null;
    }
  }

  private End failed(SQLException failure, int done) {
    Statement at = statements.get(Math.min(done, statements.size() - 1));
    boolean broken = Database.isBroken(failure);
    rollBack();
    String where = "line " + lineOf(failure, at) + ": ";
    if (stopped && !broken) {
      return given(Outcome.STOPPED, "stopped at line " + at.line());
    }
    if (broken && (sql.together() || at.isRead())) {
      return given(stopped ? Outcome.STOPPED : Outcome.BROKEN, where + text(failure));
    }
    if (broken) {
      return given(
          Outcome.UNKNOWN, where + text(failure) + "; nobody knows whether this one was committed");
    }
    String kept =
        sql.together() || done == 0
            ? ""
            : "; the "
                + (done == 1 ? "one" : done)
                + " before it "
                + (done == 1 ? "is" : "are")
                + " committed";
    return given(Outcome.FAILED, where + text(failure) + kept);
  }

  private End given(Outcome outcome, String why) {
    rollBack();
    return new End(outcome, why, Map.of());
  }

  private void rollBack() {
    try {
      connection.rollback();
    } catch (SQLException e) {
      sink.say("the database rolls back by itself, as the connection is gone");
    }
  }

  /** PostgreSQL says at which character, MariaDB at which line of the statement. */
  private static int lineOf(SQLException failure, Statement at) {
    if (failure instanceof PSQLException postgres) {
      ServerErrorMessage said = postgres.getServerErrorMessage();
      if (said != null && said.getPosition() > 0) {
        int end = Math.min(said.getPosition() - 1, at.text().length());
        return at.line() + (int) at.text().substring(0, end).chars().filter(c -> c == '\n').count();
      }
    }
    Matcher line = AT_LINE.matcher(String.valueOf(failure.getMessage()));
    return line.find() ? at.line() + Integer.parseInt(line.group(1)) - 1 : at.line();
  }

  private static String text(SQLException failure) {
    String said = String.valueOf(failure.getMessage()).strip();
    String plain =
        failure instanceof PSQLException postgres && postgres.getServerErrorMessage() != null
            ? String.valueOf(postgres.getServerErrorMessage().getMessage())
            : said.replaceFirst("^\\(conn=\\d+\\) ", "");
    String state = failure.getSQLState() == null ? "" : " (" + failure.getSQLState() + ")";
    return plain.replaceAll("\\s+", " ") + state;
  }

  // ---- one statement

  private void run(Statement one) throws SQLException {
    long began = System.nanoTime();
    try (PreparedStatement prepared = prepared(one)) {
      prepared.setFetchSize(AT_A_TIME);
      bind(prepared, one);
      running = prepared;
      boolean rows = prepared.execute();
      long many = 0;
      while (true) {
        if (rows) {
          many = query(one, prepared.getResultSet());
        } else if (prepared.getUpdateCount() < 0) {
          break;
        } else {
          many = prepared.getLargeUpdateCount();
          tell(one, many + (many == 1 ? " row" : " rows"), began);
        }
        rows = prepared.getMoreResults();
      }
      handedBack.put("rows", String.valueOf(many));
      if (prepared instanceof CallableStatement called) {
        handOut(called, one);
      }
      warnings(prepared.getWarnings());
    } finally {
      running = null;
    }
  }

  private PreparedStatement prepared(Statement one) throws SQLException {
    return givesOutByCall(one)
        ? connection.prepareCall(one.text())
        : connection.prepareStatement(
            one.text(), ResultSet.TYPE_FORWARD_ONLY, ResultSet.CONCUR_READ_ONLY);
  }

  /** PostgreSQL answers a call with a row of what it gives out, which is read as any row. */
  private boolean givesOutByCall(Statement one) throws SQLException {
    return one.givesOut() && !connection.isWrapperFor(PGConnection.class);
  }

  private void bind(PreparedStatement prepared, Statement one) throws SQLException {
    for (int i = 0; i < one.values().size(); i++) {
      String value = one.values().get(i);
      if (Statement.out(value).isEmpty()) {
        prepared.setString(i + 1, values.get(value));
      } else if (prepared instanceof CallableStatement called) {
        called.registerOutParameter(i + 1, Types.VARCHAR);
      } else {
        prepared.setNull(i + 1, Types.OTHER);
      }
    }
  }

  /** What a procedure gives out are values of the run, by the names in the braces. */
  private void handOut(CallableStatement called, Statement one) throws SQLException {
    for (int i = 0; i < one.values().size() && handedBack.size() < MOST_VALUES; i++) {
      Optional<String> name = Statement.out(one.values().get(i));
      String value = name.isPresent() ? called.getString(i + 1) : null;
      if (value != null && value.length() <= LONGEST_VALUE) {
        handedBack.put(name.get(), value);
      }
    }
  }

  private void tell(Statement one, String what, long began) {
    Duration took = Duration.ofNanos(System.nanoTime() - began);
    String first = one.text().strip().split("\\s+", 2)[0].toLowerCase(Locale.ROOT);
    sink.say("line " + one.line() + ", " + first + ": " + what + ", " + took.toMillis() + " ms");
  }

  private void warnings(SQLWarning first) {
    int told = 0;
    for (SQLWarning one = first; one != null && told < 20; one = one.getNextWarning(), told++) {
      sink.say("  warning: " + one.getMessage());
    }
  }

  private long query(Statement one, ResultSet rows) throws SQLException {
    long began = System.nanoTime();
    ResultSetMetaData shape = rows.getMetaData();
    List<String> columns = new ArrayList<>();
    for (int i = 1; i <= shape.getColumnCount(); i++) {
      columns.add(shape.getColumnLabel(i));
    }
    sink.begin(++queries, columns);
    long many = 0;
    List<Object> last = List.of();
    while (rows.next()) {
      if (stopped) {
        throw new SQLException("stopped while its rows were read");
      }
      many++;
      if (many <= sql.keepRows()) {
        last = row(rows, shape);
        sink.row(last);
      }
    }
    sink.end(many, many <= sql.keepRows());
    if (many == 1 && !last.isEmpty()) {
      handBack(columns, last);
    }
    tell(one, many + (many == 1 ? " row" : " rows"), began);
    return many;
  }

  /** The columns of a single row are values of the run. */
  private void handBack(List<String> columns, List<Object> row) {
    for (int i = 0; i < columns.size() && handedBack.size() < MOST_VALUES; i++) {
      String name = columns.get(i).toLowerCase(Locale.ROOT);
      Optional<String> value = Optional.ofNullable(row.get(i)).map(Statements::plain);
      if (NAME.matcher(name).matches()
          && value.filter(text -> text.length() <= LONGEST_VALUE).isPresent()) {
        handedBack.put(name, value.get());
      }
    }
  }

  private static String plain(Object value) {
    return value instanceof BigDecimal number ? number.toPlainString() : value.toString();
  }

  private static List<Object> row(ResultSet rows, ResultSetMetaData shape) throws SQLException {
    List<Object> values = new ArrayList<>(shape.getColumnCount());
    for (int i = 1; i <= shape.getColumnCount(); i++) {
      values.add(cell(rows, i, shape.getColumnType(i)));
    }
    return values;
  }

  private static Object cell(ResultSet rows, int column, int type) throws SQLException {
    switch (type) {
      case Types.BIT,
          Types.BOOLEAN,
          Types.TINYINT,
          Types.SMALLINT,
          Types.INTEGER,
          Types.BIGINT,
          Types.DECIMAL,
          Types.NUMERIC -> {
        return plainly(rows.getObject(column));
      }
      case Types.BINARY, Types.VARBINARY, Types.LONGVARBINARY, Types.BLOB -> {
        byte[] bytes = rows.getBytes(column);
        return bytes == null ? null : "(" + bytes.length + " bytes)";
      }
      default -> {
        String text = rows.getString(column);
        return text == null || text.length() <= LONGEST_CELL
            ? text
            : text.substring(0, LONGEST_CELL) + "…";
      }
    }
  }

  private static Object plainly(Object value) {
    if (value == null || value instanceof Boolean) {
      return value;
    }
    try {
      return new BigDecimal(value.toString());
    } catch (NumberFormatException e) {
      return value.toString(); // NaN, or a string of bits
    }
  }
}
