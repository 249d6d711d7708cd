package dev.purser.remote.http;

import dev.purser.core.definition.Connection;

/**
 * A connection with its secret, for as long as a request takes.
 *
 * @param secret empty where it has none
 * @param road the way there
 */
public record Site(Connection connection, String secret, Road road) {
  /** One that is reached directly. */
  public Site(Connection connection, String secret) {
    this(connection, secret, Road.DIRECT);
  }

  /** No secret gets into a message. */
  @Override
  public String toString() {
    return "connection " + connection.name();
  }

  /** The same text without the secret. */
  public String without(String text) {
    return Masked.without(text, secret);
  }
}
