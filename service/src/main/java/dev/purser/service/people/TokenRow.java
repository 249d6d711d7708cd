package dev.purser.service.people;

import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import java.time.LocalDate;
import org.hibernate.annotations.Generated;
import org.hibernate.annotations.JdbcTypeCode;
import org.hibernate.type.SqlTypes;

/** A token by which programs act for a person. */
@Entity
@Table(name = "api_token")
public class TokenRow {
  @Id
  @JdbcTypeCode(SqlTypes.CHAR)
  @Column(length = 64)
  String tokenHash;

  /** The number that it is named by; made by the database. */
  @Generated
  @Column(insertable = false, updatable = false)
  public Long id;

  public String person;
  public String label;
  public Instant created;
  public String scope;

  /** From when it opens nothing any more; null for one of before, which has no end. */
  public Instant expires;

  /** The last date on which it was used, UTC; null for never. */
  public LocalDate used;

  /** Whether it opens anything at a moment. */
  boolean holds(Instant at) {
    return expires == null || at.isBefore(expires);
  }
}
