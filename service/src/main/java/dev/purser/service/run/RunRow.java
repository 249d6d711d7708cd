package dev.purser.service.run;

import jakarta.persistence.Column;
import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import org.hibernate.annotations.Formula;

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

  /** Words of the kinds that are open for it, joined by commas; null for none. Only read here. */
  @Formula("(select group_concat(a.kind order by a.kind) from open_alert a where a.run = id)")
  public String openAlerts;

  @Column(columnDefinition = "mediumtext")
  public String files;

  @Column(columnDefinition = "mediumtext")
  public String parameters;

  public String leftOut;
  public String ifMissed;
  public Instant startLimit;
  public Instant windowStart;
  public Instant windowEnd;
  public String windowAfter;

  /** When it may start at the earliest, where a person has moved that; else null. */
  public Instant movedDue;

  /** As it stands; -1 for as it is defined. */
  public int priority;

  public boolean startNow;
  public Instant asked;

  @Column(columnDefinition = "mediumtext")
  public String handedBack;

  @Column(columnDefinition = "mediumtext")
  public String assumed;

  /** How often it went to another host because one was lost. */
  public int moves;

  /** Each between commas, with one before the first and after the last; empty for none. */
  public String tags;

  /** What people call the run. */
  public String reference() {
    return stream + "/" + job + "@" + businessDate + "#" + number;
  }

  /** Words of the kinds of alerts that are open for it. */
  public List<String> alerts() {
    return openAlerts == null ? List.of() : List.of(openAlerts.split(","));
  }
}
