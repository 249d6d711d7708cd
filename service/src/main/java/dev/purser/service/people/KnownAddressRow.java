package dev.purser.service.people;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.IdClass;
import jakarta.persistence.Table;
import java.io.Serializable;
import java.time.Instant;

/** An address from which somebody has signed in. */
@Entity
@Table(name = "sign_in_address")
@IdClass(KnownAddressRow.Key.class)
class KnownAddressRow {
  @Id String person;
  @Id String address;
  Instant lastSeen;

  /** Who, and from where. */
  record Key(String person, String address) implements Serializable {}
}
