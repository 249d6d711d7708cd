package dev.purser.remote.sql;

import dev.purser.core.sql.Dialect;
import dev.purser.remote.http.Gate;
import dev.purser.remote.http.Ports;
import dev.purser.remote.http.Site;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.net.URI;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.SQLException;
import java.util.Properties;

/** Opens connections to databases. */
public final class Database {
  private static final int SECONDS_TO_CONNECT = 10;

  private final Gate gate;
  private final Drivers drivers;

  /**
   * One that asks first which addresses may be reached.
   *
   * @param drivers for databases that are not built in
   */
  public Database(Gate gate, Drivers drivers) {
    this.gate = gate;
    this.drivers = drivers;
  }

  /**
   * Opens one, which its caller closes.
   *
   * @throws IOException where the address may not be reached
   * @throws SQLException where it cannot be reached, or does not let us in
   */
  public Connection open(Site site) throws IOException, SQLException {
    String address = site.connection().address();
    if (Dialect.of(address) == Dialect.STANDARD) {
      return other(site);
    }
    URI uri = URI.create(address.replaceFirst("^jdbc:", ""));
    if (site.road().isDirect()) {
      gate.check(uri);
    } else {
      InetSocketAddress road = site.road().to(uri.getHost(), Ports.of(uri));
      String there = road.getHostString() + ":" + road.getPort();
      address = "jdbc:" + uri.getScheme() + "://" + there + uri.getPath();
    }
    return DriverManager.getConnection(address, properties(site));
  }

  private Connection other(Site site) throws IOException, SQLException {
    if (!site.road().isDirect()) {
      throw new IOException("no road through a host leads to " + site.connection().name());
    }
    String address = site.connection().address();
    Connection opened = drivers.of(address).connect(address, properties(site));
    if (opened == null) {
      throw new IOException("its driver does not know " + address);
    }
    return opened;
  }

  private static Properties properties(Site site) {
    Properties all = new Properties();
    if (!site.connection().user().isEmpty()) {
      all.setProperty("user", site.connection().user());
      all.setProperty("password", site.secret());
    }
    switch (Dialect.of(site.connection().address())) {
      case MARIADB -> {
        all.setProperty("connectTimeout", String.valueOf(SECONDS_TO_CONNECT * 1_000));
        all.setProperty("allowLocalInfile", "false");
        all.setProperty("tcpKeepAlive", "true");
      }
      case POSTGRESQL -> {
        all.setProperty("connectTimeout", String.valueOf(SECONDS_TO_CONNECT));
        all.setProperty("stringtype", "unspecified"); // a bound text becomes what its place needs
        all.setProperty("tcpKeepAlive", "true");
        all.setProperty("ApplicationName", "purser");
      }
      case STANDARD -> {
        // whatever its driver does
      }
    }
    return all;
  }

  /** Whether it could not be reached, as against that it did not let us in. */
  public static boolean isAway(SQLException failure) {
    String state = failure.getSQLState() == null ? "" : failure.getSQLState();
    return state.startsWith("08")
        || state.startsWith("57P")
        || failure.getErrorCode() == 1_040 // MariaDB: too many connections
        || state.equals("53300"); // PostgreSQL: the same
  }

  /** Whether a connection that was there has broken. */
  public static boolean isBroken(SQLException failure) {
    String state = failure.getSQLState() == null ? "" : failure.getSQLState();
    return state.startsWith("08") || state.startsWith("57P");
  }

  /** Whether it says that a key is there already. */
  public static boolean isTwice(SQLException failure) {
    String state = failure.getSQLState() == null ? "" : failure.getSQLState();
    return state.startsWith("23");
  }
}
