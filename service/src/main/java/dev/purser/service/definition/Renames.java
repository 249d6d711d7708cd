package dev.purser.service.definition;

import dev.purser.core.definition.Kind;
import jakarta.persistence.EntityManager;
import java.util.ArrayList;
import java.util.List;
import org.springframework.stereotype.Component;

/** What definitions were called before, so that old names go on being understood. */
@Component
public class Renames {
  private final EntityManager rows;
  private volatile List<RenamedRow> known;

  Renames(EntityManager rows) {
    this.rows = rows;
  }

  /**
   * A name that a definition had from a revision on, until it got the next one.
   *
   * @param until the first revision in which it has it no more
   */
  public record Called(String name, long from, long until) {}

  /** All renames, the earliest first. */
  public List<RenamedRow> all() {
    List<RenamedRow> found = known;
    if (found == null) {
      found =
          rows.createQuery("from RenamedRow r order by r.revision, r.id", RenamedRow.class)
              .getResultList();
      known = List.copyOf(found);
    }
    return found;
  }

  /** They are read anew when they are asked for next. */
  public void forget() {
    known = null;
  }

  /** What a name of some time means now; itself where nothing of that name was renamed. */
  public String now(Kind kind, String name) {
    String now = name;
    for (RenamedRow row : all()) {
      now = isOf(row, kind) ? moved(now, row.oldName, row.newName, kind) : now;
    }
    return now;
  }

  /** What was called so at a revision that has a name now. */
  public String then(Kind kind, String name, long revision) {
    String then = name;
    List<RenamedRow> all = all();
    for (int i = all.size() - 1; i >= 0 && all.get(i).revision > revision; i--) {
      RenamedRow row = all.get(i);
      then = isOf(row, kind) ? moved(then, row.newName, row.oldName, kind) : then;
    }
    return then;
  }

  /** The names that a definition has had, the last one first. */
  public List<Called> names(Kind kind, String name) {
    List<Called> names = new ArrayList<>();
    String now = name;
    long until = Long.MAX_VALUE;
    List<RenamedRow> all = all();
    for (int i = all.size() - 1; i >= 0; i--) {
      RenamedRow row = all.get(i);
      if (isOf(row, kind) && row.newName.equals(now)) {
        names.add(new Called(now, row.revision, until));
        until = row.revision;
        now = row.oldName;
      }
    }
    names.add(new Called(now, 0, until));
    return names;
  }

  /** The rename that a publication was. */
  public List<RenamedRow> of(long revision) {
    return all().stream().filter(row -> row.revision == revision).toList();
  }

  private static boolean isOf(RenamedRow row, Kind kind) {
    return row.kind.equals(kind.word());
  }

  /** Whatever is below a stream moves with it. */
  private static String moved(String name, String from, String to, Kind kind) {
    return name.equals(from)
        ? to
        : kind == Kind.STREAM && name.startsWith(from + "/")
            ? to + name.substring(from.length())
            : name;
  }
}
