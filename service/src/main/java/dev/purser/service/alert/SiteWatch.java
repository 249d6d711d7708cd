package dev.purser.service.alert;

import dev.purser.core.alert.AlertKind;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Looks after one sort of thing of the site. A new kind of alert is a class that says what is wrong
 * now; {@link SiteAlerts} opens alerts and closes them.
 */
public interface SiteWatch {
  /**
   * The kinds that its alerts may have. No two watches have one in common. Where what is wrong with
   * something is of another kind than before, its alert changes.
   */
  Set<AlertKind> kinds();

  /** What is wrong now, each reference once; empty where that cannot be told yet. */
  Optional<List<SiteTrouble>> wrong();

  /** Whether an alert of its kinds is about something that it looks after; the others it leaves. */
  default boolean looksAfter(String reference) {
    return true;
  }

  /** Why an alert is closed whose reason is gone. */
  default String because(String reference) {
    return "that is not so any more";
  }
}
