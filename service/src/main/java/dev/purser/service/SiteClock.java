package dev.purser.service;

import dev.purser.core.schedule.Zones;
import java.time.Instant;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.Locale;
import org.springframework.stereotype.Component;

/**
 * Times in sentences for people that are about no job: by the clock of the site, so that none of
 * them has to be reckoned.
 */
@Component
public class SiteClock {
  private static final DateTimeFormatter AT =
      DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm:ss", Locale.ROOT);

  private final ZoneId zone;

  SiteClock(Settings settings) {
    this.zone = settings.zone();
  }

  /** A time to the second, with its date and its place: {@code 2027-03-04 21:30:00 Oslo}. */
  public String at(Instant instant) {
    return AT.format(instant.atZone(zone)) + " " + Zones.place(zone);
  }
}
