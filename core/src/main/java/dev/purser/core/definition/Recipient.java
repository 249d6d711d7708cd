package dev.purser.core.definition;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.MessageLimits;
import dev.purser.core.alert.Urgency;
import java.time.Instant;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Who is told, and how.
 *
 * @param ways by which it is reached itself
 * @param members who is reached besides: names of recipients and duties, and {@code person NAME}
 * @param receives which kinds of alert
 * @param whenOver whether it is told that an alert is closed, too
 * @param zone the clock of its quiet hours
 * @param quiet when it is told only what cannot wait
 * @param atMost how many messages it gets
 */
public record Recipient(
    String name,
    String title,
    List<Way> ways,
    List<String> members,
    Set<AlertKind> receives,
    boolean whenOver,
    ZoneId zone,
    List<Quiet> quiet,
    MessageLimits atMost) {
  /** What a member begins with that is a person. */
  public static final String PERSON = "person ";

  /** Copies the collections. */
  public Recipient {
    ways = List.copyOf(ways);
    members = List.copyOf(members);
    receives = Set.copyOf(receives);
    quiet = List.copyOf(quiet);
  }

  /**
   * A time of day at which things wait, across midnight where the second is not after the first.
   *
   * @param to not included
   * @param but what is told all the same: as urgent as this, or more
   */
  public record Quiet(LocalTime from, LocalTime to, Urgency but) {
    private boolean holds(LocalTime time) {
      return from.isBefore(to)
          ? !time.isBefore(from) && time.isBefore(to)
          : !time.isBefore(from) || time.isBefore(to);
    }

    private Instant end(ZonedDateTime now) {
      ZonedDateTime today = now.toLocalDate().atTime(to).atZone(now.getZone());
      return (today.isAfter(now)
              ? today
              : now.toLocalDate().plusDays(1).atTime(to).atZone(now.getZone()))
          .toInstant();
    }
  }

  /** The addresses by one channel. */
  public List<String> addresses(String channel) {
    return ways.stream().filter(way -> way.channel().equals(channel)).map(Way::address).toList();
  }

  /** Until when something waits that is as urgent as this; empty where it does not wait. */
  public Optional<Instant> quietUntil(Instant now, Urgency urgency) {
    ZonedDateTime local = now.atZone(zone);
    return quiet.stream()
        .filter(one -> one.holds(local.toLocalTime()) && urgency.compareTo(one.but()) < 0)
        .map(one -> one.end(local))
        .max(Instant::compareTo);
  }
}
