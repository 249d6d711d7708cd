package dev.purser.core.arrival;

import dev.purser.core.alert.AlertSubject;
import dev.purser.core.definition.FileWatch;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * Something about files that people must know.
 *
 * @param about what it is about, the same for as long as it lasts: {@code file harbour-feed@…
 *     missing}
 * @param watch whose files are meant
 * @param text in words, to be read after the watch's title
 */
public record FileTrouble(String about, AlertSubject subject, FileWatch watch, String text) {
  /** A directory is troubled, and a file not whole, for this long before people are told. */
  public static final Duration PATIENCE = Duration.ofMinutes(1);

  private static final DateTimeFormatter HH_MM = DateTimeFormatter.ofPattern("HH:mm");

  /**
   * A directory that cannot be looked at.
   *
   * @param place the host or connection
   * @param since when that was first told
   */
  public record Blind(FileWatch watch, String place, String text, Instant since) {}

  /** Who reads the clock, and where nobody says. */
  private record Clock(Instant now, ZoneId otherwise) {
    String at(FileWatch watch, Instant time) {
      ZoneId zone = watch.expected().map(FileWatch.Expected::zone).orElse(otherwise);
      return HH_MM.format(time.atZone(zone));
    }

    boolean isOver(Instant since, Duration time) {
      return Duration.between(since, now).compareTo(time) > 0;
    }
  }

  /**
   * What is wrong, of all that is known.
   *
   * @param days how the watches stand on the business dates that count
   * @param arrivals all that are not over, of these watches
   * @param watches by name
   * @param blind directories that cannot be looked at
   * @param zone of times of day, where a watch names none
   */
  public static List<FileTrouble> of(
      Collection<Checklist.Entry> days,
      Collection<Arrival> arrivals,
      Map<String, FileWatch> watches,
      Collection<Blind> blind,
      Instant now,
      ZoneId zone) {
    Clock clock = new Clock(now, zone);
    List<FileTrouble> all = new ArrayList<>();
    days.forEach(entry -> notThere(entry, clock, all));
    Map<String, Integer> unprocessed = new TreeMap<>();
    for (Arrival one : arrivals) {
      FileWatch watch = watches.get(one.watch());
      if (watch != null) {
        notWell(watch, one, clock, unprocessed, all);
      }
    }
    unprocessed.forEach((name, count) -> all.add(unprocessed(watches.get(name), count)));
    for (Blind one : blind) {
      if (clock.isOver(one.since(), PATIENCE)) {
        String about = "file " + one.watch().name() + " on " + one.place();
        all.add(
            new FileTrouble(
                about, AlertSubject.FILES, one.watch(), "nobody can look: " + one.text()));
      }
    }
    return all;
  }

  private static void notThere(Checklist.Entry entry, Clock clock, List<FileTrouble> all) {
    FileWatch watch = entry.watch();
    String about = "file " + watch.name() + "@" + entry.date();
    String by = entry.by().map(at -> clock.at(watch, at)).orElse("");
    if (entry.standing() == Checklist.Standing.MISSING) {
      String usual =
          entry.usually().map(at -> "; usually it comes at " + clock.at(watch, at)).orElse("");
      String some =
          entry.count() == 0
              ? "has not come by " + by
              : "only "
                  + entry.count()
                  + " of "
                  + watch.whole().setOf()
                  + " files have come by "
                  + by;
      all.add(new FileTrouble(about + " missing", AlertSubject.FILES, watch, some + usual));
    } else if (entry.standing() == Checklist.Standing.OVERDUE) {
      String usuallyBy = clock.at(watch, entry.usuallyBy().orElseThrow());
      String text =
          "has not come yet, and nearly always has by " + usuallyBy + "; it is due by " + by;
      all.add(new FileTrouble(about + " overdue", AlertSubject.FILES, watch, text));
    }
  }

  private static void notWell(
      FileWatch watch,
      Arrival one,
      Clock clock,
      Map<String, Integer> unprocessed,
      List<FileTrouble> all) {
    Instant found = Instant.ofEpochMilli(one.found());
    Instant since = Instant.ofEpochMilli(one.since());
    String about = "arrival " + one.id();
    String file = one.path() + " on " + one.place();
    if (one.state() == ArrivalState.UNPROCESSED) {
      boolean asks = one.run() == 0;
      if (asks || clock.isOver(since, watch.handling().unprocessedFor())) {
        unprocessed.merge(watch.name(), 1, Integer::sum);
      }
    } else if (one.state() == ArrivalState.SEEN
        && clock.isOver(since, watch.whole().stillFor().plus(PATIENCE))) {
      all.add(new FileTrouble(about, AlertSubject.ARRIVAL, watch, file + ": " + one.note()));
    } else if (one.state() == ArrivalState.SETTLING
        && clock.isOver(found, watch.handling().growsFor())) {
      String text = file + " has not rested since it was found at " + clock.at(watch, found);
      all.add(new FileTrouble(about, AlertSubject.ARRIVAL, watch, text));
    }
  }

  private static FileTrouble unprocessed(FileWatch watch, int count) {
    return new FileTrouble(
        "file " + watch.name() + " unprocessed",
        AlertSubject.UNPROCESSED,
        watch,
        (count == 1 ? "a file was" : count + " files were")
            + " not processed, and somebody must decide: try again, put aside, or mark as done");
  }
}
