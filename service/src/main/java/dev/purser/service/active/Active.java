package dev.purser.service.active;

/** Whether this service is the active one on its database. */
public interface Active {
  /** Whether it decides; else it stands by while another does. */
  boolean isActive();

  /**
   * Whether it is certain that no other is active at this moment. What cannot be taken back, such
   * as a mail, goes out only then.
   */
  default boolean isSure() {
    return isActive();
  }
}
