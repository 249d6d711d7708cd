package dev.purser.service.alert;

import java.time.Instant;
import java.util.Optional;

/**
 * What a delivery tells: an alert, and what was said of it in the step that it tells of.
 *
 * @param what the step
 * @param kind the kind that it had then
 * @param text what was said then
 * @param at when that was
 */
record Told(String what, String kind, String text, Instant at) {
  /** A delivery that was written before steps were kept tells of the alert as it is. */
  static Told of(AlertRow alert, Optional<AlertStepRow> step) {
    return step.map(one -> new Told(one.what, one.kind, one.text, one.at))
        .orElseGet(() -> new Told("opened", alert.kind, alert.text, alert.opened));
  }
}
