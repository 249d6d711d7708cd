package dev.purser.core.job;

import java.util.Optional;
import java.util.function.Function;
import java.util.function.Supplier;

/**
 * Where a run's work is, or last was. {@link #as} makes the compiler ask for every case, so that
 * none is mistaken for another.
 */
public sealed interface Where {
  /** Not on a host and not in the service: nothing has been started yet, or it is other runs. */
  static Where nowhere() {
    return new Nowhere();
  }

  /** In the service itself. */
  static Where inService() {
    return new InService();
  }

  /** On a host. */
  static Where onHost(String name) {
    return new OnHost(name);
  }

  /** What it comes to in each case. */
  <R> R as(Function<String, R> onHost, Supplier<R> inService, Supplier<R> nowhere);

  /** As a part of a sentence: on the host, in the service, or nothing. */
  default String inWords() {
    return as(name -> "on " + name, () -> "in the service", () -> "");
  }

  /** As records and the API say it: the host's name, {@code in the service}, or nothing. */
  default String word() {
    return as(name -> name, () -> "in the service", () -> "");
  }

  /** What {@link #word} means; no host has a name with a space. */
  static Where of(String word) {
    return switch (word) {
      case "" -> nowhere();
      case "in the service" -> inService();
      default -> onHost(word);
    };
  }

  /** The host, where it is on one. */
  default Optional<String> host() {
    return as(Optional::of, Optional::empty, Optional::empty);
  }

  /** Whether it is on this host. */
  default boolean isOn(String name) {
    return as(name::equals, () -> false, () -> false);
  }

  /**
   * On a host.
   *
   * @param name never empty
   */
  record OnHost(String name) implements Where {
    /** Refuses what names no host. */
    public OnHost {
      if (name.isEmpty()) {
        throw new IllegalArgumentException("a host has a name");
      }
    }

    @Override
    public <R> R as(Function<String, R> onHost, Supplier<R> inService, Supplier<R> nowhere) {
      return onHost.apply(name);
    }
  }

  /** In the service. */
  record InService() implements Where {
    @Override
    public <R> R as(Function<String, R> onHost, Supplier<R> inService, Supplier<R> nowhere) {
      return inService.get();
    }
  }

  /** Nowhere. */
  record Nowhere() implements Where {
    @Override
    public <R> R as(Function<String, R> onHost, Supplier<R> inService, Supplier<R> nowhere) {
      return nowhere.get();
    }
  }
}
