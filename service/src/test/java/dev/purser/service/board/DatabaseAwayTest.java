package dev.purser.service.board;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.catchThrowable;

import com.zaxxer.hikari.HikariDataSource;
import dev.purser.service.TestDatabase;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import org.assertj.core.api.ThrowableAssert.ThrowingCallable;
import org.junit.jupiter.api.Test;

/** Whatever a pool or a driver says of a connection that was cut is told as a database away. */
class DatabaseAwayTest {

  @Test
  void everyStepOnACutConnectionSaysThatItIsAway() throws Exception {
    try (HikariDataSource pool = new HikariDataSource()) {
      pool.setJdbcUrl(TestDatabase.url());
      pool.setUsername("purser");
      pool.setPassword("purser");
      pool.setMaximumPoolSize(2);
      try (Connection cut = pool.getConnection();
          Connection other = pool.getConnection();
          Statement statement = cut.createStatement()) {
        cut.setAutoCommit(false);
        cutOff(number(statement), other);
        says(() -> statement.executeQuery("select 1"));
        says(() -> cut.prepareStatement("select 1")); // the pool has given it up
        says(cut::rollback);
        says(cut::commit);
      }
    }
  }

  @Test
  void aRowThatCannotBeWrittenIsNotADatabaseAway() throws Exception {
    try (HikariDataSource pool = new HikariDataSource()) {
      pool.setJdbcUrl(TestDatabase.url());
      pool.setUsername("purser");
      pool.setPassword("purser");
      try (Connection connection = pool.getConnection();
          Statement statement = connection.createStatement()) {
        Throwable found = catchThrowable(() -> statement.executeQuery("select nothing_there"));
        assertThat(found).isInstanceOf(SQLException.class);
        assertThat(DatabaseAway.is(found)).isFalse();
      }
    }
  }

  private static long number(Statement statement) throws SQLException {
    try (ResultSet row = statement.executeQuery("select connection_id()")) {
      row.next();
      return row.getLong(1);
    }
  }

  private static void cutOff(long connection, Connection other) throws SQLException {
    try (Statement statement = other.createStatement()) {
      statement.execute("kill connection " + connection);
    }
  }

  private static void says(ThrowingCallable step) {
    Throwable found = catchThrowable(step);
    assertThat(found).isInstanceOf(SQLException.class);
    assertThat(DatabaseAway.is(new IllegalStateException(found))).as("" + found).isTrue();
  }
}
