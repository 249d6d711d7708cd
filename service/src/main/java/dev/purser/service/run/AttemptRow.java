package dev.purser.service.run;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.IdClass;
import jakarta.persistence.Table;
import java.io.Serializable;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;

/** An attempt's row. */
@Entity
@DynamicUpdate // others write other columns of it at the same time
@Table(name = "attempt")
@IdClass(AttemptRow.Key.class)
public class AttemptRow {
  @Id public long run;
  @Id public int number;
  public String host;
  public Instant sent;
  public Instant started;
  public Instant ended;
  public Integer exitCode;
  public String note;
  public long outputTotal;
  public long outputKept;
  public boolean outputComplete;

  /** A run and an attempt's number. */
  public record Key(long run, int number) implements Serializable {}
}
