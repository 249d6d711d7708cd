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
  public boolean mustChange;
  public Instant created;
}
