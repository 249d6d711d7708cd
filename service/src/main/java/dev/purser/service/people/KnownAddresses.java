package dev.purser.service.people;

import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.time.Duration;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** From where people have signed in, in the last half year. */
@Component
@Transactional
public class KnownAddresses {
  private static final Duration KNOWN_FOR = Duration.ofDays(180);

  private final EntityManager rows;
  private final Clock clock;

  KnownAddresses(EntityManager rows, Clock clock) {
    this.rows = rows;
    this.clock = clock;
  }

  /** Whether somebody has signed in from an address. */
  @Transactional(readOnly = true)
  public boolean knows(String person, String address) {
    KnownAddressRow row =
        rows.find(KnownAddressRow.class, new KnownAddressRow.Key(person, address));
    return row != null && row.lastSeen.isAfter(clock.instant().minus(KNOWN_FOR));
  }

  /** Somebody has signed in from an address. */
  public void seen(String person, String address) {
    rows.createNativeQuery(
            "insert into sign_in_address (person, address, last_seen) values (:person, :address,"
                + " :at) on duplicate key update last_seen = :at")
        .setParameter("person", person)
        .setParameter("address", address)
        .setParameter("at", clock.instant())
        .executeUpdate();
    rows.createQuery("delete from KnownAddressRow a where a.person = :person and a.lastSeen < :end")
        .setParameter("person", person)
        .setParameter("end", clock.instant().minus(KNOWN_FOR))
        .executeUpdate();
  }
}
