package dev.purser.core.plan;

import dev.purser.core.definition.FileWatch;
import dev.purser.core.definition.Job;
import dev.purser.core.schedule.StartTimes;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A run that is due on a business date, with all that the board must know of it.
 *
 * @param reference what people call it
 * @param job what it does
 * @param due when it may start at the earliest
 * @param shift what a clock change did to the start time
 * @param startBy when it is late if it has not started
 * @param finishBy when it is late if it has not finished well
 * @param zone for times in messages
 * @param waived whether its prerequisites do not count, as for a job tried by hand
 * @param calendar the business calendar that its placeholders mean; empty for Monday to Friday
 * @param parameters the stream's values for placeholders
 * @param watches the file watches that its prerequisite names
 * @param wholeStreams for each stream that its prerequisite names as a whole, that stream's jobs
 */
public record PlannedRun(
    RunReference reference,
    Job job,
    Instant due,
    StartTimes.Shift shift,
    Optional<Instant> startBy,
    Optional<Instant> finishBy,
    ZoneId zone,
    boolean waived,
    String calendar,
    Map<String, String> parameters,
    List<FileWatch> watches,
    Map<String, List<String>> wholeStreams) {
  /** Copies the collections. */
  public PlannedRun {
    parameters = Map.copyOf(parameters);
    watches = List.copyOf(watches);
    wholeStreams = Map.copyOf(wholeStreams);
  }
}
