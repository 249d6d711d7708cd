package dev.purser.service.commitment;

import dev.purser.core.commitment.Promised;
import dev.purser.core.definition.Commitment;
import dev.purser.core.forecast.PromiseOutlook;
import dev.purser.core.forecast.PromiseOutlook.Standing;
import dev.purser.core.forecast.RunOutlook;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;

/** Made-up outlooks of promises of one evening: from 20:00 on, to be kept by 22:00. */
final class Foreseen {
  static final LocalDate DATE = LocalDate.of(2027, 3, 4);
  static final Instant BEGIN = at("20:00");
  static final Instant BY = at("22:00");

  private Foreseen() {}

  static Instant at(String time) {
    return Instant.parse(DATE + "T" + time + ":00Z");
  }

  static Promised promised(String name, LocalDate date) {
    Commitment commitment =
        new Commitment(
            name,
            "Filed",
            "",
            "",
            "",
            List.of(),
            "night/file",
            new Commitment.Within(Duration.ofHours(2)),
            Optional.empty(),
            "",
            List.of(),
            List.of(),
            Optional.empty(),
            false,
            0.4,
            List.of());
    Duration later = Duration.between(DATE.atStartOfDay(), date.atStartOfDay());
    return new Promised(
        commitment,
        date,
        1,
        List.of(),
        BEGIN.plus(later),
        Optional.of(BY.plus(later)),
        ZoneOffset.UTC);
  }

  static PromiseOutlook of(Promised promised, Standing standing, Instant end, double chanceLate) {
    long millis = end == null ? 0 : end.toEpochMilli();
    long range = standing == Standing.OPEN && end != null ? 600_000 : 0;
    return new PromiseOutlook(
        promised,
        standing,
        0,
        0,
        0,
        millis,
        millis - range,
        millis + range,
        chanceLate,
        0,
        standing == Standing.STALLED ? RunOutlook.HangsOn.PERSON : RunOutlook.HangsOn.NOTHING,
        false,
        200);
  }
}
