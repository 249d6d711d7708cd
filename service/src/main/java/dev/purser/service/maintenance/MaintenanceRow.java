package dev.purser.service.maintenance;

import jakarta.persistence.Entity;
import jakarta.persistence.GeneratedValue;
import jakarta.persistence.GenerationType;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;

/** A time at which nobody is told of a scope, or a host is given no work. */
@Entity
@Table(name = "maintenance")
public class MaintenanceRow {
  /** Nobody is told. */
  public static final String MUTE = "mute";

  /** A host is given no work. */
  public static final String DRAIN = "drain";

  @Id
  @GeneratedValue(strategy = GenerationType.IDENTITY)
  public Long id;

  /** {@link #MUTE} or {@link #DRAIN}. */
  public String what;

  /** {@code site}, {@code department}, {@code stream} or {@code host}. */
  public String scope;

  /** Empty for the site. */
  public String name;

  public Instant begins;
  public Instant ends;
  public String reason;
  public String who;
  public Instant made;

  /** {@code planned}, {@code on} or {@code over}. */
  public String state;

  /** What has become of it, for people. */
  public String note;

  /** What it is about, in words. */
  public String about() {
    return scope.equals("site") ? "site" : scope + " " + name;
  }

  /** Whether it holds at a moment. */
  public boolean holds(Instant now) {
    return !state.equals("over") && !now.isBefore(begins) && now.isBefore(ends);
  }
}
