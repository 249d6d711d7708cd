package dev.purser.service.calendar;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** How the last fetch of a calendar went. */
@Entity
@Table(name = "calendar_fetch")
public class CalendarFetchRow {
  @Id public String calendar;
  public Instant tried;

  /** When it was fetched well for the last time; null for never. */
  public Instant fetched;

  /** What went wrong the last time; empty where nothing did. */
  public String error;
}
