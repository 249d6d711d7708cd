package dev.purser.core.definition;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/** How a connection signs in by HTTP. */
public enum SignInWay {
  /** Nobody signs in. */
  NONE("none", false),
  /** User and secret (RFC 7617). */
  BASIC("basic", true),
  /** The secret is a token (RFC 6750). */
  BEARER("bearer", true),
  /** The secret stands in a header of the service's own. */
  HEADER("header", true),
  /** Client credentials (RFC 6749 section 4.4): the secret gets a token, which signs in. */
  OAUTH2("oauth2", true),
  /** Our certificate, of which the secret is the key. */
  CERTIFICATE("certificate", true);

  /** The ways to sign in to a cluster. */
  public static final Set<SignInWay> OF_CLUSTERS = Set.of(NONE, BEARER, CERTIFICATE);

  private final String word;
  private final boolean needsSecret;

  SignInWay(String word, boolean needsSecret) {
    this.word = word;
    this.needsSecret = needsSecret;
  }

  /** The word in files. */
  public String word() {
    return word;
  }

  /** Whether it needs a secret. */
  public boolean needsSecret() {
    return needsSecret;
  }

  /** The way of a word. */
  public static Optional<SignInWay> of(String word) {
    return Arrays.stream(values()).filter(way -> way.word.equals(word)).findFirst();
  }

  /** All words. */
  public static List<String> words() {
    return Arrays.stream(values()).map(SignInWay::word).toList();
  }
}
