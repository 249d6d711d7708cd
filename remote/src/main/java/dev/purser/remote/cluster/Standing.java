package dev.purser.remote.cluster;

/** How a piece of work stands in its cluster. */
public sealed interface Standing {
  /** Nothing of it is there. */
  record Gone() implements Standing {}

  /** An object of its name is there that is not ours. */
  record NotOurs() implements Standing {}

  /**
   * It is there, and does not run yet.
   *
   * @param why as the cluster says it; empty where it says nothing
   * @param cannotPull whether its image cannot be had, so that it may wait for ever
   */
  record Waiting(String why, boolean cannotPull) implements Standing {}

  /**
   * It runs, or is being stopped.
   *
   * @param pod whose log is its output
   * @param node where it runs
   */
  record Running(String pod, String node) implements Standing {}

  /**
   * Its container has ended by itself.
   *
   * @param code of its exit
   * @param reason such as OOMKilled; empty for none
   * @param message what it left as its last message: the values that it hands back
   */
  record Ended(String pod, int code, String reason, String message) implements Standing {}

  /**
   * It cannot start, whatever one waits for.
   *
   * @param why as the cluster says it
   */
  record Refused(String why) implements Standing {}

  /**
   * The cluster ended it, and how far it came is not known.
   *
   * @param pod whose log may still be there; empty where it is not
   */
  record Lost(String pod, String why) implements Standing {}
}
