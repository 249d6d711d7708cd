package dev.purser.service.agent;

import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.hibernate.annotations.JdbcTypeCode;
import org.hibernate.type.SqlTypes;

/** A host whose agent is enrolled. */
@Entity
@Table(name = "host")
public class HostRow {
  @Id public String name;

  @JdbcTypeCode(SqlTypes.CHAR)
  @Column(length = 64)
  public String keyHash;

  public Instant enrolled;
  public Instant lastSeen;
  public String version;
  public String labels;
  public long clockDifference;
}
