package dev.purser.service.people;

import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.hibernate.annotations.JdbcTypeCode;
import org.hibernate.type.SqlTypes;

/** A token by which programs act for a person. */
@Entity
@Table(name = "api_token")
class TokenRow {
  @Id
  @JdbcTypeCode(SqlTypes.CHAR)
  @Column(length = 64)
  String tokenHash;

  String person;
  String label;
  Instant created;
}
