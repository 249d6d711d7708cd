package dev.purser.core.definition;

import dev.purser.core.alert.AlertRule;
import dev.purser.core.calendar.Calendars;
import dev.purser.core.calendar.DayRule;
import dev.purser.core.parameter.PlaceholderText;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A pattern looked for on a host, and what holds for the files that are found by it.
 *
 * @param place who looks
 * @param path an absolute path: the directory, and after the last slash a pattern for the name; the
 *     date may stand in both
 * @param whole when a file counts as whole
 * @param expected when files should come; empty where nobody says
 * @param handling what is done with files
 * @param alerts rules of its alerts, nearer than the site's
 */
public record FileWatch(
    String name,
    String title,
    Place place,
    String path,
    Whole whole,
    Optional<Expected> expected,
    Handling handling,
    List<AlertRule> alerts) {
  private static final int LONGEST_PERIOD = 400;

  /** Copies the list. */
  public FileWatch {
    alerts = List.copyOf(alerts);
  }

  /** A watch without rules of its own. */
  public FileWatch(
      String name,
      String title,
      Place place,
      String path,
      Whole whole,
      Optional<Expected> expected,
      Handling handling) {
    this(name, title, place, path, whole, expected, handling, List.of());
  }

  /** Who looks. */
  public sealed interface Place {
    /** The agent of a host. */
    record OnHost(String host) implements Place {
      @Override
      public String toString() {
        return host;
      }
    }

    /** The agent of each host of a group. */
    record OnEachOf(String group) implements Place {
      @Override
      public String toString() {
        return "each of " + group;
      }
    }

    /** The service itself, through a connection to an object store or an SFTP server. */
    record Through(String connection) implements Place {
      @Override
      public String toString() {
        return connection;
      }
    }
  }

  /**
   * When a file counts as whole.
   *
   * @param stillFor how long size and time must not have changed
   * @param minimumSize in bytes, at least 1: an empty file is never taken for data
   * @param companion name of the file that says that one is complete; empty for none
   * @param checksumFile name of the file that holds its checksum; empty for none
   * @param lastLine a pattern for its last line; empty for none
   * @param setOf how many files make a set; 1 for files that stand alone
   */
  public record Whole(
      Duration stillFor,
      long minimumSize,
      String companion,
      String checksumFile,
      String lastLine,
      int setOf) {
    /** As soon as it has rested for ten seconds and is not empty. */
    public static final Whole USUAL = new Whole(Duration.ofSeconds(10), 1, "", "", "", 1);
  }

  /**
   * When files should come.
   *
   * @param days the business dates
   * @param from the time of day at which one may come at the earliest
   * @param by the time of day by which it should be there, on the next day where it is not after
   *     {@code from}
   * @param zone of both
   * @param calendar that the day rule means; empty for Monday to Friday
   */
  public record Expected(DayRule days, LocalTime from, LocalTime by, ZoneId zone, String calendar) {
    /** When the window of a business date begins. */
    public Instant begins(LocalDate date) {
      return date.atTime(from).atZone(zone).toInstant();
    }

    /** When a file of a business date should be there. */
    public Instant ends(LocalDate date) {
      LocalDate day = by.isAfter(from) ? date : date.plusDays(1);
      return day.atTime(by).atZone(zone).toInstant();
    }
  }

  /** What is done with a file whose content came before. */
  public enum Repeats {
    /** It is used like any other. */
    TAKE,
    /** It is left alone. */
    IGNORE,
    /** A person decides. */
    ASK
  }

  /** What is done with a file after use. */
  public enum AfterUse {
    /** Nothing. */
    LEAVE,
    /** It is moved to another directory. */
    MOVE,
    /** It is removed. */
    REMOVE
  }

  /**
   * What is done with files.
   *
   * @param takeExisting whether files count that were there before the watch began
   * @param repeats what is done with one whose name and content came before
   * @param caseSensitive whether upper and lower case differ
   * @param oldest files changed longer ago are left alone; empty for no limit
   * @param every how often to look; empty for what fits best
   * @param afterUse what is done with one that was used
   * @param moveTo the directory, where it is moved
   * @param growsFor after so long without rest people are told
   * @param unprocessedFor after so long on the list of unprocessed files people are told
   */
  public record Handling(
      boolean takeExisting,
      Repeats repeats,
      boolean caseSensitive,
      Optional<Duration> oldest,
      Optional<Duration> every,
      AfterUse afterUse,
      String moveTo,
      Duration growsFor,
      Duration unprocessedFor) {
    /** What holds where nothing is said. */
    public static final Handling USUAL =
        new Handling(
            true,
            Repeats.ASK,
            true,
            Optional.empty(),
            Optional.empty(),
            AfterUse.LEAVE,
            "",
            Duration.ofHours(1),
            Duration.ofHours(1));
  }

  /** A plain watch on a host, for tests and trials. */
  public static FileWatch of(String name, String host, String path) {
    return new FileWatch(
        name, name, new Place.OnHost(host), path, Whole.USUAL, Optional.empty(), Handling.USUAL);
  }

  /** Where it looks, for messages: a host, a group or a connection. */
  public String where() {
    return place.toString();
  }

  /** The one host on which it looks; empty where there may be several, or none. */
  public Optional<String> host() {
    return place instanceof Place.OnHost on ? Optional.of(on.host()) : Optional.empty();
  }

  /** Whether its path says to which business date a file belongs. */
  public boolean isDated() {
    return path.contains("${");
  }

  /** The path of a business date. */
  public String pathOf(LocalDate date) {
    return PlaceholderText.fill(path, date, Calendars.NONE, Map.of());
  }

  /**
   * The date that stands for all business dates of the same path: of a path with the month only,
   * the first of the month. Of a path without a date, the date itself.
   */
  public LocalDate keyDate(LocalDate date) {
    if (!isDated()) {
      return date;
    }
    String own = pathOf(date);
    LocalDate key = date;
    for (int back = 0; back < LONGEST_PERIOD && pathOf(key.minusDays(1)).equals(own); back++) {
      key = key.minusDays(1);
    }
    return key;
  }

  /** For how long after its last change a file without a date may be taken; a day if not said. */
  public Duration freshFor() {
    return handling.oldest().orElse(Duration.ofDays(1));
  }
}
