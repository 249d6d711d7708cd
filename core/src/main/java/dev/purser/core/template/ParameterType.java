package dev.purser.core.template;

import dev.purser.core.calendar.DayRuleParser;
import dev.purser.core.phrase.PhraseException;
import dev.purser.core.schedule.Durations;
import dev.purser.core.schedule.Zones;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.LocalTime;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/** What the value of a parameter of a template must be. */
public enum ParameterType {
  /** Anything. */
  TEXT("text", "a text"),
  /** A name as definitions have them. */
  NAME("name", "a name of lower-case letters, digits, dots, dashes and underscores"),
  /** Names joined by slashes. */
  PATH("path", "names of lower-case letters, digits and dashes joined by slashes"),
  /** A whole number. */
  NUMBER("number", "a whole number such as 3"),
  /** Yes or no. */
  FLAG("flag", "yes or no"),
  /** A time of day. */
  TIME("time", "a time of day such as 07:00"),
  /** A length of time. */
  DURATION("duration", "a duration such as 90s, 4m or 1h30m"),
  /** A date. */
  DATE("date", "a date such as 2027-12-24"),
  /** A day rule. */
  DAYS("days", "a day rule such as \"weekdays\" (docs/day-rules.md)"),
  /** A time zone. */
  ZONE("zone", "a time zone such as Europe/Oslo");

  private final String word;
  private final String expected;

  ParameterType(String word, String expected) {
    this.word = word;
    this.expected = expected;
  }

  /** The word in files. */
  public String word() {
    return word;
  }

  /** What a value must be, for messages. */
  public String expected() {
    return expected;
  }

  /** Whether a text is such a value. */
  public boolean fits(String text) {
    return switch (this) {
      case TEXT -> true;
      case NAME -> text.matches("[a-z0-9][a-z0-9._-]{0,99}");
      case PATH -> text.matches("[a-z0-9][a-z0-9._-]*(/[a-z0-9][a-z0-9._-]*)*");
      case NUMBER -> text.matches("-?\\d{1,18}");
      case FLAG -> text.matches("yes|no|true|false");
      case TIME -> isTime(text);
      case DURATION -> Durations.parse(text).isPresent();
      case DATE -> isDate(text);
      case DAYS -> isRule(text);
      case ZONE -> Zones.of(text).isPresent();
    };
  }

  /** The type of a word. */
  public static Optional<ParameterType> of(String word) {
    return Arrays.stream(values()).filter(type -> type.word.equals(word)).findFirst();
  }

  /** All words. */
  public static List<String> words() {
    return Arrays.stream(values()).map(ParameterType::word).toList();
  }

  private static boolean isTime(String text) {
    if (!text.matches("\\d\\d:\\d\\d(:\\d\\d)?")) {
      return false;
    }
    try {
      LocalTime.parse(text);
      return true;
    } catch (DateTimeException e) {
      return false;
    }
  }

  private static boolean isDate(String text) {
    try {
      LocalDate.parse(text);
      return true;
    } catch (DateTimeException e) {
      return false;
    }
  }

  private static boolean isRule(String text) {
    try {
      DayRuleParser.parse(text);
      return true;
    } catch (PhraseException e) {
      return false;
    }
  }
}
