package dev.purser.service.people;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** Somebody who may sign in. */
@Entity
@Table(name = "person")
public class PersonRow {
  @Id public String name;
  public String role;
  public String passwordHash;

  /** Whether the password was set by somebody else and must be replaced at the next sign-in. */
  public boolean mustChange;

  public Instant created;

  /** Whether nothing of theirs opens anything until an administrator unlocks them. */
  public boolean locked;

  /** Sessions that began before this have ended; null where none has been ended. */
  public Instant accessSince;

  /** Where alerts reach this person; empty for nowhere. */
  public String mail = "";

  /** Whether a session that began then still holds. */
  boolean holds(Instant begun) {
    return !locked && !mustChange && (accessSince == null || !begun.isBefore(accessSince));
  }
}
