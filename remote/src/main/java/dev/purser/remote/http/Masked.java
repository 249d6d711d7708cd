package dev.purser.remote.http;

/** Texts without secrets. */
public final class Masked {
  /** What stands in the place of a secret. */
  public static final String MARK = "•••";

  /** Shorter ones would be found in innocent text: they are not looked for, and not taken. */
  public static final int SHORTEST = 8;

  private Masked() {}

  /** A text without a secret. */
  public static String without(String text, String secret) {
    return secret.length() < SHORTEST ? text : text.replace(secret, MARK);
  }
}
