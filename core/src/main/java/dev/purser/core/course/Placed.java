package dev.purser.core.course;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.stream.IntStream;

/** Which runs may be placed on which hosts, by placement. */
final class Placed {
  private final Hosts known;
  private final BitSet[] hosts;
  private final List<List<Integer>> runs = new ArrayList<>();
  private final BitSet apart = new BitSet();

  Placed(Course course) {
    known = course.hosts();
    hosts = new BitSet[known.knownPlacements()];
    for (int placement = 0; placement < hosts.length; placement++) {
      hosts[placement] = new BitSet();
      IntStream.of(known.candidates(placement)).forEach(hosts[placement]::set);
      runs.add(new ArrayList<>());
    }
    for (int run = 0; run < course.runs().count(); run++) {
      int placement = course.demands().placement(run);
      runs.get(placement).add(run);
      if (course.demands().is(run, Demands.ANOTHER)) {
        apart.set(placement);
      }
    }
  }

  /** The placements that some runs ask for. */
  IntStream asked() {
    return IntStream.range(0, hosts.length).filter(one -> !runs.get(one).isEmpty());
  }

  /** The hosts of a placement; not to be changed. */
  BitSet hosts(int placement) {
    return hosts[placement];
  }

  /** Whether runs of a placement keep apart from others, and so do not take any host. */
  boolean keepApart(int placement) {
    return apart.get(placement);
  }

  /** The runs that ask for a placement. */
  int[] of(int placement) {
    return runs.get(placement).stream().mapToInt(run -> run).toArray();
  }

  /** The runs that can be on some of the hosts and on no other. */
  int[] within(BitSet some) {
    return of(askedOf(some).filter(one -> isWithin(one, some)));
  }

  /** The placements of those that can be on some of the hosts and on others. */
  int[] across(BitSet some) {
    return askedOf(some).filter(one -> !isWithin(one, some)).toArray();
  }

  /** The runs that can be on one of the hosts. */
  int[] touching(BitSet some) {
    return of(askedOf(some));
  }

  /** How many of the hosts a placement has. */
  int shared(int placement, BitSet some) {
    BitSet shared = (BitSet) some.clone();
    shared.and(hosts[placement]);
    return shared.cardinality();
  }

  /** The placements, each once, that have one of the hosts and that some runs ask for. */
  private IntStream askedOf(BitSet some) {
    return some.stream()
        .flatMap(host -> IntStream.of(known.placementsOf(host)))
        .distinct()
        .filter(one -> !runs.get(one).isEmpty());
  }

  private boolean isWithin(int placement, BitSet some) {
    return shared(placement, some) == hosts[placement].cardinality();
  }

  private int[] of(IntStream some) {
    return some.flatMap(one -> runs.get(one).stream().mapToInt(run -> run)).toArray();
  }
}
