package dev.purser.service.sql;

import dev.purser.core.run.Ending;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;
import tools.jackson.databind.json.JsonMapper;

/** Which attempts of statements have begun, and how they ended. */
@Component
class SqlAttempts {
  private static final JsonMapper JSON = JsonMapper.builder().build();

  private final EntityManager rows;
  private final Clock clock;

  SqlAttempts(EntityManager rows, Clock clock) {
    this.rows = rows;
    this.clock = clock;
  }

  /**
   * How an attempt ended in the database.
   *
   * @param values that it hands back
   */
  record Ended(Ending ending, Map<String, String> values) {}

  /**
   * What is known of an attempt.
   *
   * @param begun whether it may have done something
   * @param ended how it ended, where that is known
   */
  record Known(boolean begun, Optional<Ended> ended) {}

  /** What is on record of an attempt. */
  @Transactional(readOnly = true)
  public Known of(long run, int attempt) {
    SqlAttemptRow row = rows.find(SqlAttemptRow.class, new SqlAttemptRow.Key(run, attempt));
    return row == null
        ? new Known(false, Optional.empty())
        : new Known(
            true, Optional.ofNullable(row.ended).map(text -> JSON.readValue(text, Ended.class)));
  }

  /** Puts on record that it may do something from now on. */
  @Transactional
  public void begin(long run, int attempt) {
    if (rows.find(SqlAttemptRow.class, new SqlAttemptRow.Key(run, attempt)) == null) {
      SqlAttemptRow row = new SqlAttemptRow();
      row.run = run;
      row.attempt = attempt;
      row.begun = clock.instant();
      rows.persist(row);
    }
  }

  /** Puts on record how it ended. */
  @Transactional
  public void end(long run, int attempt, Ended ended) {
    SqlAttemptRow row = rows.find(SqlAttemptRow.class, new SqlAttemptRow.Key(run, attempt));
    if (row != null) {
      row.ended = JSON.writeValueAsString(ended);
    }
  }
}
