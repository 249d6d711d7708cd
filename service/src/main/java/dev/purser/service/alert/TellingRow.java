package dev.purser.service.alert;

import jakarta.persistence.Entity;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** How far the telling of an alert has come. Written with the alert; then only the teller does. */
@Entity
@Table(name = "alert_telling")
public class TellingRow {
  /** The alert's id. */
  @Id public Long alert;

  /** The alert of what it comes of, or of the storm that it is part of; 0 for none. */
  public long partOf;

  /** How many alerts are part of it. */
  public int parts;

  /** How many of them were told when it was told last. */
  public int partsTold;

  /** When it was told last; null where it has not been. */
  public Instant toldAt;

  /** When somebody must be told again, or told besides; null for never. */
  public Instant nextLook;

  /** When it is to be seen whether more has come of it than people know; null for never. */
  public Instant growLook;

  /** How many steps of its escalation have been told. */
  public int looks;

  /** Whether it has been seen that it is closed, and whoever wants to know it is told. */
  public boolean overLooked;

  /** Nothing has been told yet. */
  public static TellingRow of(AlertRow alert) {
    TellingRow row = new TellingRow();
    row.alert = alert.id;
    row.overLooked = alert.closed != null;
    row.nextLook =
        alert.closed == null ? NextLooks.of(alert.plan).first(alert.opened).orElse(null) : null;
    return row;
  }
}
