package dev.purser.core.neighbour;

import dev.purser.core.definition.Named;
import dev.purser.core.parcel.ParcelOrigin;
import dev.purser.core.preview.FieldChanges;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.TreeSet;
import org.snakeyaml.engine.v2.exceptions.YamlEngineException;

/**
 * Holds the definitions of two environments against each other. Comments and the order of keys do
 * not count. Which of two is the newer one is told by the parcels that brought them, and by what
 * was in force here before.
 */
public final class Comparison {
  private final String hereName;
  private final String thereName;
  private final Past past;

  /**
   * Between two environments.
   *
   * @param hereName as parcels of here say it
   * @param thereName as parcels of there say it
   * @param past of here
   */
  public Comparison(String hereName, String thereName, Past past) {
    this.hereName = hereName;
    this.thereName = thereName;
    this.past = past;
  }

  /** What was in force here before. */
  public interface Past {
    /** Where nothing is known. */
    Past UNKNOWN =
        new Past() {
          @Override
          public OptionalLong lastBrought(Named what) {
            return OptionalLong.empty();
          }

          @Override
          public boolean was(Named what, String text) {
            return false;
          }
        };

    /** The revision there of the last version that a parcel from there brought. */
    OptionalLong lastBrought(Named what);

    /** Whether an earlier version was this text. */
    boolean was(Named what, String text);
  }

  /** What differs, by kind and name. */
  public List<Difference> of(Map<Named, Side> here, Map<Named, Side> there) {
    TreeSet<Named> all = new TreeSet<>(here.keySet());
    all.addAll(there.keySet());
    List<Difference> found = new ArrayList<>();
    for (Named one : all) {
      difference(one, here.get(one), there.get(one)).ifPresent(found::add);
    }
    return found;
  }

  private Optional<Difference> difference(Named what, Side here, Side there) {
    if (here == null || there == null) {
      return Optional.of(
          new Difference(
              what,
              here == null ? Standing.ONLY_THERE : Standing.ONLY_HERE,
              Optional.ofNullable(here),
              Optional.ofNullable(there),
              List.of()));
    }
    if (here.text().equals(there.text())) {
      return Optional.empty();
    }
    List<FieldChanges.Field> fields = fields(here.text(), there.text());
    return fields.isEmpty()
        ? Optional.empty()
        : Optional.of(
            new Difference(
                what, standing(what, here, there), Optional.of(here), Optional.of(there), fields));
  }

  /** What another environment sends need not be what it should be. */
  private static List<FieldChanges.Field> fields(String here, String there) {
    try {
      return FieldChanges.ofTexts(here, there);
    } catch (YamlEngineException | ClassCastException e) {
      return List.of(new FieldChanges.Field("(all of it)", "", "this cannot be read as YAML"));
    }
  }

  private Standing standing(Named what, Side here, Side there) {
    OptionalLong carriedHere = revision(here, thereName);
    if (carriedHere.isPresent()) { // nobody has touched it here since
      return there.revision() > carriedHere.getAsLong() ? Standing.NEWER_THERE : Standing.DIFFERENT;
    }
    OptionalLong carriedThere = revision(there, hereName);
    if (carriedThere.isPresent()) {
      return here.revision() > carriedThere.getAsLong() ? Standing.NEWER_HERE : Standing.DIFFERENT;
    }
    OptionalLong before = past.lastBrought(what);
    if (before.isPresent()) {
      return there.revision() > before.getAsLong() ? Standing.CHANGED_ON_BOTH : Standing.NEWER_HERE;
    }
    return past.was(what, there.text()) ? Standing.NEWER_HERE : Standing.DIFFERENT;
  }

  private static OptionalLong revision(Side side, String from) {
    return ParcelOrigin.read(side.origin())
        .filter(origin -> origin.from().equals(from))
        .map(origin -> OptionalLong.of(origin.revision()))
        .orElseGet(OptionalLong::empty);
  }
}
