package dev.purser.wire.api;

import jakarta.validation.constraints.Size;
import java.time.Instant;
import java.util.List;

/** Which secrets of the service's host connections may use; no secret itself. */
public final class SecretViews {
  private SecretViews() {}

  /**
   * A permit.
   *
   * @param source {@code stored}, {@code variable} or {@code file}
   * @param address scheme, host and port to which it may go
   * @param usedBy names of connections
   */
  public record PermitView(
      long id,
      String source,
      String name,
      String address,
      List<String> usedBy,
      Instant since,
      String who,
      String reason) {}

  /** A permit to be given. */
  public record PermitRequest(
      @Size(max = Limits.NAME) String source,
      @Size(max = 500) String name,
      @Size(max = 500) String address,
      @Size(max = Limits.REASON) String reason) {}

  /**
   * A secret that the service keeps; it itself is never shown.
   *
   * @param version how often it was set
   * @param key which key it is encrypted with
   * @param receivers addresses to which it may go
   * @param usedBy names of connections
   * @param used when it was last used, to ten minutes; null for never
   */
  public record StoredView(
      String name,
      int version,
      String key,
      List<String> receivers,
      List<String> usedBy,
      Instant since,
      String who,
      Instant used) {}

  /**
   * A secret to be kept.
   *
   * @param secret at least 8 characters
   * @param receivers names of connections, or addresses, to which it may go
   */
  public record StoredRequest(
      @Size(max = 8_192) String secret,
      @Size(max = 50) List<@Size(max = 500) String> receivers,
      @Size(max = Limits.REASON) String reason) {
    /** The secret stands in no log. */
    @Override
    public String toString() {
      return "a secret for " + receivers;
    }
  }

  /** Why secrets are encrypted anew. */
  public record AnewRequest(@Size(max = Limits.REASON) String reason) {}

  /** How many secrets were encrypted with another key. */
  public record AnewView(int encrypted) {}
}
