package dev.purser.remote.http;

import java.net.URI;
import java.util.Locale;

/** The port of an address, where it names none. */
public final class Ports {
  private Ports() {}

  /** The port that is meant. */
  public static int of(URI address) {
    if (address.getPort() >= 0) {
      return address.getPort();
    }
    return switch (String.valueOf(address.getScheme()).toLowerCase(Locale.ROOT)) {
      case "http" -> 80;
      case "sftp" -> 22;
      case "smtp" -> 25;
      case "smtps" -> 465;
      case "mariadb", "mysql" -> 3_306;
      case "postgresql" -> 5_432;
      default -> 443;
    };
  }
}
