package dev.purser.service.result;

import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.IdClass;
import jakarta.persistence.Table;
import java.io.Serializable;
import org.hibernate.annotations.JdbcTypeCode;
import org.hibernate.type.SqlTypes;

/** What a query gave. */
@Entity
@Table(name = "query_result")
@IdClass(QueryResultRow.Key.class)
class QueryResultRow {
  @Id long run;
  @Id int attempt;
  @Id int number;

  /** Names, as a JSON array. */
  @JdbcTypeCode(SqlTypes.LONGVARCHAR)
  @Column(columnDefinition = "mediumtext")
  String columns;

  long found;
  long kept;
  boolean complete;

  /** Which it is. */
  record Key(long run, int attempt, int number) implements Serializable {}
}
