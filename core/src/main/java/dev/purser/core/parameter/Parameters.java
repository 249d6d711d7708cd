package dev.purser.core.parameter;

import java.util.Arrays;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;

/**
 * Effective values for placeholders, each with the level that it comes from. Levels are laid upon
 * each other; the upper one counts. Immutable, so that the runs of a start share it.
 */
public final class Parameters {
  /** No values at all. */
  public static final Parameters NONE = new Parameters(new TreeMap<>());

  private final Map<String, Effective> all;

  private Parameters(Map<String, Effective> all) {
    this.all = all;
  }

  /** Where a value comes from, the weakest level first. */
  public enum Origin {
    /** Of everything here. */
    SITE,
    /** Of the environment that the service stands for, such as test. */
    ENVIRONMENT,
    /** Of the stream's department. */
    DEPARTMENT,
    /** Of the stream. */
    STREAM,
    /** Of the entry of its schedule. */
    SCHEDULE,
    /** Of the step that uses the stream. */
    STEP,
    /** Of the job. */
    JOB,
    /** Of the start by hand. */
    START;

    /** Whether values of it differ from start to start; what is declared shell text it leaves. */
    public boolean isOfAStart() {
      return this == SCHEDULE || this == STEP || this == START;
    }

    /** The word for people and the API. */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }

    /** The level of a word. */
    public static Optional<Origin> of(String word) {
      return Arrays.stream(values()).filter(one -> one.word().equals(word)).findFirst();
    }
  }

  /**
   * A value and the level that it comes from.
   *
   * @param shell whether its author declared it a piece of the command line
   */
  public record Effective(String value, Origin origin, boolean shell) {
    /** One word. */
    public Effective(String value, Origin origin) {
      this(value, origin, false);
    }
  }

  /**
   * These values with others of a level; a value of a stronger level stays.
   *
   * @param origin the level of all that are added
   * @param values by name; they may ask for each other by placeholders, which are not filled in
   *     here
   */
  public Parameters with(Origin origin, Map<String, String> values) {
    return with(origin, Given.words(values));
  }

  /**
   * These values with others of a level. What is declared a piece of the command line stays as its
   * author wrote it: no schedule, step or start replaces it.
   */
  public Parameters with(Origin origin, Given given) {
    if (given.texts().isEmpty()) {
      return this;
    }
    TreeMap<String, Effective> both = new TreeMap<>(all);
    given
        .texts()
        .forEach(
            (name, value) -> {
              Effective there = both.get(name);
              boolean stays =
                  there != null
                      && (there.origin().compareTo(origin) > 0
                          || (there.shell() && origin.isOfAStart()));
              if (!stays) {
                both.put(name, new Effective(value, origin, given.shell().contains(name)));
              }
            });
    return new Parameters(both);
  }

  /** All values with their levels, by name. */
  public Map<String, Effective> all() {
    return Map.copyOf(all);
  }

  /** The names that have a value. */
  public Set<String> names() {
    return all.keySet();
  }

  /** The effective value of a name. */
  public Optional<Effective> of(String name) {
    return Optional.ofNullable(all.get(name));
  }

  /** The values alone, by name. */
  public Map<String, String> values() {
    Map<String, String> values = new TreeMap<>();
    all.forEach((name, effective) -> values.put(name, effective.value()));
    return values;
  }

  /** The values of one level that count. */
  public Map<String, String> of(Origin origin) {
    Map<String, String> values = new TreeMap<>();
    all.forEach(
        (name, effective) -> {
          if (effective.origin() == origin) {
            values.put(name, effective.value());
          }
        });
    return values;
  }

  /** Other values, with those of these that belong to their start laid upon them. */
  public Parameters startOver(Parameters others) {
    Parameters both = others;
    for (Origin origin : Origin.values()) {
      both = origin.isOfAStart() ? both.with(origin, of(origin)) : both;
    }
    return both;
  }

  @Override
  public boolean equals(Object other) {
    return this == other || (other instanceof Parameters them && all.equals(them.all));
  }

  @Override
  public int hashCode() {
    return all.hashCode();
  }

  @Override
  public String toString() {
    return values().toString();
  }
}
