package dev.purser.service.plan;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import java.time.LocalDate;

/** A stream that is paused. */
@Entity
@Table(name = "pause")
public class PauseRow {
  @Id public String stream;
  public Instant since;

  /** The date on which it goes on by itself; null for none. */
  public LocalDate until;

  public String who;
  public String reason;
}
