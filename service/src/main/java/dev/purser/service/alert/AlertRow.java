package dev.purser.service.alert;

import dev.purser.core.alert.AlertSubject;
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

  /** Word of an {@link AlertSubject}. */
  public String about;

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

  /** Until when nobody need look at it; null where nobody has put it off. */
  public Instant putOffUntil;

  /** Word of an urgency. */
  public String urgency;

  /** Where the rule stands that it follows, for people. */
  public String rule;

  /** A key of what it is about: alerts that name it as their cause come of that. */
  public String ownKey;

  /** A key of what it comes of; empty for nothing else. */
  public String cause;

  /** Its escalation and reminders, as JSON; null for none. */
  public String plan;

  /** What to do, for whoever is called; null where nobody has said it. */
  public String firstAid;

  /** The console's page of what it is about. */
  public String page() {
    return switch (AlertSubject.of(about).orElse(AlertSubject.RUN)) {
      case RUN, WAIT -> "/runs/" + run;
      case HOST -> "/hosts";
      case SERVICE -> "/runs";
      case COMMITMENT -> "/commitments/" + reference.replace("#", "~").replace("@", "/");
      case CALENDAR -> "/calendars";
      case CHANGE -> "/drafts";
      case FILES -> "/files";
      case ARRIVAL -> "/files?view=arrivals";
      case UNPROCESSED -> "/files?view=unprocessed";
    };
  }

  /** Its life in a word, at a time. */
  public String state(Instant now) {
    if (closed != null) {
      return "closed";
    }
    if (putOffUntil != null && now.isBefore(putOffUntil)) {
      return "put off";
    }
    return acknowledged != null ? "acknowledged" : "open";
  }
}
