package dev.purser.service.board;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.IdClass;
import jakarta.persistence.Table;
import java.io.Serializable;
import java.time.Instant;

/** A job, stream or department that is held until it is released. */
@Entity
@Table(name = "standing_hold")
@IdClass(StandingHoldRow.Key.class)
public class StandingHoldRow {
  @Id public String kind;
  @Id public String name;
  public String note;
  public String who;
  public Instant since;

  /** What is held. */
  public record Key(String kind, String name) implements Serializable {}
}
