package dev.purser.core.event;

import java.util.Map;

/** Why an alert is opened for a run: facts, of which {@code AlertWords} makes a sentence. */
public sealed interface AlertReason {
  /**
   * It has failed for good.
   *
   * @param note how, as its status says
   * @param values what it handed back all the same
   */
  record Failed(String note, Map<String, String> values) implements AlertReason {}

  /** It had not started by a time, epoch milliseconds. */
  record NotStarted(long by) implements AlertReason {}

  /** It had not finished well by a time, epoch milliseconds. */
  record NotFinished(long by) implements AlertReason {}

  /** It has been running for longer than usual, in milliseconds. */
  record TakesLong(long usual) implements AlertReason {}

  /** A question has not been answered since a time, epoch milliseconds. */
  record Unanswered(long since, String question) implements AlertReason {}
}
