package dev.purser.service.people;

import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.time.Instant;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Whether what let somebody in still does. */
@Component
public class Passes {
  private final EntityManager rows;
  private final Clock clock;

  Passes(EntityManager rows, Clock clock) {
    this.rows = rows;
    this.clock = clock;
  }

  /** Those that still hold; sessions are told when they end, so only their people are looked at. */
  @Transactional(readOnly = true)
  public Set<Pass> holding(Collection<Pass> passes) {
    Instant now = clock.instant();
    Set<String> people =
        Set.copyOf(
            rows.createQuery(
                    "select p.name from PersonRow p where p.name in :names and p.locked = false",
                    String.class)
                .setParameter("names", passes.stream().map(Pass::person).distinct().toList())
                .getResultList());
    List<String> asked = passes.stream().map(Pass::token).distinct().toList();
    Set<String> tokens =
        rows.createQuery("from TokenRow t where t.tokenHash in :hashes", TokenRow.class)
            .setParameter("hashes", asked)
            .getResultStream()
            .filter(row -> row.holds(now))
            .map(row -> row.tokenHash)
            .collect(Collectors.toCollection(HashSet::new));
    tokens.add("");
    return passes.stream()
        .filter(pass -> people.contains(pass.person()) && tokens.contains(pass.token()))
        .collect(Collectors.toSet());
  }
}
