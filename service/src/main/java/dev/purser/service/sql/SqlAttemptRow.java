package dev.purser.service.sql;

import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.IdClass;
import jakarta.persistence.Table;
import java.io.Serializable;
import java.time.Instant;
import org.hibernate.annotations.JdbcTypeCode;
import org.hibernate.type.SqlTypes;

/** An attempt of statements that has begun. */
@Entity
@Table(name = "sql_attempt")
@IdClass(SqlAttemptRow.Key.class)
class SqlAttemptRow {
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
