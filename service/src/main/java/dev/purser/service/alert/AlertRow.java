package dev.purser.service.alert;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import org.hibernate.annotations.DynamicUpdate;

/** An alert. */
@Entity
@DynamicUpdate // others write other columns of it at the same time
@Table(name = "alert")
public class AlertRow {
  @Id
  @GeneratedValue(strategy = GenerationType.IDENTITY)
  public Long id;

  public String kind;
  public long run;
  public String reference;
  public String stream;
  public String title;
  public String text;
  public Instant opened;
  public Instant acknowledged;
  public String acknowledgedBy;
  public Instant closed;
  public String closedBecause;

  /** The console's page of what it is about. */
  public String page() {
    if (run != 0) {
      return "/runs/" + run;
    }
    return switch (kind) {
      case "host" -> "/hosts";
      case "file" -> "/files";
      default -> "/calendars";
    };
  }

  /** Its life in a word. */
  public String state() {
    return closed != null ? "closed" : acknowledged != null ? "acknowledged" : "open";
  }
}
