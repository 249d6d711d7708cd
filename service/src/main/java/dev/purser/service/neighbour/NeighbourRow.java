package dev.purser.service.neighbour;

import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import org.hibernate.annotations.JdbcTypeCode;
import org.hibernate.type.SqlTypes;

/** Another environment. */
@Entity
@Table(name = "neighbour")
public class NeighbourRow {
  @Id public String name;

  /** The connection by which its API is reached. */
  public String connection;

  /** What is called otherwise here: YAML; empty for nothing. */
  @JdbcTypeCode(SqlTypes.LONGVARCHAR)
  @Column(columnDefinition = "mediumtext")
  public String names = "";
}
