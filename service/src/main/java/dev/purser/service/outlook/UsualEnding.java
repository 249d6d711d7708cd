package dev.purser.service.outlook;

import dev.purser.core.definition.Commitment;
import dev.purser.core.definition.Definitions;
import dev.purser.core.learning.UsualEnds;
import dev.purser.service.history.PastRuns;
import dev.purser.service.plan.PlanKeeper;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.time.Duration;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/**
 * What is usual of commitments that promise that: fixed once enough is known, so that it does not
 * drift with the trouble, and renewed when somebody asks for it.
 */
@Component
public class UsualEnding {
  private final EntityManager rows;
  private final PastRuns past;
  private final PlanKeeper plan;
  private final Clock clock;

  UsualEnding(EntityManager rows, PastRuns past, PlanKeeper plan, Clock clock) {
    this.rows = rows;
    this.past = past;
    this.plan = plan;
    this.clock = clock;
  }

  /** By name of the commitment: how long after its beginning it is usually done. */
  @Transactional
  public Map<String, Duration> of(Definitions definitions) {
    Map<String, Duration> usual = new HashMap<>();
    for (Commitment commitment : definitions.commitments()) {
      if (commitment.promise() instanceof Commitment.AsUsual) {
        fixed(commitment)
            .or(() -> fix(definitions, commitment))
            .ifPresent(duration -> usual.put(commitment.name(), duration));
      }
    }
    return usual;
  }

  private Optional<Duration> fixed(Commitment commitment) {
    List<?> found =
        rows.createNativeQuery(
                "select millis from usual_end where commitment = :name and end_job = :job")
            .setParameter("name", commitment.name())
            .setParameter("job", commitment.of())
            .getResultList();
    return found.stream()
        .findFirst()
        .map(millis -> Duration.ofMillis(((Number) millis).longValue()));
  }

  /** Works it out from what is known now; empty where that is too little. */
  @Transactional
  public Optional<Duration> fix(Definitions definitions, Commitment commitment) {
    Optional<UsualEnds.Usual> usual =
        UsualEnds.of(definitions, commitment, past.before(plan.today()));
    usual.ifPresent(
        found ->
            rows.createNativeQuery(
                    "replace into usual_end (commitment, millis, ends, since, end_job) values (:name,"
                        + " :millis, :ends, :since, :job)")
                .setParameter("name", commitment.name())
                .setParameter("millis", found.after().toMillis())
                .setParameter("ends", found.ends())
                .setParameter("since", clock.instant())
                .setParameter("job", commitment.of())
                .executeUpdate());
    return usual.map(UsualEnds.Usual::after);
  }
}
