package dev.purser.service.telling;

import dev.purser.service.active.Active;
import dev.purser.service.active.Rounds;
import dev.purser.service.live.Live;
import java.time.Clock;
import org.springframework.stereotype.Component;

/**
 * Decides who is told of what is to be told, at its own pace beside the engine: what comes of one
 * thing together, what waits for its time, what goes on its way. The courier carries it.
 */
@Component
class Teller extends Rounds {
  private static final long LOOK_EVERY_MILLIS = 150;

  private final Telling telling;
  private final Clock clock;
  private final Live live;

  Teller(Telling telling, Active service, Clock clock, Live live) {
    super("teller", LOOK_EVERY_MILLIS, service);
    this.telling = telling;
    this.clock = clock;
    this.live = live;
  }

  @Override
  protected boolean round() {
    Telling.Done done = telling.look(clock.instant());
    if (done.isAny()) {
      live.alertsChanged();
    }
    return done.isMore();
  }
}
