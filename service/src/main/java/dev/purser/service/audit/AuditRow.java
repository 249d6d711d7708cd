package dev.purser.service.audit;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** An entry of the audit trail. */
@Entity
@Table(name = "audit")
public class AuditRow {
  @Id
  @GeneratedValue(strategy = GenerationType.IDENTITY)
  public Long id;

  public Instant at;
  public String who;
  public String address;
  public String what;
  public String about;
  public String reason;
}
