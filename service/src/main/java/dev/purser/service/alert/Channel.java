package dev.purser.service.alert;

/** A way by which alerts reach people. */
interface Channel {
  /** Its name in records. */
  String name();

  /**
   * Delivers what is told of an alert to one address.
   *
   * @param deliveryId the same for every try, so that a receiver can tell a repeat
   * @throws DeliveryFailed where it did not arrive, as far as can be known
   */
  void deliver(Told told, String address, String deliveryId) throws DeliveryFailed;

  /** A delivery that did not succeed. */
  final class DeliveryFailed extends Exception {
    private static final long serialVersionUID = 1L;

    DeliveryFailed(String message, Throwable cause) {
      super(message, cause);
    }
  }
}
