package dev.purser.service.run;

import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import java.time.LocalDate;

/** A run's row: what was planned, and all that the board knows of it. */
@Entity
@Table(name = "run")
public class RunRow {
  @Id public long id;
  public String stream;
  public String job;
  public String streamTitle;
  public String title;
  public String department;
  public String kind;
  public LocalDate businessDate;
  public int number;
  public long revision;
  public Instant due;
  public String shift;
  public Instant startBy;
  public Instant finishBy;
  public String zone;
  public boolean waived;
  public long longAfter;
  public String state;
  public String hold;
  public Instant since;
  public int attempts;
  public int budget;
  public String host;
  public Instant started;
  public Instant ended;
  public Instant retryAt;
  public Integer exitCode;
  public String note;
  public String stopping;
  public boolean notNeeded;
  public String openAlerts;
  public String files;

  @Column(columnDefinition = "mediumtext")
  public String parameters;

  public String leftOut;
  public String ifMissed;
  public Instant startLimit;
  public Instant windowStart;
  public Instant windowEnd;
  public String windowAfter;

  /** What people call the run. */
  public String reference() {
    return stream + "/" + job + "@" + businessDate + "#" + number;
  }
}
