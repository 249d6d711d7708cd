package dev.purser.core.job;

import java.util.Optional;

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

  /** On every host of a group at once, as many parts of one run. */
  record EachOf(String group) implements Placement {
    @Override
    public String toString() {
      return "each of " + group;
    }
  }

  /**
   * On so many different hosts of a group at once, as parts of one run.
   *
   * @param count at least 2
   */
  record SomeOf(int count, String group) implements Placement {
    @Override
    public String toString() {
      return count + " of " + group;
    }
  }

  /** A part of a run on {@link SomeOf} a group: where no other part of it is or was. */
  record Another(String group) implements Placement {
    @Override
    public String toString() {
      return "another of " + group;
    }
  }

  /** The group on whose hosts the work is placed; empty where it is not placed on a group. */
  default Optional<String> ofGroup() {
    if (this instanceof AnyOf any) {
      return Optional.of(any.group());
    }
    if (this instanceof EachOf each) {
      return Optional.of(each.group());
    }
    if (this instanceof SomeOf some) {
      return Optional.of(some.group());
    }
    return this instanceof Another another ? Optional.of(another.group()) : Optional.empty();
  }

  /** Whether it is placed on hosts, whichever. */
  default boolean isOnHosts() {
    return !(this instanceof InService || this instanceof Nowhere);
  }

  /** On the host where the file is that starts it; of a run it is that host by name. */
  record WithFile() implements Placement {
    @Override
    public String toString() {
      return "with the file";
    }
  }

  /**
   * In the service itself.
   *
   * @param through the way that it takes from there
   */
  record InService(Through through) implements Placement {
    @Override
    public String toString() {
      return "in the service" + through;
    }
  }

  /**
   * The way that work in the service takes to what it is for.
   *
   * @param host through whose agent; empty for the service's own way, or that of its connection
   * @param group through an agent of this group, whichever is there; empty where a host is named
   */
  record Through(String host, String group) {
    /** The service's own way, or that of the connection. */
    public static final Through NONE = new Through("", "");

    /** As the end of a sentence. */
    @Override
    public String toString() {
      return host.isEmpty() && group.isEmpty()
          ? ""
          : " through " + (host.isEmpty() ? "any of " + group : host);
    }
  }

  /** Nowhere: it is other runs, or a question to a person. */
  record Nowhere() implements Placement {
    @Override
    public String toString() {
      return "no host";
    }
  }
}
