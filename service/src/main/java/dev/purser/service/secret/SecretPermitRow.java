package dev.purser.service.secret;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** A variable or file of the service's host, and the address for which connections may use it. */
@Entity
@Table(name = "secret_permit")
public class SecretPermitRow {
  @Id
  @GeneratedValue(strategy = GenerationType.IDENTITY)
  public Long id;

  /** {@code variable} or {@code file}. */
  public String source;

  public String name;

  /** Scheme, host and port. */
  public String address;

  public Instant since;
  public String who;
  public String reason;
}
