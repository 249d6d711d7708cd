package dev.purser.service.run;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.IdClass;
import jakarta.persistence.Table;
import java.io.Serializable;

/** A value that a run handed back. */
@Entity
@Table(name = "run_value")
@IdClass(RunValueRow.Key.class)
public class RunValueRow {
  @Id public long run;
  @Id public String name;
  public int attempt;
  public String value;

  /** A run and a value's name. */
  public record Key(long run, String name) implements Serializable {}
}
