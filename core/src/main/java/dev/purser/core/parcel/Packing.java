package dev.purser.core.parcel;

import dev.purser.core.check.Uses;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Made;
import dev.purser.core.definition.Named;
import java.util.ArrayDeque;
import java.util.Collection;
import java.util.Deque;
import java.util.EnumSet;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;

/** Chooses what goes into a parcel. */
public final class Packing {
  /** Each environment has its own of these: they are named as needed, and not carried. */
  private static final Set<Kind> OF_THE_ENVIRONMENT =
      EnumSet.of(
          Kind.HOST,
          Kind.HOST_GROUP,
          Kind.CONNECTION,
          Kind.RECIPIENT,
          Kind.DUTY,
          Kind.PARAMETERS,
          Kind.ALERTS);

  private Packing() {}

  /** Whether a parcel carries definitions of a kind. */
  public static boolean carries(Kind kind) {
    return !OF_THE_ENVIRONMENT.contains(kind);
  }

  /**
   * What goes in, and what must be there already.
   *
   * @param documents in the order of kinds and names
   * @param expected what they use and is not among them
   */
  public record Packed(List<Document> documents, List<Named> expected) {}

  /**
   * Packs definitions. A stream that a row of a table made is packed as its table.
   *
   * @param wanted what was asked for; all must exist
   * @param withNeeds whether what they use goes too, and what that uses, but for what each
   *     environment has of its own; and all streams that hang on a template go with it
   */
  public static Packed pack(Definitions all, Collection<Named> wanted, boolean withNeeds) {
    Uses uses = Uses.in(all);
    Set<Named> packed = new TreeSet<>();
    Set<Named> expected = new TreeSet<>();
    Deque<Named> open = new ArrayDeque<>();
    wanted.forEach(one -> open.add(source(all, one)));
    while (!open.isEmpty()) {
      Named one = open.pop();
      if (!packed.add(one)) {
        continue;
      }
      for (Named needed : needs(all, uses, one)) {
        if (withNeeds && carries(needed.kind())) {
          open.add(source(all, needed));
        } else {
          expected.add(source(all, needed));
        }
      }
    }
    expected.removeAll(packed);
    return new Packed(
        packed.stream().flatMap(one -> all.document(one.kind(), one.name()).stream()).toList(),
        List.copyOf(expected));
  }

  /** What it uses; of a table also what the streams use that it makes. */
  private static Collection<Named> needs(Definitions all, Uses uses, Named one) {
    Set<Named> needs = new TreeSet<>(uses.neededBy(one));
    if (one.kind() == Kind.FOR_EACH) {
      for (Document document : all.documents()) {
        if (document.isMadeBy(one.name())) {
          needs.addAll(uses.neededBy(Named.of(document)));
        }
      }
      needs.removeIf(need -> source(all, need).equals(one));
    }
    return needs;
  }

  private static Named source(Definitions all, Named one) {
    return all.document(one.kind(), one.name())
        .flatMap(Document::made)
        .filter(Made::isRow)
        .map(made -> new Named(Kind.FOR_EACH, made.by()))
        .orElse(one);
  }
}
