package dev.purser.service.alert;

import java.time.Instant;
import java.util.Optional;

/**
 * What a delivery tells.
 *
 * @param alert what it is about, as it is now
 * @param kind word of the kind that it had when this was to be told
 * @param text what it said then
 * @param at when that was
 */
record Told(AlertRow alert, String kind, String text, Instant at) {
  /** A delivery that was written before steps were kept tells of the alert as it is. */
  static Told of(AlertRow alert, Optional<AlertStepRow> step) {
    return step.map(one -> new Told(alert, one.kind, one.text, one.at))
        .orElseGet(() -> new Told(alert, alert.kind, alert.text, alert.opened));
  }
}
