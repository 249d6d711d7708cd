package dev.purser.core.reading;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * The keys that a mapping may have. The reader asks for its keys through this table and the JSON
 * Schema is written from it, so that the two cannot differ. Asking for a key that the table lacks
 * is a fault of ours: {@link IllegalStateException}.
 */
public final class Keys {

  /** The form of a value. */
  public enum Form {
    TEXT("string"),
    NAME("string"),
    PATH("string"),
    DAY_RULE("string"),
    PREREQUISITE("string"),
    TIME("string"),
    TIMES("string-or-list"),
    ZONE("string"),
    DURATION("string"),
    DURATIONS("string"),
    NAMES("string-or-list"),
    NUMBER("integer"),
    CODES("scalar"),
    FLAG("flag"),
    FLAG_OR_ENTRY("flag-or-object"),
    TEXTS("map of string"),
    PARAMETERS("map of parameter"),
    NUMBERS("map of integer"),
    ENTRY("object"),
    ENTRY_OR_LIST("object-or-list"),
    RULES("string-or-list"),
    ENTRIES("map of object"),
    LIST("list of object"),
    TREE("any");

    final String json;

    Form(String json) {
      this.json = json;
    }
  }

  /** One key: its name, form, whether it must be there, what it means, and what is below it. */
  record Key(String name, Form form, boolean required, String about, Keys below) {
    /** Characters of one value at most: as many as there is room for wherever it is kept. */
    int longest() {
      return LONGEST.getOrDefault(name, form == Form.PATH ? LONGEST_PATH : LONGEST_TEXT);
    }
  }

  /** Characters of a stream's path, and of those of its steps. */
  public static final int LONGEST_PATH = 200;

  private static final int LONGEST_TEXT = 100_000;
  private static final Map<String, Integer> LONGEST =
      Map.ofEntries(
          Map.entry("title", 300),
          Map.entry("department", 200),
          Map.entry("owner", 100),
          Map.entry("about", 5_000),
          Map.entry("when-it-fails", 5_000),
          Map.entry("zone", 60),
          Map.entry("user", 100),
          Map.entry("directory", 10_000),
          Map.entry("path", 2_000),
          Map.entry("request", 2_000),
          Map.entry("address", 500),
          Map.entry("token-address", 500),
          Map.entry("webhook", 500),
          Map.entry("body", 10_000));

  private final Map<String, Key> keys = new LinkedHashMap<>();

  /** Adds a key that must be there, with what it means in a line. */
  public Keys must(String name, Form form, String about) {
    return add(new Key(name, form, true, about, null));
  }

  /** Adds a key that may be there, with what it means in a line. */
  public Keys may(String name, Form form, String about) {
    return add(new Key(name, form, false, about, null));
  }

  /** Adds a key that may be there, and has keys of its own. */
  public Keys may(String name, Form form, String about, Keys below) {
    return add(new Key(name, form, false, about, below));
  }

  /** Adds a key that must be there, and has keys of its own. */
  public Keys must(String name, Form form, String about, Keys below) {
    return add(new Key(name, form, true, about, below));
  }

  /** Adds all keys of another table. */
  Keys with(Keys others) {
    others.all().forEach(this::add);
    return this;
  }

  private Keys add(Key key) {
    if (keys.put(key.name(), key) != null) {
      throw new IllegalStateException("two keys of one table are named " + key.name());
    }
    return this;
  }

  Key key(String name) {
    Key key = keys.get(name);
    if (key == null) {
      throw new IllegalStateException("the reader asks for a key that the table lacks: " + name);
    }
    return key;
  }

  boolean has(String name) {
    return keys.containsKey(name);
  }

  List<String> names() {
    return new ArrayList<>(keys.keySet());
  }

  Iterable<Key> all() {
    return keys.values();
  }
}
