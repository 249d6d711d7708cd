package dev.purser.service.definition;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** One act of publishing; its revision counts up from 1. */
@Entity
@Table(name = "publication")
public class PublicationRow {
  @Id public long revision;
  public Instant at;
  public String who;
  public String reason;

  /** Where it comes from, other than from a person's own hand; empty for that. */
  public String origin = "";
}
