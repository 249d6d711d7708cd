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
   * @param source {@code variable} or {@code file}
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
}
