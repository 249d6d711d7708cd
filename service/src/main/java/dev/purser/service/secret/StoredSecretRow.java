package dev.purser.service.secret;

import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** A secret that the service keeps, encrypted. */
@Entity
@Table(name = "stored_secret")
public class StoredSecretRow {
  @Id public String name;

  @Column(columnDefinition = "varbinary(16384)")
  byte[] sealed;

  /** Which key it is encrypted with. */
  public String keyId;

  /** How often it was set. */
  public int version;

  public Instant since;
  public String who;

  /** When it was last used; null for never. */
  public Instant used;
}
