package dev.purser.service.definition;

import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.hibernate.annotations.JdbcTypeCode;
import org.hibernate.type.SqlTypes;

/** One revision of one definition. */
@Entity
@Table(name = "definition")
public class DefinitionRow {
  @Id
  @GeneratedValue(strategy = GenerationType.IDENTITY)
  public Long id;

  public String kind;
  public String name;
  public long revision;
  public boolean withdrawn;

  @JdbcTypeCode(SqlTypes.LONGVARCHAR)
  @Column(columnDefinition = "mediumtext")
  public String text;

  public String file;

  /** Name of the for-each whose row made it; empty where somebody wrote it. */
  public String madeBy = "";

  public Instant publishedAt;
  public String publishedBy;
}
