package dev.purser.service.alert;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** One step in the life of an alert. Never changed. */
@Entity
@Table(name = "alert_step")
public class AlertStepRow {
  @Id
  @GeneratedValue(strategy = GenerationType.IDENTITY)
  public Long id;

  public long alert;
  public Instant at;

  /**
   * {@code opened}, {@code changed}, {@code acknowledged}, {@code put off}, {@code commented} or
   * {@code closed}.
   */
  public String what;

  /** The kind that the alert had from then on. */
  public String kind;

  /** Who took the step; empty where nobody did. */
  public String who;

  /** What the alert said from then on, or why it was closed. */
  public String text;

  /** A step of an alert as it is now. */
  public static AlertStepRow of(AlertRow alert, String what, String who, String text, Instant at) {
    AlertStepRow step = new AlertStepRow();
    step.alert = alert.id;
    step.at = at;
    step.what = what;
    step.kind = alert.kind;
    step.who = who;
    step.text = text;
    return step;
  }
}
