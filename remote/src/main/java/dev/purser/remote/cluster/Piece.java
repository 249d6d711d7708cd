package dev.purser.remote.cluster;

import java.util.List;
import java.util.Map;

/**
 * A piece of work in a cluster: a job object of one attempt, whose pod runs one container once.
 *
 * @param namespace in which it is
 * @param name of the job object, no other attempt's: up to 63 lower-case letters, digits, dashes
 * @param key by which an object of this name is known to be ours
 * @param about what people read there: the run's reference
 * @param command empty for what the image says
 * @param environment variables
 * @param secrets further variables, kept in a secret object of the same name
 * @param cpu empty for no limit
 * @param memory empty for no limit
 * @param graceSeconds between asking it to stop and forcing it
 */
public record Piece(
    String namespace,
    String name,
    String key,
    String about,
    String image,
    List<String> command,
    Map<String, String> environment,
    Map<String, String> secrets,
    String cpu,
    String memory,
    long graceSeconds) {
  /** Copies what can change. */
  public Piece {
    command = List.copyOf(command);
    environment = Map.copyOf(environment);
    secrets = Map.copyOf(secrets);
  }

  /** Shows no secrets. */
  @Override
  public String toString() {
    return namespace + "/" + name;
  }
}
