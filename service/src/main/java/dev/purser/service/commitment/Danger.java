package dev.purser.service.commitment;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.forecast.PromiseOutlook;
import dev.purser.service.alert.Alerts;
import dev.purser.service.outlook.OutlookKeeper;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;

/**
 * Of which kind the alert of each promise is now. A warning is given as soon as the chance of being
 * late reaches what the commitment says, and is taken back when it has been below half of that for
 * ten minutes: it does not flutter. Nobody is warned of what does not begin for {@link #AHEAD}.
 */
@Component
class Danger {
  static final Duration CALM = Duration.ofMinutes(10);

  /** How long before the work for a promise begins people are warned, at the most. */
  static final Duration AHEAD = Duration.ofHours(12);

  private final Alerts alerts;
  private final Clock clock;
  private final Map<String, Instant> warned = new HashMap<>();
  private boolean taken;
  private volatile Optional<Map<String, Now>> current = Optional.empty();

  /** A promise with an alert. */
  record Now(AlertKind kind, PromiseOutlook outlook) {}

  Danger(Alerts alerts, Clock clock) {
    this.alerts = alerts;
    this.clock = clock;
  }

  /** By reference of the promise; empty while nothing is known yet. */
  Optional<Map<String, Now>> current() {
    return current;
  }

  /** A new outlook may change the kinds. */
  @EventListener
  void kept(OutlookKeeper.Kept outlook) {
    look(outlook.promises(), clock.instant());
  }

  /** Goes on from the alerts that were open when the service began. */
  private void takeUp() {
    if (!taken) {
      alerts
          .openAbout(Set.of(AlertKind.WILL_BE_LATE))
          .forEach(alert -> warned.put(alert.reference, Instant.MAX));
      taken = true;
    }
  }

  synchronized void look(List<PromiseOutlook> promises, Instant now) {
    takeUp();
    Map<String, Now> found = new LinkedHashMap<>();
    Set<String> open = new HashSet<>();
    for (PromiseOutlook promise : promises) {
      String reference = promise.promised().reference();
      open.add(reference);
      kind(promise, reference, now).ifPresent(kind -> found.put(reference, new Now(kind, promise)));
    }
    warned.keySet().retainAll(open);
    current = Optional.of(found);
  }

  private Optional<AlertKind> kind(PromiseOutlook promise, String reference, Instant now) {
    boolean isWarned = isWarned(promise, reference, now);
    boolean past = promise.promised().by().filter(now::isAfter).isPresent();
    return switch (promise.standing()) {
      case KEPT, MISSED -> Optional.empty();
      case STALLED ->
          now.isBefore(promise.promised().begin())
              ? Optional.empty() // there is time yet
              : past ? Optional.of(AlertKind.LATE) : Optional.of(AlertKind.STALLED);
      case LATE -> Optional.of(AlertKind.LATE);
      case OPEN -> isWarned ? Optional.of(AlertKind.WILL_BE_LATE) : Optional.empty();
    };
  }

  /** Remembers since when it is calm; {@link Instant#MAX} while it is not. */
  private boolean isWarned(PromiseOutlook promise, String reference, Instant now) {
    double warnAt = promise.promised().commitment().warnAt();
    double chance = promise.canSayLate() ? promise.chanceLate() : 0;
    if (promise.promised().begin().isAfter(now.plus(AHEAD))) {
      return false;
    }
    if (promise.canSayLate() && chance >= warnAt) {
      warned.put(reference, Instant.MAX);
      return true;
    }
    Instant calmSince = warned.get(reference);
    if (calmSince == null) {
      return false;
    }
    if (!promise.canSayLate() || chance >= warnAt / 2) {
      warned.put(reference, Instant.MAX);
      return true;
    }
    Instant since = calmSince.equals(Instant.MAX) ? now : calmSince;
    warned.put(reference, since);
    if (now.isBefore(since.plus(CALM))) {
      return true;
    }
    warned.remove(reference);
    return false;
  }
}
