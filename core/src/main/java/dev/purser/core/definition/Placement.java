package dev.purser.core.definition;

/** Where a job's work is placed. */
public sealed interface Placement {
  /** On one host by name. */
  record OnHost(String host) implements Placement {
    @Override
    public String toString() {
      return host;
    }
  }

  /** On the least loaded host of a group. */
  record AnyOf(String group) implements Placement {
    @Override
    public String toString() {
      return "any of " + group;
    }
  }

  /** In the service itself: nothing runs on a host. */
  record Nowhere() implements Placement {
    @Override
    public String toString() {
      return "no host";
    }
  }
}
