package dev.purser.core.run;

import dev.purser.core.plan.PlannedRun;
import dev.purser.core.schedule.Zones;
import java.time.Instant;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;

/**
 * A run as it is given to the board.
 *
 * @param id unique for ever, given by whoever keeps the records
 * @param run what was planned
 * @param longAfter milliseconds of running after which it takes longer than it usually does; 0 for
 *     never
 */
public record RunSpec(long id, PlannedRun run, long longAfter) {
  private static final DateTimeFormatter HH_MM = DateTimeFormatter.ofPattern("HH:mm");

  /** When it may start at the earliest as it was planned, epoch milliseconds. */
  public long due() {
    return run.due().toEpochMilli();
  }

  /**
   * A local time as people of the stream read it, with the date where it is not the run's.
   *
   * @param at epoch milliseconds
   */
  public String clock(long at) {
    ZonedDateTime local = Instant.ofEpochMilli(at).atZone(run.zone());
    String place = Zones.place(run.zone());
    boolean ownDate = local.toLocalDate().equals(run.reference().date());
    return HH_MM.format(local) + " " + place + (ownDate ? "" : " on " + local.toLocalDate());
  }
}
