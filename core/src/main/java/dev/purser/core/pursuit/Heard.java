package dev.purser.core.pursuit;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What a remote service answered, or that it did not. All texts are the service's, or for people.
 */
public sealed interface Heard {
  /** Why it is so, for people; empty where that is plain. */
  default String why() {
    return "";
  }

  /** It has begun. */
  record Begun(String id, String link) implements Heard {}

  /** It was refused, and has surely not begun. */
  record Refused(String why) implements Heard {}

  /** Nothing was sent: this site may not be called, or signing in was refused. */
  record NotAsked(String why) implements Heard {}

  /** It may have begun, or not: there was no answer, or none that can be understood. */
  record Unclear(String why) implements Heard {}

  /**
   * Nothing was done: the service is not there, or asks to come back later.
   *
   * @param comeBackAfter for how long it asks to be left alone
   */
  record Away(String why, Optional<Duration> comeBackAfter) implements Heard {}

  /** It does not know what was asked for. */
  record NoSuchThing(String why) implements Heard {}

  /**
   * How it stands.
   *
   * @param word its own word for its state
   * @param values by the names that the description gives them
   */
  record Seen(String word, String error, String progress, String link, Map<String, String> values)
      implements Heard {}

  /** What was begun lately, the newest first. */
  record Listed(List<Item> items) implements Heard {}

  /** It was told to stop, and took that. */
  record ToldToStop() implements Heard {}

  /**
   * Something that was begun.
   *
   * @param word its own word for its state
   * @param started when it began, where it says
   * @param key with which it was begun; empty where it does not say
   */
  record Item(String id, String word, Optional<Instant> started, String key) {}
}
