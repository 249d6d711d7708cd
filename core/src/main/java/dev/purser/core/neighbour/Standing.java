package dev.purser.core.neighbour;

import java.util.Arrays;

/**
 * How a definition here stands to the one of the same name there, in the order of how much it asks
 * of whoever brings things here.
 */
public enum Standing {
  /** What is here is what was there before. */
  NEWER_THERE("newer there"),
  /** There is none here. */
  ONLY_THERE("only there"),
  /** Each was changed since it was last carried over. */
  CHANGED_ON_BOTH("changed on both sides"),
  /** They differ, and nothing on record says which is older. */
  DIFFERENT("differs"),
  /** What is there is what was here before. */
  NEWER_HERE("newer here"),
  /** There is none there. */
  ONLY_HERE("only here");

  private final String words;

  Standing(String words) {
    this.words = words;
  }

  /** The standing of words; what says the least where they are of none. */
  public static Standing of(String words) {
    return Arrays.stream(values())
        .filter(one -> one.words.equals(words))
        .findFirst()
        .orElse(DIFFERENT);
  }

  /** For people. */
  public String words() {
    return words;
  }
}
