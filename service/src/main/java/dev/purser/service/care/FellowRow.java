package dev.purser.service.care;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** A service on this database, as it was when it last gave a sign of life. */
@Entity
@Table(name = "fellow")
class FellowRow {
  /** Host and port. */
  @Id public String name;

  /** Whether it decided. */
  public boolean active;

  public Instant seen;
}
