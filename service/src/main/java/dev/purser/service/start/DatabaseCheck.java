package dev.purser.service.start;

import java.io.IOException;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Arrays;
import java.util.Locale;
import java.util.Objects;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.context.event.ApplicationPreparedEvent;
import org.springframework.context.ApplicationListener;
import org.springframework.core.env.Environment;
import org.springframework.core.io.Resource;
import org.springframework.core.io.support.PathMatchingResourcePatternResolver;

/**
 * Looks at the database before anything else does: waits for one that is away, and refuses one on
 * which the records would not be what they should.
 */
public final class DatabaseCheck implements ApplicationListener<ApplicationPreparedEvent> {
  private static final Logger LOG = LoggerFactory.getLogger(DatabaseCheck.class);
  private static final Pattern VERSION = Pattern.compile("V(\\d+)__.*\\.sql");
  private static final int OLDEST_MAJOR = 10;
  private static final int OLDEST_MINOR = 6;
  private static final long PAUSE_MILLIS = 1_000;
  private static final int SAY_EVERY = 15;

  /** Errors that no waiting mends: access denied, unknown database, wrong user for it. */
  private static final int[] HOPELESS = {1044, 1045, 1049, 1698};

  @Override
  public void onApplicationEvent(ApplicationPreparedEvent event) {
    Environment settings = event.getApplicationContext().getEnvironment();
    String url = settings.getRequiredProperty("spring.datasource.url");
    String user = settings.getProperty("spring.datasource.username", "");
    String password = settings.getProperty("spring.datasource.password", "");
    for (int tries = 0; ; tries++) {
      try (Connection connection = DriverManager.getConnection(url, user, password)) {
        look(connection, newestKnown());
        return;
      } catch (SQLException e) {
        refuseIfHopeless(e, url, user);
        if (tries % SAY_EVERY == 0) {
          LOG.warn("waiting for the database at {}: {}", url, e.getMessage());
        }
      }
      pause();
    }
  }

  private static void pause() {
    try {
      Thread.sleep(PAUSE_MILLIS);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new CannotStart("interrupted while waiting for the database", "start it again");
    }
  }

  private static void refuseIfHopeless(SQLException e, String url, String user) {
    if (Arrays.stream(HOPELESS).anyMatch(code -> code == e.getErrorCode())) {
      throw new CannotStart(
          "The database at " + url + " does not let \"" + user + "\" in: " + e.getMessage(),
          "See PURSER_DATABASE_URL, PURSER_DATABASE_USER and PURSER_DATABASE_PASSWORD. A new"
              + " database: create database purser character set utf8mb4 collate utf8mb4_bin; and"
              + " grant all on purser.* to the user.");
    }
    if (e.getMessage() != null && e.getMessage().contains("No suitable driver")) {
      throw new CannotStart(
          "\"" + url + "\" is not the address of a MariaDB",
          "PURSER_DATABASE_URL must be like jdbc:mariadb://127.0.0.1:3306/purser");
    }
  }

  /** The newest step of the records' schema that this program has. */
  static int newestKnown() {
    try {
      int newest = 0;
      for (Resource file :
          new PathMatchingResourcePatternResolver().getResources("classpath:db/migration/*.sql")) {
        Matcher matcher = VERSION.matcher(Objects.requireNonNullElse(file.getFilename(), ""));
        if (matcher.matches()) {
          newest = Math.max(newest, Integer.parseInt(matcher.group(1)));
        }
      }
      return newest;
    } catch (IOException e) {
      throw new CannotStart("the program is not whole: " + e.getMessage(), "install it again");
    }
  }

  /**
   * Looks at a database.
   *
   * @param newest step of the schema that this program knows
   * @throws CannotStart where it is not fit
   */
  static void look(Connection connection, int newest) throws SQLException {
    String version = one(connection, "select version()");
    Matcher number = Pattern.compile("(\\d+)\\.(\\d+).*").matcher(version);
    boolean fits =
        version.toLowerCase(Locale.ROOT).contains("mariadb")
            && number.matches()
            && Integer.parseInt(number.group(1)) * 1000 + Integer.parseInt(number.group(2))
                >= OLDEST_MAJOR * 1000 + OLDEST_MINOR;
    if (!fits) {
      throw new CannotStart(
          "The database is " + version + ".",
          "Purser needs MariaDB " + OLDEST_MAJOR + "." + OLDEST_MINOR + " or newer.");
    }
    collation(connection);
    zone(connection);
    schema(connection, newest);
  }

  private static void collation(Connection connection) throws SQLException {
    String name = one(connection, "select database()");
    String collation =
        one(
            connection,
            "select default_collation_name from information_schema.schemata where schema_name ="
                + " database()");
    if (!"utf8mb4_bin".equals(collation)) {
      throw new CannotStart(
          "Database \""
              + name
              + "\" compares texts by "
              + collation
              + ": names that differ would be taken for the same.",
          "While it is empty: alter database "
              + name
              + " character set utf8mb4 collate utf8mb4_bin; where it holds tables, make a new one"
              + " and restore a backup into it.");
    }
  }

  private static void zone(Connection connection) throws SQLException {
    int off =
        Integer.parseInt(
            one(connection, "select timestampdiff(second, utc_timestamp(), current_timestamp())"));
    if (Math.abs(off) > 1) {
      throw new CannotStart(
          "The database tells time " + off / 60 + " minutes off UTC.",
          "Set default-time-zone = +00:00 in the [mariadbd] part of its configuration, and: set"
              + " global time_zone = '+00:00'; the zones of streams and people are Purser's own"
              + " matter.");
    }
  }

  private static void schema(Connection connection, int newest) throws SQLException {
    String there =
        one(
            connection,
            "select count(*) from information_schema.tables where table_schema = database() and"
                + " table_name = 'flyway_schema_history'");
    if (there.equals("0")) {
      return;
    }
    String found =
        one(connection, "select max(cast(version as unsigned)) from flyway_schema_history");
    if (found != null && Integer.parseInt(found) > newest) {
      throw new CannotStart(
          "The records were made by a newer Purser: their schema is of step "
              + found
              + ", this program knows "
              + newest
              + ".",
          "Start the newer program; or, to go back, restore the backup that was made before the"
              + " upgrade.");
    }
  }

  private static String one(Connection connection, String query) throws SQLException {
    try (Statement statement = connection.createStatement();
        ResultSet found = statement.executeQuery(query)) {
      return found.next() ? found.getString(1) : null;
    }
  }
}
