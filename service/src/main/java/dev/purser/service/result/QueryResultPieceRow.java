package dev.purser.service.result;

import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.IdClass;
import jakarta.persistence.Table;
import java.io.Serializable;
import org.hibernate.annotations.JdbcTypeCode;
import org.hibernate.type.SqlTypes;

/** Some rows of a result. */
@Entity
@Table(name = "query_result_piece")
@IdClass(QueryResultPieceRow.Key.class)
class QueryResultPieceRow {
  @Id long run;
  @Id int attempt;
  @Id int number;
  @Id int place;
  int many;

  @JdbcTypeCode(SqlTypes.LONGVARBINARY)
  @Column(columnDefinition = "mediumblob")
  byte[] data;

  /** Where it belongs. */
  record Key(long run, int attempt, int number, int place) implements Serializable {}
}
