package dev.purser.client;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;

/**
 * Where a service is, and the token that this machine's person has there. Several are kept beside
 * each other, each under a name: test, live.
 */
record Login(String service, String token) {
  /** The one that commands mean where none is named. */
  private static volatile String meant = "";

  /** Says which login all that follows means; empty for the usual one. */
  static void mean(String name) {
    meant = name;
  }

  /** Whether a text can be the name of a login. */
  static boolean isName(String name) {
    return name.matches("[a-z0-9][a-z0-9._-]{0,60}");
  }

  private static Path directory() {
    String config = System.getenv("XDG_CONFIG_HOME");
    Path base =
        config == null || config.isBlank()
            ? Path.of(System.getProperty("user.home"), ".config")
            : Path.of(config);
    return base.resolve("purser");
  }

  /**
   * Where a login is kept.
   *
   * @param name empty for the usual one
   */
  static Path file(String name) {
    return directory().resolve(name.isEmpty() ? "login.json" : "login-" + name + ".json");
  }

  static Path file() {
    return file(meant);
  }

  /** The login from the environment or from the file; fails where there is none. */
  static Login find() {
    String service = System.getenv("PURSER_SERVICE");
    String token = System.getenv("PURSER_TOKEN");
    boolean said = service != null && token != null && !service.isBlank() && !token.isBlank();
    return meant.isEmpty() && said ? new Login(service, token) : find(meant);
  }

  /** The login of a name; the usual one where it is empty. */
  static Login find(String name) {
    if (!name.isEmpty() && !isName(name)) {
      throw new Service.Refusal(2, "\"" + name + "\" is not the name of a login");
    }
    if (!Files.exists(file(name))) {
      List<String> known = names();
      throw new Service.Refusal(
          1,
          name.isEmpty()
              ? "you are not logged in; run: purser login --service ADDRESS --name NAME"
              : "you are not logged in as "
                  + name
                  + "; run: purser login --as "
                  + name
                  + " --service ADDRESS --name NAME"
                  + (known.isEmpty() ? "" : "; there is " + String.join(", ", known)));
    }
    return Service.JSON.readValue(file(name).toFile(), Login.class);
  }

  /** Names of the logins that are kept, but for the usual one. */
  static List<String> names() {
    List<String> names = new ArrayList<>();
    if (Files.isDirectory(directory())) {
      try (var files = Files.list(directory())) {
        files
            .map(file -> file.getFileName().toString())
            .filter(file -> file.matches("login-.*\\.json"))
            .map(file -> file.substring("login-".length(), file.length() - ".json".length()))
            .sorted()
            .forEach(names::add);
      } catch (IOException e) {
        throw new UncheckedIOException(e);
      }
    }
    return names;
  }

  void keep() {
    keep(meant);
  }

  void keep(String name) {
    try {
      Files.createDirectories(directory());
      Files.deleteIfExists(file(name));
      Files.createFile(
          file(name),
          PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
      Files.writeString(file(name), Service.JSON.writeValueAsString(this));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }
}
