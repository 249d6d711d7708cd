package dev.purser.service.start;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.service.TestDatabase;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.sql.Statement;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Databases that are not fit are refused, with what to do. */
class DatabaseCheckTest {

  private static Connection open(String... statements) throws SQLException {
    Connection connection = DriverManager.getConnection(TestDatabase.url(), "purser", "purser");
    try (Statement statement = connection.createStatement()) {
      for (String one : statements) {
        statement.execute(one);
      }
    }
    return connection;
  }

  private static Connection empty(String name, String collation) throws SQLException {
    return open(
        "drop database if exists purser_" + name,
        "create database purser_" + name + " collate " + collation,
        "use purser_" + name);
  }

  @Test
  void anEmptyDatabaseOfTheRightKindIsFit() throws SQLException {
    try (Connection connection = empty("good", "utf8mb4_bin")) {
      DatabaseCheck.look(connection, DatabaseCheck.newestKnown());
    }
    assertThat(DatabaseCheck.newestKnown()).isGreaterThanOrEqualTo(4);
  }

  @ParameterizedTest
  @CsvSource({"utf8mb4_general_ci", "latin1_swedish_ci"})
  void aCollationThatTakesDifferentNamesForTheSameIsRefused(String collation) throws SQLException {
    try (Connection connection = empty("collation", collation)) {
      assertThatThrownBy(() -> DatabaseCheck.look(connection, 4))
          .isInstanceOf(CannotStart.class)
          .hasMessageContaining("compares texts by " + collation)
          .extracting(e -> ((CannotStart) e).remedy())
          .asString()
          .contains("alter database purser_collation character set utf8mb4 collate utf8mb4_bin");
    }
  }

  @Test
  void aDatabaseThatDoesNotTellUtcIsRefused() throws SQLException {
    try (Connection connection = empty("zone", "utf8mb4_bin")) {
      connection.createStatement().execute("set time_zone = '+02:00'");
      assertThatThrownBy(() -> DatabaseCheck.look(connection, 4))
          .hasMessageContaining("120 minutes off UTC");
    }
  }

  @Test
  void recordsOfANewerProgramAreRefused() throws SQLException {
    try (Connection connection = empty("newer", "utf8mb4_bin")) {
      connection
          .createStatement()
          .execute("create table flyway_schema_history (version varchar(50))");
      connection
          .createStatement()
          .execute("insert into flyway_schema_history values ('4'), ('12')");
      assertThatThrownBy(() -> DatabaseCheck.look(connection, 4))
          .hasMessageContaining("of step 12, this program knows 4");
      DatabaseCheck.look(connection, 12);
    }
  }
}
