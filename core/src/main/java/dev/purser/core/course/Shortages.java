package dev.purser.core.course;

import java.util.BitSet;

/**
 * What was scarce in plays of a board: capacities of which somebody lacked units, or nearly, and
 * placements without much room. Of all else there is plenty: who takes some keeps nobody waiting.
 */
public final class Shortages {
  private final BitSet units = new BitSet();
  private final BitSet placements = new BitSet();

  /** Takes in what a play has shown; copies of one board know things by the same numbers. */
  public synchronized void add(Course played) {
    Units some = played.units();
    for (int what = 0; what < some.known(); what++) {
      if (!some.wasPlenty(what)) {
        units.set(what);
      }
    }
    Hosts hosts = played.hosts();
    for (int placement = 0; placement < hosts.knownPlacements(); placement++) {
      if (!hosts.wasPlenty(placement)) {
        placements.set(placement);
      }
    }
  }

  /** Units of it may keep others waiting. */
  synchronized void addUnits(int what) {
    units.set(what);
  }

  /** Room for it may keep others waiting. */
  synchronized void addRoom(int placement) {
    placements.set(placement);
  }

  @Override
  public synchronized boolean equals(Object other) {
    return other instanceof Shortages that
        && units.equals(that.units)
        && placements.equals(that.placements);
  }

  @Override
  public synchronized int hashCode() {
    return 31 * units.hashCode() + placements.hashCode();
  }

  /** Whether units of it keep others waiting. */
  boolean ofUnits(int what) {
    return units.get(what);
  }

  /** Whether room for it keeps others waiting. */
  boolean ofRoom(int placement) {
    return placements.get(placement);
  }
}
