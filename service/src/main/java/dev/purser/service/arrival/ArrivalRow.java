package dev.purser.service.arrival;

import dev.purser.core.arrival.Arrival;
import dev.purser.core.arrival.ArrivalState;
import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Optional;
import org.hibernate.annotations.JdbcTypeCode;
import org.hibernate.type.SqlTypes;

/** A file that was found. The engine writes it, with plain statements. */
@Entity
@Table(name = "arrival")
public class ArrivalRow {
  @Id public long id;

  @JdbcTypeCode(SqlTypes.CHAR)
  @Column(length = 64)
  public String identity;

  public String watch;
  public String place;
  public String path;
  public LocalDate businessDate;
  public long size;
  public Instant modified;
  public String fileKey;
  public String checksum;
  public Instant found;
  public Instant ready;
  public String state;
  public Instant since;
  public long run;
  public long repeats;
  public String note;
  public String tidy;
  public String tidyNote;

  /** As the ledger knows it. */
  public Arrival arrival() {
    return new Arrival(
        id,
        watch,
        place,
        path,
        Optional.ofNullable(businessDate),
        size,
        modified.toEpochMilli(),
        fileKey,
        checksum,
        found.toEpochMilli(),
        ready == null ? 0 : ready.toEpochMilli(),
        ArrivalState.of(state).orElseThrow(),
        since.toEpochMilli(),
        run,
        repeats,
        note);
  }
}
