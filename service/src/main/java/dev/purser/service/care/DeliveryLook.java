package dev.purser.service.care;

import dev.purser.service.alert.AddressHealth;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import org.springframework.stereotype.Component;

/** Looks whether alerts arrive, address by address. */
@Component
class DeliveryLook implements Look {
  private static final Duration BORNE = Duration.ofMinutes(10);

  private final AddressHealth addresses;
  private final Clock clock;

  DeliveryLook(AddressHealth addresses, Clock clock) {
    this.addresses = addresses;
    this.clock = clock;
  }

  @Override
  public String about() {
    return "alerts";
  }

  @Override
  public boolean isTold() {
    return true;
  }

  /** What is tried again is told once it has lasted. */
  @Override
  public boolean isTold(Finding found) {
    return found.level() == Finding.Level.BAD;
  }

  @Override
  public List<Finding> find() {
    Instant before = clock.instant().minus(BORNE);
    List<Finding> all = new ArrayList<>();
    for (AddressHealth.Health one : addresses.all()) {
      boolean failing = one.state().equals("failing");
      if (failing && one.oldest() != null && one.oldest().isBefore(before)) {
        all.add(
            Finding.bad(
                "alerts by " + one.channel() + " to " + one.address(),
                "nothing has arrived for more than "
                    + BORNE.toMinutes()
                    + " min, "
                    + one.pending()
                    + (one.pending() == 1 ? " waits: " : " wait: ")
                    + one.lastError(),
                "purser alerts addresses; purser alerts try --to "
                    + String.join(", ", one.recipients())));
      } else if (failing) {
        all.add(
            Finding.look(
                "alerts by " + one.channel() + " to " + one.address(),
                one.pending() + " could not be delivered yet: " + one.lastError(),
                "it is tried again by itself"));
      }
    }
    return all.isEmpty()
        ? List.of(Finding.good("alerts", "nothing waits to be delivered again"))
        : all;
  }
}
