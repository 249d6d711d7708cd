package dev.purser.core.remote;

import dev.purser.core.job.Work;
import java.time.Duration;
import java.util.Optional;
import java.util.function.Function;

/**
 * Work of a remote service: it is asked for an operation, and followed to its end.
 *
 * @param service its name
 * @param operation of it
 * @param follows nothing is begun: what was begun before is followed
 * @param id of what is followed, with placeholders; empty for the latest
 * @param every how long after a look the next one comes
 * @param growingTo each wait is half as long again as the one before, up to this
 * @param bears how long the service may be away; empty for what its connection says
 * @param already what is done where the same runs there already
 * @param looksBack how far back recent runs are looked for
 * @param until when it counts as done
 */
public record Call(
    String service,
    String operation,
    boolean follows,
    String id,
    Duration every,
    Duration growingTo,
    Optional<Duration> bears,
    Already already,
    Duration looksBack,
    Until until)
    implements Work {
  /** The word for it. */
  public static final String KIND = "call";

  /** How long a service may be away, where nothing is said. */
  public static final Duration USUAL_OUTAGE = Duration.ofMinutes(15);

  /** Exit code of what failed there. */
  public static final int FAILED = 1;

  /** Exit code of what was cancelled there, by somebody else than us. */
  public static final int CANCELLED = 2;

  /** Exit code of what was stopped by us, as after SIGTERM. */
  public static final int STOPPED = 143;

  /** What is done where the same runs there already. */
  public enum Already {
    START,
    ADOPT,
    WAIT,
    SKIP
  }

  /** When it counts as done. */
  public enum Until {
    /** As soon as it has begun there. */
    STARTED,
    /** When it has ended there. */
    ENDED
  }

  @Override
  public String kind() {
    return KIND;
  }

  @Override
  public String inWords() {
    return (follows ? "follow " : "") + operation + " of " + service;
  }

  @Override
  public Optional<String> connection(Function<String, Optional<String>> ofService) {
    return ofService.apply(service);
  }

  /** How long the service may be away. */
  public Duration bearsOutage() {
    return bears.orElse(USUAL_OUTAGE);
  }

  /** The same, where its connection says how long that may be away. */
  public Call over(Duration outage) {
    return new Call(
        service,
        operation,
        follows,
        id,
        every,
        growingTo,
        bears.or(() -> Optional.of(outage)),
        already,
        looksBack,
        until);
  }
}
