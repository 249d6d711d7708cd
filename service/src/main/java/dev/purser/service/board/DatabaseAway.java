package dev.purser.service.board;

import java.sql.SQLException;
import java.sql.SQLNonTransientConnectionException;
import java.sql.SQLRecoverableException;
import java.sql.SQLTransientException;
import java.util.Set;
import org.hibernate.exception.JDBCConnectionException;

/** Tells a database that cannot be reached from a row that cannot be written. */
public final class DatabaseAway {
  /**
   * What MariaDB says while it cannot write anything, of anybody: disk full (1021, 1026, 1030,
   * 1114), shutting down (1053), somebody holds a lock (1205), read-only (1290, 1836).
   */
  private static final Set<Integer> CANNOT_WRITE =
      Set.of(1021, 1026, 1030, 1053, 1114, 1205, 1290, 1836);

  /** What a pool says of a connection that has broken; it comes without an SQL state. */
  private static final String BROKEN_BEFORE = "Connection is closed";

  private DatabaseAway() {}

  /** Whether a failure means that the database cannot be reached just now. */
  public static boolean is(Throwable failure) {
    for (Throwable cause = failure; cause != null; cause = cause.getCause()) {
      boolean connection =
          cause instanceof JDBCConnectionException
              || cause instanceof SQLTransientException
              || cause instanceof SQLRecoverableException
              || cause instanceof SQLNonTransientConnectionException;
      if (connection || (cause instanceof SQLException sql && isAway(sql))) {
        return true;
      }
    }
    return false;
  }

  private static boolean isAway(SQLException failure) {
    String state = failure.getSQLState();
    return state == null
        ? BROKEN_BEFORE.equals(failure.getMessage())
        : state.startsWith("08") || CANNOT_WRITE.contains(failure.getErrorCode());
  }
}
