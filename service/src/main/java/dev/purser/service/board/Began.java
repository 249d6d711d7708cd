package dev.purser.service.board;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;

/**
 * Since when this service has had the board. Agents need a moment from then on to find it and to
 * say what they see; nobody can be missed before.
 */
@Component
public class Began {
  private final Clock clock;
  private volatile Instant at;

  /** Now, and again whenever the board is taken up anew. */
  public Began(Clock clock) {
    this.clock = clock;
    this.at = clock.instant();
  }

  @EventListener
  void takenUp(Engine.TakenUp event) {
    at = clock.instant();
  }

  /** When the board was taken up, last. */
  public Instant at() {
    return at;
  }

  /** Whether that is less than so long ago. */
  public boolean isWithin(Duration span) {
    return clock.instant().isBefore(at.plus(span));
  }
}
