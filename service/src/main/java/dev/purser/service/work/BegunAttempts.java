package dev.purser.service.work;

import dev.purser.core.run.Ending;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;
import tools.jackson.databind.json.JsonMapper;

/**
 * Which attempts of work that cannot be asked for afterwards have begun, and how they ended: after
 * a crash, one that had begun and has no end on record may have been done, or not.
 */
@Component
public class BegunAttempts {
  private static final JsonMapper JSON = JsonMapper.builder().build();

  private final EntityManager rows;
  private final Clock clock;

  BegunAttempts(EntityManager rows, Clock clock) {
    this.rows = rows;
    this.clock = clock;
  }

  /**
   * How an attempt ended.
   *
   * @param values that it hands back
   */
  public record Ended(Ending ending, Map<String, String> values) {}

  /**
   * What is known of an attempt.
   *
   * @param begun whether it may have done something
   * @param ended how it ended, where that is known
   */
  public record Known(boolean begun, Optional<Ended> ended) {}

  /** What is on record of an attempt. */
  @Transactional(readOnly = true)
  public Known of(long run, int attempt) {
    BegunAttemptRow row = rows.find(BegunAttemptRow.class, new BegunAttemptRow.Key(run, attempt));
    return row == null
        ? new Known(false, Optional.empty())
        : new Known(
            true, Optional.ofNullable(row.ended).map(text -> JSON.readValue(text, Ended.class)));
  }

  /** Puts on record that it may do something from now on. */
  @Transactional
  public void begin(long run, int attempt) {
    if (rows.find(BegunAttemptRow.class, new BegunAttemptRow.Key(run, attempt)) == null) {
      BegunAttemptRow row = new BegunAttemptRow();
      row.run = run;
      row.attempt = attempt;
      row.begun = clock.instant();
      rows.persist(row);
    }
  }

  /** Puts on record how it ended. */
  @Transactional
  public void end(long run, int attempt, Ended ended) {
    BegunAttemptRow row = rows.find(BegunAttemptRow.class, new BegunAttemptRow.Key(run, attempt));
    if (row != null) {
      row.ended = JSON.writeValueAsString(ended);
    }
  }
}
