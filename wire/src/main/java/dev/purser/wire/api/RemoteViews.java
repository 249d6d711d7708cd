package dev.purser.wire.api;

import jakarta.validation.constraints.NotNull;
import jakarta.validation.constraints.Size;
import java.time.Instant;
import java.util.List;

/** Connections, remote services, and what runs there for us. */
public final class RemoteViews {
  private RemoteViews() {}

  /**
   * A connection.
   *
   * @param kind {@code http}, {@code sftp} or {@code object-store}
   * @param address as it is meant in the environment of this service
   * @param signIn how it signs in
   * @param secret where its secret stands, in words; empty where it has none
   * @param refused why it may not use that secret; empty where it may
   * @param atMost how many runs may use it at once; 0 for any number
   * @param bearsOutage how long it may be away before work on it fails, ISO 8601
   * @param usedBy what uses it: remote services, file watches and calendars
   */
  public record ConnectionView(
      String name,
      String title,
      String kind,
      String address,
      String through,
      String signIn,
      String user,
      String secret,
      String refused,
      int atMost,
      String bearsOutage,
      List<String> usedBy) {}

  /** What is tried of a connection: a path to be looked at; the address itself where empty. */
  public record ReachRequest(@Size(max = 2_000) String path) {}

  /**
   * What came of a trial.
   *
   * @param good whether it was reached and let us in
   * @param steps what was done and what came back, in order
   */
  public record ReachedView(String connection, boolean good, List<String> steps) {}

  /**
   * A remote service.
   *
   * @param operations what it can be asked for
   */
  public record ServiceView(
      String name, String title, String about, String connection, List<OperationView> operations) {}

  /**
   * Something that a remote service can be asked for.
   *
   * @param asksFor parameters that a job must have
   * @param can what can be done besides starting and looking: {@code stop}, {@code log}, {@code
   *     recent}
   * @param knownAgain how a start is known again after a crash, in words
   * @param jobs that call it
   */
  public record OperationView(
      String name,
      String title,
      List<String> asksFor,
      List<String> can,
      String knownAgain,
      List<String> jobs) {}

  /**
   * An attempt at a remote service.
   *
   * @param phase {@code choosing}, {@code asking}, {@code unclear}, {@code person} (one must say
   *     whether it began), {@code following} or {@code ended}
   * @param id the remote's own id; empty before it is known
   * @param state the remote's own word; empty before it said one
   * @param awaySince since when it has not answered; null where it does
   * @param sentence how it stands
   */
  public record CallView(
      int attempt,
      String service,
      String operation,
      String phase,
      String id,
      String link,
      String state,
      String progress,
      String error,
      Instant begun,
      Instant awaySince,
      String sentence) {}

  /**
   * What a person says of a call of which nobody else knows whether it began.
   *
   * @param says {@code runs-as} or {@code did-not-start}
   * @param id as what it runs there; empty where it did not start
   */
  public record WordRequest(
      @NotNull @Size(max = 20) String says,
      @Size(max = 200) String id,
      @Size(max = Limits.REASON) String reason) {}
}
