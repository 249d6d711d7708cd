package dev.purser.core.remote;

import java.util.Map;
import java.util.Optional;

/**
 * How an outside service is asked, watched and stopped; described once, used by many jobs.
 *
 * @param name within its kind
 * @param title for people
 * @param about what it is
 * @param connection by which it is reached
 * @param operations what it can be asked for, by name, in the order of the file
 */
public record RemoteService(
    String name, String title, String about, String connection, Map<String, Operation> operations) {
  /** An operation by its name. */
  public Optional<Operation> operation(String operation) {
    return Optional.ofNullable(operations.get(operation));
  }
}
