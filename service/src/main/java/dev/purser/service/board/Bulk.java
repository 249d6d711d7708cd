package dev.purser.service.board;

import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Types;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.hibernate.StatelessSession;

/**
 * Like statements with many rows of values, each kind sent to the database at once: a turn costs a
 * few round trips, however many runs it changes. Kinds go in the order in which they first came.
 */
final class Bulk {
  private static final int ROWS_AT_ONCE = 2_000;

  private final Map<String, List<Object[]>> statements = new LinkedHashMap<>();

  /**
   * Adds a row.
   *
   * @param values texts, numbers, truths, bytes, instants (written in UTC) or null, one for each
   *     question mark
   */
  void add(String statement, Object... values) {
    statements.computeIfAbsent(statement, any -> new ArrayList<>()).add(values);
  }

  /** Fixes the place of a statement in the order before its first row comes. */
  void expect(String statement) {
    statements.computeIfAbsent(statement, any -> new ArrayList<>());
  }

  /** How many rows there are. */
  int size() {
    return statements.values().stream().mapToInt(List::size).sum();
  }

  /** Sends all. */
  void write(StatelessSession session) {
    session.doWork(
        connection -> {
          for (Map.Entry<String, List<Object[]>> one : statements.entrySet()) {
            if (one.getValue().isEmpty()) {
              continue;
            }
            try (PreparedStatement statement = connection.prepareStatement(one.getKey())) {
              send(statement, one.getValue());
            }
          }
        });
  }

  private static void send(PreparedStatement statement, List<Object[]> rows) throws SQLException {
    int waiting = 0;
    for (Object[] row : rows) {
      for (int i = 0; i < row.length; i++) {
        set(statement, i + 1, row[i]);
      }
      statement.addBatch();
      if (++waiting == ROWS_AT_ONCE) {
        statement.executeBatch();
        waiting = 0;
      }
    }
    if (waiting > 0) {
      statement.executeBatch();
    }
  }

  private static void set(PreparedStatement statement, int place, Object value)
      throws SQLException {
    if (value == null) {
      statement.setNull(place, Types.NULL);
    } else if (value instanceof Instant instant) {
      statement.setObject(place, LocalDateTime.ofInstant(instant, ZoneOffset.UTC));
    } else {
      statement.setObject(place, value);
    }
  }
}
