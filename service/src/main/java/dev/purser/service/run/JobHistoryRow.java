package dev.purser.service.run;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.IdClass;
import jakarta.persistence.Table;
import java.io.Serializable;

/** What is kept of a job's past when its runs are gone: how its last runs went. */
@Entity
@Table(name = "job_history")
@IdClass(JobHistoryRow.Key.class)
public class JobHistoryRow {
  @Id public String stream;
  @Id public String job;

  /** Milliseconds, newest first, with commas between. */
  public String durations;

  /**
   * How long its failures stood before a person had it go on, in milliseconds, newest first, with
   * commas between.
   */
  public String recoveries = "";

  /** Whose it is. */
  public record Key(String stream, String job) implements Serializable {}
}
