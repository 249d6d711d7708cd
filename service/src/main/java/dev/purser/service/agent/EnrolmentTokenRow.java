package dev.purser.service.agent;

import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.hibernate.annotations.JdbcTypeCode;
import org.hibernate.type.SqlTypes;

/** A token with which one agent can be enrolled, once. */
@Entity
@Table(name = "enrolment_token")
class EnrolmentTokenRow {
  @Id
  @JdbcTypeCode(SqlTypes.CHAR)
  @Column(length = 64)
  String tokenHash;

  String host;
  Instant expires;
  Instant used;
}
