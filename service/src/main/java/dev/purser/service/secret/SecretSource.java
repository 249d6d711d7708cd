package dev.purser.service.secret;

import dev.purser.core.definition.Connection;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.reading.Fields;
import java.net.URI;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;

/**
 * A secret and where it goes.
 *
 * @param kind {@code stored}, {@code variable} or {@code file}
 * @param name of the stored secret or the variable, or the file's absolute path
 * @param address scheme, host and port of the receiver
 */
public record SecretSource(String kind, String name, String address) {
  /** What a secret may stand in. */
  public static final List<String> KINDS = List.of("stored", "variable", "file");

  /** The service's own: nobody else ever gets them. */
  private static final Set<String> OWN =
      Set.of("PURSER_DATABASE_PASSWORD", "PURSER_MAIL_PASSWORD", "PURSER_DATABASE_USER");

  /**
   * One that an administrator names.
   *
   * @throws NotUnderstood where it is none, or the service's own
   */
  public static SecretSource of(String kind, String name, String address) {
    boolean variable = kind.equals("variable");
    if (!KINDS.contains(kind)) {
      throw new NotUnderstood(
          "a secret is stored, or stands in a variable or a file, not in a \"" + kind + "\"");
    }
    if (kind.equals("stored") && !Fields.isName(name)) {
      throw new NotUnderstood("\"" + name + "\" is not a valid name of a secret");
    }
    if (variable && !name.matches("[A-Za-z_][A-Za-z0-9_]{0,199}")) {
      throw new NotUnderstood("\"" + name + "\" is not a valid name of a variable");
    }
    if (variable && OWN.contains(name)) {
      throw new NotUnderstood(name + " is the service's own, and no connection may use it");
    }
    if (kind.equals("file")
        && (!name.startsWith("/") || name.length() > 500 || name.contains("\0"))) {
      throw new NotUnderstood("\"" + name + "\" is not an absolute path");
    }
    return new SecretSource(kind, name, origin(address));
  }

  /** What a connection uses, and where it sends that; empty where it uses none. */
  public static Optional<SecretSource> of(Connection connection) {
    Connection.SecretPlace place = connection.secret();
    if (place.isNone()) {
      return Optional.empty();
    }
    String to = origin(connection.secretGoesTo());
    if (!place.stored().isEmpty()) {
      return Optional.of(new SecretSource("stored", place.stored(), to));
    }
    return Optional.of(
        place.file().isEmpty()
            ? new SecretSource("variable", place.variable(), to)
            : new SecretSource("file", place.file(), to));
  }

  /** Scheme, host and port of an address: what is behind them is all the same receiver. */
  static String origin(String address) {
    URI uri;
    try {
      uri = URI.create(address.strip().replaceFirst("^jdbc:", ""));
    } catch (IllegalArgumentException e) {
      throw new NotUnderstood("\"" + address + "\" is not an address");
    }
    if (uri.getScheme() == null || uri.getHost() == null) {
      throw new NotUnderstood(
          "\"" + address + "\" is not an address; expected one such as https://store.example");
    }
    String scheme = uri.getScheme().toLowerCase(Locale.ROOT);
    int port = uri.getPort() >= 0 ? uri.getPort() : usual(scheme);
    return scheme + "://" + uri.getHost().toLowerCase(Locale.ROOT) + ":" + port;
  }

  private static int usual(String scheme) {
    return switch (scheme) {
      case "http" -> 80;
      case "sftp" -> 22;
      case "mariadb", "mysql" -> 3_306;
      case "postgresql" -> 5_432;
      default -> 443;
    };
  }

  /** As the end of a sentence. */
  public String inWords() {
    return (kind.equals("stored") ? "secret" : kind) + " " + name + " for " + address;
  }
}
