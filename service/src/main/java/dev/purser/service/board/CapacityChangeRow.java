package dev.purser.service.board;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** How many units a capacity has by a person's word, until they take it back. */
@Entity
@Table(name = "capacity_change")
public class CapacityChangeRow {
  @Id public String capacity;
  public int units;
  public String who;
  public Instant since;
  public String reason;
}
