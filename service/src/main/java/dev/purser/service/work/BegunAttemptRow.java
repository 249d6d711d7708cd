package dev.purser.service.work;

import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.IdClass;
import jakarta.persistence.Table;
import java.io.Serializable;
import java.time.Instant;
import org.hibernate.annotations.JdbcTypeCode;
import org.hibernate.type.SqlTypes;

/** An attempt that has begun, and may have done something. */
@Entity
@Table(name = "begun_attempt")
@IdClass(BegunAttemptRow.Key.class)
class BegunAttemptRow {
  @Id long run;
  @Id int attempt;

  /** How it ended, as JSON; null before that. */
  @JdbcTypeCode(SqlTypes.LONGVARCHAR)
  @Column(columnDefinition = "text")
  String ended;

  Instant begun;

  /** Whose it is. */
  record Key(long run, int attempt) implements Serializable {}
}
