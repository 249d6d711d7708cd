package dev.purser.service.output;

import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.IdClass;
import jakarta.persistence.Table;
import java.io.Serializable;
import org.hibernate.annotations.JdbcTypeCode;
import org.hibernate.type.SqlTypes;

/** A piece of output, deflated. */
@Entity
@Table(name = "output_piece")
@IdClass(OutputPieceRow.Key.class)
class OutputPieceRow {
  @Id long run;
  @Id int attempt;
  @Id long start;
  int length;

  @JdbcTypeCode(SqlTypes.LONGVARBINARY)
  @Column(columnDefinition = "mediumblob")
  byte[] data;

  /** Where a piece belongs. */
  record Key(long run, int attempt, long start) implements Serializable {}
}
