package dev.purser.core.board;

import dev.purser.core.course.Shortages;

/**
 * What was scarce in plays of a board and its copies: who takes some of it may keep others waiting.
 */
public final class Scarcity {
  private final Shortages known = new Shortages();

  Shortages known() {
    return known;
  }

  @Override
  public boolean equals(Object other) {
    return other instanceof Scarcity that && known.equals(that.known);
  }

  @Override
  public int hashCode() {
    return known.hashCode();
  }
}
