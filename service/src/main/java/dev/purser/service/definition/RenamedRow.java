package dev.purser.service.definition;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** A definition got another name. */
@Entity
@Table(name = "renamed")
public class RenamedRow {
  @Id
  @GeneratedValue(strategy = GenerationType.IDENTITY)
  public Long id;

  public String kind;
  public String oldName;
  public String newName;

  /** The first revision in which it has the new one. */
  public long revision;

  public Instant at;
  public String who;
}
