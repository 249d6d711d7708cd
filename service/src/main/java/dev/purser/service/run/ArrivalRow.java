package dev.purser.service.run;

import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.hibernate.annotations.JdbcTypeCode;
import org.hibernate.type.SqlTypes;

/** A file that a run has used; its identity is unique, so no second run can. */
@Entity
@Table(name = "arrival")
public class ArrivalRow {
  @Id
  @JdbcTypeCode(SqlTypes.CHAR)
  @Column(length = 64)
  public String identity;

  public String watch;
  public String host;
  public String path;
  public long size;
  public Instant modified;
  public long run;
  public Instant looked;
  public Instant at;
}
