package dev.purser.core.check;

import dev.purser.core.definition.Commitment;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Named;
import dev.purser.core.definition.Stream;
import java.util.Collection;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;

/**
 * Which definition uses which; found in one pass, in time that grows with the number of mentions.
 */
public final class Uses {
  /** Kinds that are there to be used by others: one that nobody uses may be left over. */
  private static final Set<Kind> TO_BE_USED =
      EnumSet.of(
          Kind.HOLIDAY_CALENDAR,
          Kind.BUSINESS_CALENDAR,
          Kind.PERIOD,
          Kind.CONNECTION,
          Kind.REMOTE_SERVICE,
          Kind.HOST_GROUP,
          Kind.CAPACITY,
          Kind.RECIPIENT,
          Kind.DUTY,
          Kind.FILE_WATCH,
          Kind.TEMPLATE);

  private final Map<Named, Set<Use>> uses = new TreeMap<>();
  private final Map<Named, Set<Named>> needs = new TreeMap<>();
  private final Definitions all;

  private Uses(Definitions all) {
    this.all = all;
  }

  /**
   * One use.
   *
   * @param by the definition that uses it
   * @param where who in it does: a job by its full path, or the definition itself
   */
  public record Use(Named by, String where) implements Comparable<Use> {
    @Override
    public int compareTo(Use other) {
      int first = by.compareTo(other.by);
      return first != 0 ? first : where.compareTo(other.where);
    }
  }

  /** The uses in a set of definitions. */
  public static Uses in(Definitions all) {
    Uses uses = new Uses(all);
    for (Document document : all.documents()) {
      Named by = Named.of(document);
      for (Document.Mention mention : document.mentions()) {
        uses.target(mention).ifPresent(target -> uses.add(by, mention.user(), target));
      }
      uses.owner(document).ifPresent(target -> uses.add(by, document.name(), target));
    }
    return uses;
  }

  private void add(Named by, String where, Named target) {
    if (!by.equals(target)) {
      uses.computeIfAbsent(target, key -> new TreeSet<>()).add(new Use(by, where));
      needs.computeIfAbsent(by, key -> new TreeSet<>()).add(target);
    }
  }

  private Optional<Named> owner(Document document) {
    String owner =
        document.value() instanceof Stream stream
            ? stream.owner()
            : document.value() instanceof Commitment commitment ? commitment.owner() : "";
    return addressee(owner);
  }

  private Optional<Named> addressee(String name) {
    return named(Kind.RECIPIENT, name).or(() -> named(Kind.DUTY, name));
  }

  private Optional<Named> named(Kind kind, String name) {
    return all.document(kind, name).map(Named::of);
  }

  /** The definition that a mention leads to; empty where there is none, or it is a placeholder. */
  Optional<Named> target(Document.Mention mention) {
    String name = mention.name();
    return switch (mention.what()) {
      case JOB_OR_STREAM, VALUE_OF ->
          named(Kind.STREAM, name)
              .or(
                  () ->
                      all.topOf(Definitions.resolve(name, mention.within()))
                          .map(stream -> new Named(Kind.STREAM, stream.path())));
      case STREAM -> named(Kind.STREAM, name);
      case TEMPLATE -> named(Kind.TEMPLATE, name);
      case FILE_WATCH -> named(Kind.FILE_WATCH, name);
      case BUSINESS_CALENDAR -> named(Kind.BUSINESS_CALENDAR, name);
      case HOLIDAY_CALENDAR -> named(Kind.HOLIDAY_CALENDAR, name);
      case CALENDAR ->
          named(Kind.BUSINESS_CALENDAR, name).or(() -> named(Kind.HOLIDAY_CALENDAR, name));
      case PERIOD -> named(Kind.PERIOD, name);
      case CONNECTION -> named(Kind.CONNECTION, name);
      case REMOTE_SERVICE -> named(Kind.REMOTE_SERVICE, name);
      case HOST -> named(Kind.HOST, name);
      case HOST_GROUP -> named(Kind.HOST_GROUP, name);
      case CAPACITY -> named(Kind.CAPACITY, name);
      case RECIPIENT -> addressee(name);
      case PARAMETER -> Optional.empty();
    };
  }

  /** Where a definition is used, by who uses it. */
  public Collection<Use> of(Named one) {
    return uses.getOrDefault(one, Set.of());
  }

  /** What a definition uses itself. */
  public Collection<Named> neededBy(Named one) {
    return needs.getOrDefault(one, Set.of());
  }

  /** What is there to be used, and is not. */
  public List<Named> unused() {
    return all.documents().stream()
        .map(Named::of)
        .filter(one -> TO_BE_USED.contains(one.kind()) && of(one).isEmpty())
        .sorted()
        .toList();
  }
}
