package dev.purser.service.call;

import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.IdClass;
import jakarta.persistence.Table;
import java.io.Serializable;
import java.time.Instant;
import org.hibernate.annotations.JdbcTypeCode;
import org.hibernate.type.SqlTypes;

/** How far an attempt at a remote service has come. */
@Entity
@Table(name = "remote_call")
@IdClass(RemoteCallRow.Key.class)
class RemoteCallRow {
  @Id long run;
  @Id int attempt;
  String service;
  String operation;
  String phase;
  String remoteId;

  /** A {@code Pursuit} as JSON. */
  @JdbcTypeCode(SqlTypes.LONGVARCHAR)
  @Column(columnDefinition = "mediumtext")
  String pursuit;

  /** What its requests are filled with, as JSON: by what stands in the braces. */
  @JdbcTypeCode(SqlTypes.LONGVARCHAR)
  @Column(columnDefinition = "mediumtext")
  String filled;

  Instant begun;
  Instant changed;

  /** Whose it is. */
  record Key(long run, int attempt) implements Serializable {}
}
