package dev.purser.core.definition;

/** A definition by its kind and name. */
public record Named(Kind kind, String name) implements Comparable<Named> {
  /** The definition that a document holds. */
  public static Named of(Document document) {
    return new Named(document.kind(), document.name());
  }

  @Override
  public int compareTo(Named other) {
    int byKind = kind.compareTo(other.kind);
    return byKind != 0 ? byKind : name.compareTo(other.name);
  }

  /** As it stands in lists: {@code stream fuel/stock-count}. */
  @Override
  public String toString() {
    return kind.word() + " " + name;
  }
}
