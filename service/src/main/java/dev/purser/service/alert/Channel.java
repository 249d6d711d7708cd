package dev.purser.service.alert;

import dev.purser.core.definition.Way;

/** A way by which alerts reach people and systems: a room of its own. */
public interface Channel {
  /** Its name in definitions and records. */
  String name();

  /**
   * Delivers a message to one address.
   *
   * @return what the receiver answered, in a few words
   * @throws DeliveryFailed where it did not arrive, as far as can be known
   */
  String deliver(Message message, Way way) throws DeliveryFailed;

  /** A delivery that did not succeed. */
  class DeliveryFailed extends Exception {
    private static final long serialVersionUID = 1L;

    /** For people: what was tried, and what came back. */
    public DeliveryFailed(String message, Throwable cause) {
      super(message, cause);
    }
  }

  /** A delivery that can never succeed: it is not tried again. */
  final class Refused extends DeliveryFailed {
    private static final long serialVersionUID = 1L;

    /** For people: what was tried, and what came back. */
    public Refused(String message) {
      super(message, null);
    }
  }
}
