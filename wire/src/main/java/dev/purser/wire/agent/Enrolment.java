package dev.purser.wire.agent;

import jakarta.validation.constraints.Size;

/** How an agent becomes known: a token that an administrator gave is exchanged for a key. */
public final class Enrolment {
  /** Where it asks. */
  public static final String PATH = "/agent/v1/enrol";

  /** Where it connects. */
  public static final String LINK_PATH = "/agent/v1/link";

  /** Where it connects for a road that it was asked for; its id follows. */
  public static final String ROAD_PATH = "/agent/v1/road/";

  /** Names the host at the connection. */
  public static final String HOST_HEADER = "Purser-Host";

  /** Names the agent's installation, so that its own return can be told from a second agent. */
  public static final String INSTANCE_HEADER = "Purser-Instance";

  private Enrolment() {}

  /** The question. */
  public record Request(@Size(max = 300) String host, @Size(max = 300) String token) {}

  /** The answer: a key of the host's own, given once. */
  public record Granted(String key) {}
}
