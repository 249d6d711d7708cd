package dev.purser.service.handover;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** A note of one shift for the next, signed by both. Its text is never changed. */
@Entity
@Table(name = "handover")
public class HandoverRow {
  @Id
  @GeneratedValue(strategy = GenerationType.IDENTITY)
  public Long id;

  public Instant written;
  public String who;
  public String text;

  /** How things stood when it was written, in words. */
  public String standing;

  /** When somebody took over; null where nobody has yet. */
  public Instant taken;

  /** Who took over; empty where nobody has yet. */
  public String takenBy;
}
