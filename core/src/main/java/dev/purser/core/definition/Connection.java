package dev.purser.core.definition;

import dev.purser.core.remote.Call;
import java.time.Duration;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * The address of an outside system, and who signs in there. The secret itself is in no definition.
 *
 * @param name within its kind
 * @param title for people
 * @param kind what is there
 * @param address http, https or sftp, to which paths are added
 * @param addresses other addresses, by the environment in which they are meant
 * @param user who signs in; empty for nobody
 * @param secret where the secret stands
 * @param signIn how it signs in
 * @param hostKey SHA-256 of an sftp server's key, as ssh-keygen prints it; else empty
 * @param region of an object store
 * @param trusts a file of certificates, PEM, on the machine that connects: whom it trusts besides
 *     those that Java trusts; empty for nobody
 * @param proxy HOST:PORT; empty for none
 * @param through a host whose agent reaches it where the service does not; empty for none
 * @param atMost how many runs may use it at once; 0 for any number
 * @param bearsOutage how long it may be away before work on it fails, where a job does not say
 */
public record Connection(
    String name,
    String title,
    ConnectionKind kind,
    String address,
    Map<String, String> addresses,
    String user,
    SecretPlace secret,
    SignIn signIn,
    String hostKey,
    String region,
    String trusts,
    String proxy,
    String through,
    int atMost,
    Duration bearsOutage) {
  /** How long it may be away, where nothing is said. */
  public static final Duration USUAL_OUTAGE = Call.USUAL_OUTAGE;

  /** Copies the map. */
  public Connection {
    addresses = Map.copyOf(addresses);
  }

  /**
   * Where a secret stands: in at most one of the three.
   *
   * @param stored the name under which the service keeps it; empty for none
   * @param file a file on the service's host that holds it; empty for none
   * @param variable a variable of the service's environment that does; empty for none
   */
  public record SecretPlace(String stored, String file, String variable) {
    /** No secret. */
    public static final SecretPlace NONE = new SecretPlace("", "", "");

    /** Whether there is none. */
    public boolean isNone() {
      return stored.isEmpty() && file.isEmpty() && variable.isEmpty();
    }
  }

  /**
   * How it signs in.
   *
   * @param way which way
   * @param header the header that carries the secret, where that is the way
   * @param tokenAddress where tokens are had, with OAuth 2.0
   * @param scope that is asked for, with OAuth 2.0; empty for none
   * @param certificate a file with our certificate, PEM, where that signs in; the secret is its key
   */
  public record SignIn(
      SignInWay way, String header, String tokenAddress, String scope, String certificate) {}

  /** Whether it leads to an sftp server. */
  public boolean isSftp() {
    return kind == ConnectionKind.SFTP;
  }

  /** The units of which each run that goes over it holds one; empty for any number of runs. */
  public Optional<Capacity> capacity() {
    return atMost == 0
        ? Optional.empty()
        : Optional.of(new Capacity("connection " + name, title, atMost, ZoneOffset.UTC, List.of()));
  }

  /** As it is meant in an environment. */
  public Connection in(String environment) {
    return addresses.containsKey(environment) ? at(addresses.get(environment)) : this;
  }

  private Connection at(String other) {
    return new Connection(
        name,
        title,
        kind,
        other,
        addresses,
        user,
        secret,
        signIn,
        hostKey,
        region,
        trusts,
        proxy,
        through,
        atMost,
        bearsOutage);
  }

  /** The address to which the secret itself is sent. */
  public String secretGoesTo() {
    return signIn.way() == SignInWay.OAUTH2 ? signIn.tokenAddress() : address;
  }
}
