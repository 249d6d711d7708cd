package dev.purser.service.publish;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Stream;
import dev.purser.core.problem.Shorten;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.util.Collection;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/**
 * What must not be live before somebody else has agreed: the streams of departments that
 * administrators choose, or all definitions.
 */
@Component
@Transactional
public class Agreement {
  /** All definitions, of whatever department or none. */
  public static final String ALL = "all";

  private static final String NAME = "agreement";
  private static final int MOST_NAMED = 4;

  private final EntityManager rows;
  private final Clock clock;

  Agreement(EntityManager rows, Clock clock) {
    this.rows = rows;
    this.clock = clock;
  }

  /** Nobody else has agreed to a change that needs it. */
  public static final class Missing extends RuntimeException {
    private static final long serialVersionUID = 1L;

    Missing(String message) {
      super(message);
    }
  }

  /** The departments whose streams need it, or {@link #ALL}; empty for none. */
  @Transactional(readOnly = true)
  public List<String> departments() {
    SiteSettingRow row = rows.find(SiteSettingRow.class, NAME);
    return row == null ? List.of() : row.value.lines().filter(one -> !one.isBlank()).toList();
  }

  /** Sets them anew. */
  public void set(List<String> departments, String person) {
    SiteSettingRow row = rows.find(SiteSettingRow.class, NAME);
    boolean fresh = row == null;
    row = fresh ? new SiteSettingRow() : row;
    row.name = NAME;
    row.value = String.join("\n", departments);
    row.changed = clock.instant();
    row.changedBy = person;
    if (fresh) {
      rows.persist(row);
    }
  }

  /**
   * Refuses a change that needs it and has it not.
   *
   * @param departments that need it, as {@link #departments} says
   * @param changed documents that would be new or other, or go
   * @throws Missing where it does
   */
  static void refuse(
      List<String> departments,
      Collection<Document> changed,
      Definitions before,
      Definitions after,
      String agreedBy) {
    if (departments.isEmpty() || !agreedBy.isEmpty()) {
      return;
    }
    Set<String> asked = new TreeSet<>();
    for (Document one : changed) {
      Set<String> of = departmentsOf(one, before, after);
      of.stream()
          .filter(name -> departments.contains(name) || departments.contains(ALL))
          .map(name -> one.kind().title() + " " + one.name())
          .forEach(asked::add);
    }
    if (!asked.isEmpty()) {
      throw new Missing(
          Shorten.names(List.copyOf(asked), MOST_NAMED)
              + " can only be changed once somebody else has agreed to it as a draft: save one, share"
              + " it, and ask");
    }
  }

  private static Set<String> departmentsOf(Document one, Definitions before, Definitions after) {
    Set<String> all = new TreeSet<>();
    if (one.kind() == Kind.STREAM) {
      for (Definitions definitions : List.of(before, after)) {
        definitions.stream(one.name()).map(Stream::department).ifPresent(all::add);
      }
    } else {
      all.add("");
    }
    return all;
  }
}
