package dev.purser.service.secret;

import dev.purser.core.definition.Connection;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.reading.Fields;
import dev.purser.core.sql.Dialect;
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
 * @param address scheme, host and port of the receiver; or {@code host:} with the name of a host or
 *     a host group, whose commands get it
 */
public record SecretSource(String kind, String name, String address) {
  /** What a secret may stand in. */
  public static final List<String> KINDS = List.of("stored", "variable", "file");

  private static final String HOST = "host:";
  private static final String STREAM = "stream:";

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

  /** Which stream's work may use it, in the service itself. */
  static String stream(String path) {
    if (!path.matches("[a-z0-9][a-z0-9._/-]{0,199}")) {
      throw new NotUnderstood(
          "\"" + path + "\" is not a valid name of a stream, as in stream:harbour/letters");
    }
    return STREAM + path;
  }

  /** Where commands on a host get it: the host's name, or that of a group that it is in. */
  static String hosts(String name) {
    if (!Fields.isName(name)) {
      throw new NotUnderstood(
          "\"" + name + "\" is not a valid name of a host or a host group, as in host:north");
    }
    return HOST + name;
  }

  /** Scheme, host and port of an address: what is behind them is all the same receiver. */
  static String origin(String address) {
    if (address.startsWith("jdbc:") && Dialect.of(address) == Dialect.STANDARD) {
      return address.strip(); // of other drivers all of it counts
    }
    if (address.startsWith(STREAM)) {
      return stream(address.substring(STREAM.length()).strip());
    }
    if (address.startsWith(HOST)) {
      return hosts(address.substring(HOST.length()).strip());
    }
    URI uri;
    try {
      uri = URI.create(address.strip().replaceFirst("^jdbc:", ""));
    } catch (IllegalArgumentException e) {
      throw new NotUnderstood("\"" + address + "\" is not an address");
    }
    if (uri.getScheme() == null || uri.getHost() == null) {
      throw new NotUnderstood(
          "\""
              + address
              + "\" is not an address; expected one such as https://store.example, or host:NAME");
    }
    String scheme = uri.getScheme().toLowerCase(Locale.ROOT);
    int port = uri.getPort() >= 0 ? uri.getPort() : usual(scheme);
    return scheme + "://" + uri.getHost().toLowerCase(Locale.ROOT) + ":" + port;
  }

  private static int usual(String scheme) {
    return switch (scheme) {
      case "http" -> 80;
      case "sftp" -> 22;
      case "smtp" -> 25;
      case "smtps" -> 465;
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
