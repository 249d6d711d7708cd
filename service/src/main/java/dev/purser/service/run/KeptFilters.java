package dev.purser.service.run;

import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.util.List;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The filters of the runs page that people keep under a name. */
@Component
@Transactional
public class KeptFilters {
  private final EntityManager rows;
  private final Clock clock;

  KeptFilters(EntityManager rows, Clock clock) {
    this.rows = rows;
    this.clock = clock;
  }

  /** Those of a person, by name. */
  public List<KeptFilterRow> of(String person) {
    return rows.createQuery(
            "from KeptFilterRow f where f.person = :person order by f.name", KeptFilterRow.class)
        .setParameter("person", person)
        .getResultList();
  }

  /** Keeps one, in place of one of that name. */
  public void keep(String person, String name, String filter) {
    KeptFilterRow row = new KeptFilterRow();
    row.person = person;
    row.name = name;
    row.filter = filter;
    row.changed = clock.instant();
    rows.merge(row);
  }

  /** Forgets one; false where the person keeps none of that name. */
  public boolean forget(String person, String name) {
    KeptFilterRow row = rows.find(KeptFilterRow.class, new KeptFilterRow.Key(person, name));
    if (row != null) {
      rows.remove(row);
    }
    return row != null;
  }
}
