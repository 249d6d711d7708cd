package dev.purser.service.run;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.IdClass;
import jakarta.persistence.Table;
import java.io.Serializable;
import java.time.Instant;

/** A filter of the runs page that a person keeps under a name. */
@Entity
@Table(name = "kept_filter")
@IdClass(KeptFilterRow.Key.class)
public class KeptFilterRow {
  @Id public String person;
  @Id public String name;
  public String filter;
  public Instant changed;

  /** Whose it is, and its name. */
  public record Key(String person, String name) implements Serializable {}
}
