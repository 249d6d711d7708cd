package dev.purser.service.care;

import dev.purser.service.Settings;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import org.springframework.stereotype.Component;

/** Looks at everything Purser hangs on, and says in plain words what is wrong and what to do. */
@Component
public class Care {
  private static final Duration GOOD_FOR = Duration.ofSeconds(5);

  private final List<Look> looks;
  private final Settings settings;
  private final Clock clock;
  private Report last = new Report(Instant.EPOCH, List.of());

  Care(List<Look> looks, Settings settings, Clock clock) {
    this.looks = looks;
    this.settings = settings;
    this.clock = clock;
  }

  /** What was found, worst first. */
  public record Report(Instant at, List<Finding> findings) {}

  /** Looks, but not more often than every few seconds: it asks others, too. */
  public synchronized Report report() {
    if (last.at().plus(GOOD_FOR).isAfter(clock.instant())) {
      return last;
    }
    List<Finding> all = new ArrayList<>();
    looks.forEach(look -> all.addAll(find(look)));
    all.sort((a, b) -> b.level().compareTo(a.level()));
    last = new Report(clock.instant(), List.copyOf(all));
    return last;
  }

  /** What one look finds; that it cannot be looked at is a finding, too. */
  static List<Finding> find(Look look) {
    try {
      return look.find();
    } catch (RuntimeException e) {
      return List.of(
          Finding.bad(
              look.about(), "cannot be looked at: " + e.getMessage(), "see the service's own log"));
    }
  }

  /** What is set, for people: how long what is kept. */
  public String keeping() {
    String runs = settings.keepRuns() > 0 ? ", at most " + settings.keepRuns() : "";
    return "runs "
        + settings.keepRunsFor().toDays()
        + " days"
        + runs
        + ", output "
        + settings.keepOutputFor().toDays()
        + " days, arrivals "
        + settings.keepArrivalsFor().toDays()
        + " days, audit "
        + settings.keepAuditFor().toDays()
        + " days";
  }
}
