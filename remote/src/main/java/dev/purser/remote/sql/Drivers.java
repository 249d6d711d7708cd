package dev.purser.remote.sql;

import java.io.IOException;
import java.net.MalformedURLException;
import java.net.URL;
import java.net.URLClassLoader;
import java.nio.charset.StandardCharsets;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Driver;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.ServiceConfigurationError;
import java.util.ServiceLoader;

/**
 * Drivers for databases that are not built in: jars in a directory of the administrator's, with a
 * file {@code addresses} beside them. Some addresses make a driver load classes or read files: so
 * only those that stand there, a line each, are used.
 */
public final class Drivers {
  private static final String ADDRESSES = "addresses";

  private final Path directory;
  private List<Driver> loaded;

  /**
   * Those of a directory, which is read at the first use.
   *
   * @param directory empty for none
   */
  public Drivers(String directory) {
    this.directory = directory.isBlank() ? null : Path.of(directory);
  }

  /**
   * The driver for an address.
   *
   * @throws IOException where the address may not be used, or no driver knows it
   */
  public Driver of(String address) throws IOException {
    if (directory == null) {
      throw new IOException(
          "there is no driver for " + address + ": PURSER_DRIVERS names a directory of drivers");
    }
    Path list = directory.resolve(ADDRESSES);
    boolean allowed =
        Files.isRegularFile(list)
            && Files.readAllLines(list, StandardCharsets.UTF_8).stream()
                .anyMatch(line -> line.strip().equals(address));
    if (!allowed) {
      throw new IOException(
          address + " may not be used: an administrator puts it into " + list + ", as a line");
    }
    for (Driver driver : all()) {
      try {
        if (driver.acceptsURL(address)) {
          return driver;
        }
      } catch (SQLException e) {
        throw new IOException("a driver in " + directory + " refuses " + address, e);
      }
    }
    throw new IOException("no driver in " + directory + " knows " + address);
  }

  private synchronized List<Driver> all() throws IOException {
    if (loaded == null) {
      List<URL> jars = new ArrayList<>();
      try (DirectoryStream<Path> files = Files.newDirectoryStream(directory, "*.jar")) {
        for (Path file : files) {
          jars.add(file.toUri().toURL());
        }
      } catch (MalformedURLException e) {
        throw new IOException("cannot read the drivers in " + directory, e);
      }
      // never closed: its drivers are used as long as the process lives
      ClassLoader loader =
          new URLClassLoader(jars.toArray(new URL[0]), Drivers.class.getClassLoader());
      List<Driver> found = new ArrayList<>();
      try {
        for (Driver driver : ServiceLoader.load(Driver.class, loader)) {
          if (driver.getClass().getClassLoader() == loader) { // what is built in has its own way
            found.add(driver);
          }
        }
      } catch (ServiceConfigurationError e) {
        throw new IOException("a driver in " + directory + " cannot be used: " + e.getMessage(), e);
      }
      loaded = found;
    }
    return loaded;
  }
}
