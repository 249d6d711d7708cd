package dev.purser.core.neighbour;

/** How a definition here stands to the one of the same name there. */
public enum Standing {
  /** There is none there. */
  ONLY_HERE("only here"),
  /** There is none here. */
  ONLY_THERE("only there"),
  /** What is there is what was here before. */
  NEWER_HERE("newer here"),
  /** What is here is what was there before. */
  NEWER_THERE("newer there"),
  /** Each was changed since it was last carried over. */
  CHANGED_ON_BOTH("changed on both sides"),
  /** They differ, and nothing on record says which is older. */
  DIFFERENT("differs");

  private final String words;

  Standing(String words) {
    this.words = words;
  }

  /** For people. */
  public String words() {
    return words;
  }
}
