package dev.purser.service.run;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** Something that happened to a run. */
@Entity
@Table(name = "moment")
public class MomentRow {
  @Id
  @GeneratedValue(strategy = GenerationType.IDENTITY)
  public Long id;

  public long run;
  public Instant at;
  public String state;
  public String note;
}
