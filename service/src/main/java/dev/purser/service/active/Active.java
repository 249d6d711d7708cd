package dev.purser.service.active;

/** Whether this service is the active one on its database. */
public interface Active {
  /** Whether it decides; else it stands by while another does. */
  boolean isActive();
}
