package dev.purser.service.draft;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;

/** A draft, without its files. */
@Entity
@Table(name = "draft")
public class DraftRow {
  @Id
  @GeneratedValue(strategy = GenerationType.IDENTITY)
  public Long id;

  public String title;

  /** Who began it. */
  public String owner;

  /** Who writes it now: nobody else may save it. */
  public String holder;

  public Instant created;
  public Instant changed;
  public String changedBy;

  /** Counts its savings, from 1. */
  public long version;

  /** The revision of all definitions that its writer has seen. */
  public long seen;

  /** When somebody was asked to agree to it; null where nobody was. */
  public Instant asked;

  public String askedBy = "";
  public String askReason = "";

  /** When somebody else agreed to it; null where nobody has. */
  public Instant agreed;

  public String agreedBy = "";

  /** The version that they agreed to. */
  public long agreedVersion;

  /** How often it was tried. */
  public int trials;

  /** The business date from which it goes live by itself; null where it does not. */
  public LocalDate liveFrom;

  /** Who had it go live. */
  public String liveBy = "";

  public String liveReason = "";

  /** What is in the way of that; empty for nothing. */
  public String liveTrouble = "";

  /** Names of people, or roles in the plural, a line each. */
  public String shared = "";

  /** Whom it is shared with. */
  public List<String> sharedWith() {
    return shared.lines().filter(one -> !one.isBlank()).toList();
  }

  /** Whether somebody else has agreed to it as it is now. */
  public boolean isAgreed() {
    return agreed != null && agreedVersion == version;
  }
}
