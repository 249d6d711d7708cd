package dev.purser.service.agent;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import dev.purser.core.board.BoardView;
import dev.purser.service.run.AttemptRow;
import jakarta.persistence.EntityManager;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/**
 * Which host has an attempt: whatever another one says of it, with its key in strange hands, is
 * neither believed nor kept.
 */
@Component
class AttemptOwners {
  private static final Logger LOG = LoggerFactory.getLogger(AttemptOwners.class);
  private static final int MOST_REMEMBERED = 50_000;

  private final EntityManager rows;

  /** Where an attempt is never changes. */
  private final Cache<AttemptRow.Key, String> hosts =
      Caffeine.newBuilder().maximumSize(MOST_REMEMBERED).build();

  AttemptOwners(EntityManager rows) {
    this.rows = rows;
  }

  /** Whether a run's attempt is on a host, as the board or else the records know. */
  boolean isOn(String host, BoardView board, long run, int attempt) {
    Optional<Boolean> now =
        board
            .status(run)
            .filter(status -> status.attempts() == attempt)
            .map(status -> status.where().isOn(host));
    return now.isPresent() ? told(now.get(), host, run, attempt) : isOn(host, run, attempt);
  }

  /** The same as the records know. */
  boolean isOn(String host, long run, int attempt) {
    String there =
        hosts.get(
            new AttemptRow.Key(run, attempt),
            key ->
                Optional.ofNullable(rows.find(AttemptRow.class, key))
                    .map(row -> row.host)
                    .orElse(null));
    return told(host.equals(there), host, run, attempt);
  }

  private static boolean told(boolean is, String host, long run, int attempt) {
    if (!is) {
      LOG.warn(
          "host {} speaks of attempt {} of run {}, which is not on it; left out",
          host,
          attempt,
          run);
    }
    return is;
  }
}
