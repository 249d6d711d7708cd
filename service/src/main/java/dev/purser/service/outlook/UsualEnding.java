package dev.purser.service.outlook;

import dev.purser.core.commitment.Promises;
import dev.purser.core.definition.Commitment;
import dev.purser.core.definition.Definitions;
import dev.purser.core.learning.UsualEnds;
import dev.purser.service.history.PastRuns;
import dev.purser.service.plan.PlanKeeper;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.time.Duration;
import java.time.LocalDate;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

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
  private final TransactionTemplate transactions;
  private Usual known = new Usual(null, Map.of());
  private long renewals;

  UsualEnding(
      EntityManager rows,
      TransactionTemplate transactions,
      PastRuns past,
      PlanKeeper plan,
      Clock clock) {
    this.rows = rows;
    this.transactions = transactions;
    this.past = past;
    this.plan = plan;
    this.clock = clock;
  }

  /** By name of the commitment: how long after its beginning it is usually done. */
  public synchronized Map<String, Duration> of(Definitions definitions) {
    Basis basis = new Basis(definitions, plan.today(), past.version(), renewals);
    if (!basis.equals(known.basis())) {
      known = new Usual(basis, transactions.execute(any -> find(definitions)));
    }
    return known.byName();
  }

  /** What is usual, and what it rests on; definitions are compared by identity. */
  private record Usual(Basis basis, Map<String, Duration> byName) {}

  private record Basis(Definitions definitions, LocalDate today, long version, long renewals) {}

  private Map<String, Duration> find(Definitions definitions) {
    Promises promises = new Promises(definitions, Map.of());
    Map<String, Duration> usual = new HashMap<>();
    for (Commitment commitment : definitions.commitments()) {
      if (commitment.promise() instanceof Commitment.AsUsual) {
        fixed(commitment)
            .or(() -> fix(definitions, commitment, promises))
            .ifPresent(duration -> usual.put(commitment.name(), duration));
      }
    }
    return Map.copyOf(usual);
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

  /** Works it out anew from what is known now; empty where that is too little. */
  public synchronized Optional<Duration> renew(Definitions definitions, Commitment commitment) {
    renewals++;
    Promises promises = new Promises(definitions, Map.of());
    return transactions.execute(any -> fix(definitions, commitment, promises));
  }

  private Optional<Duration> fix(
      Definitions definitions, Commitment commitment, Promises promises) {
    Optional<UsualEnds.Usual> usual =
        UsualEnds.of(definitions, commitment, promises, past.before(plan.today()));
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
