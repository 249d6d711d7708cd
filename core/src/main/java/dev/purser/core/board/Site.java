package dev.purser.core.board;

import dev.purser.core.definition.Capacity;
import dev.purser.core.definition.HostDefinition;
import dev.purser.core.definition.HostGroup;
import java.time.Instant;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;

/**
 * What runs share: hosts, and units of which there are only so many, with who holds them and who
 * stands in line for them. A job that must not overlap itself is held to units of its own name.
 */
final class Site {
  private static final TreeSet<Place> NOBODY = new TreeSet<>();

  private final Hosts hosts;
  private final Map<String, Capacity> capacities = new TreeMap<>();
  private final Map<String, Integer> units = new HashMap<>();
  private final Map<String, Integer> set = new TreeMap<>();
  private final Map<String, Integer> taken = new HashMap<>();
  private final Map<String, TreeSet<Integer>> holders = new HashMap<>();
  private final Map<String, TreeSet<Place>> lines = new HashMap<>();

  /** Those who need more than there is at all now: they wait, but hold nobody up. */
  private final Map<String, TreeSet<Place>> aside = new HashMap<>();

  private final BitSet inLine;

  Site() {
    inLine = new BitSet();
    hosts = new Hosts();
  }

  Site(Site other) {
    hosts = new Hosts(other.hosts);
    capacities.putAll(other.capacities);
    units.putAll(other.units);
    set.putAll(other.set);
    taken.putAll(other.taken);
    other.holders.forEach((name, some) -> holders.put(name, new TreeSet<>(some)));
    other.lines.forEach((name, some) -> lines.put(name, new TreeSet<>(some)));
    other.aside.forEach((name, some) -> aside.put(name, new TreeSet<>(some)));
    inLine = (BitSet) other.inLine.clone();
  }

  /**
   * Units that a run needs of something.
   *
   * @param what a capacity's name, or {@code job } and a job's path
   * @param most how many there are of a job's own; -1 for a capacity
   */
  record Need(String what, int units, int most) {
    /** How many a job may have at work at once. */
    static Need ofJob(String path, int most) {
      return new Need("job " + path, 1, most);
    }

    boolean isOfJob() {
      return most >= 0;
    }
  }

  /**
   * A run's place in line.
   *
   * @param rank the lower, the sooner
   */
  record Place(long rank, int run) implements Comparable<Place> {
    @Override
    public int compareTo(Place other) {
      return rank != other.rank ? Long.compare(rank, other.rank) : Integer.compare(run, other.run);
    }
  }

  Hosts hosts() {
    return hosts;
  }

  void define(List<HostDefinition> all, List<HostGroup> groups, List<Capacity> some, long now) {
    hosts.define(all, groups);
    capacities.clear();
    some.forEach(capacity -> capacities.put(capacity.name(), capacity));
    set.keySet().retainAll(capacities.keySet());
    count(now);
  }

  // ---- units

  /** Counts how many units there are now; returns the next time at which that may change. */
  long count(long now) {
    long next = Long.MAX_VALUE;
    units.clear();
    Instant at = Instant.ofEpochMilli(now);
    for (Capacity capacity : capacities.values()) {
      units.put(capacity.name(), set.getOrDefault(capacity.name(), capacity.unitsAt(at)));
      Instant change = capacity.nextChange(at);
      next = change.equals(Instant.MAX) ? next : Math.min(next, change.toEpochMilli());
    }
    return next;
  }

  /** Whether somebody in line for a capacity of changing units may be served by such a change. */
  boolean mayGain() {
    for (Capacity capacity : capacities.values()) {
      boolean changes = !capacity.spans().isEmpty() && !set.containsKey(capacity.name());
      if (changes && !line(capacity.name()).isEmpty()) {
        return true;
      }
    }
    return false;
  }

  /** A person says how many units there are; -1 for as many as are defined. */
  void set(String capacity, int many, long now) {
    if (many < 0) {
      set.remove(capacity);
    } else {
      set.put(capacity, many);
    }
    count(now);
  }

  Set<String> capacities() {
    return capacities.keySet();
  }

  /** What a person has set; empty where it is as defined. */
  Optional<Integer> setTo(String capacity) {
    return Optional.ofNullable(set.get(capacity));
  }

  int units(String capacity) {
    return units.getOrDefault(capacity, 0);
  }

  int taken(String what) {
    return taken.getOrDefault(what, 0);
  }

  int free(Need need) {
    return (need.isOfJob() ? need.most() : units(need.what())) - taken(need.what());
  }

  /** Runs that hold units, by index. */
  Set<Integer> holders(String what) {
    TreeSet<Integer> found = holders.get(what);
    return found == null ? Set.of() : found;
  }

  void take(int run, String host, List<Need> needs) {
    hosts.take(host);
    for (Need need : needs) {
      taken.merge(need.what(), need.units(), Integer::sum);
      holders.computeIfAbsent(need.what(), name -> new TreeSet<>()).add(run);
    }
  }

  /** Returns whether the host has room now where it had none. */
  boolean giveBack(int run, String host, List<Need> needs) {
    boolean room = hosts.giveBack(host);
    for (Need need : needs) {
      taken.merge(need.what(), -need.units(), Integer::sum);
      holders.computeIfAbsent(need.what(), name -> new TreeSet<>()).remove(run);
    }
    return room;
  }

  // ---- lines

  /** Why a run may not take what it needs now: too few units, or another one comes first. */
  record Lack(Need need, boolean tooFew) {}

  /** What a run at a rank cannot take now; empty where it can take all. */
  List<Lack> lacks(Place place, List<Need> needs) {
    List<Lack> lacks = List.of();
    for (Need need : needs) {
      boolean tooFew = free(need) < need.units();
      TreeSet<Place> line = lines.get(need.what());
      boolean after = line != null && !line.isEmpty() && line.first().compareTo(place) < 0;
      if (tooFew || after) {
        lacks = lacks.isEmpty() ? new ArrayList<>() : lacks;
        lacks.add(new Lack(need, tooFew));
      }
    }
    return lacks;
  }

  void queue(Place place, Need need) {
    boolean tooMuch = need.units() > (need.isOfJob() ? need.most() : units(need.what()));
    (tooMuch ? aside : lines).computeIfAbsent(need.what(), name -> new TreeSet<>()).add(place);
    inLine.set(place.run());
  }

  boolean isInLine(int run) {
    return inLine.get(run);
  }

  /** Takes a run out of every line; returns what it stood in line for. */
  List<String> leave(Place place, List<Need> needs) {
    if (!inLine.get(place.run())) {
      return List.of();
    }
    inLine.clear(place.run());
    List<String> left = new ArrayList<>();
    for (Need need : needs) {
      TreeSet<Place> line = lines.get(need.what());
      TreeSet<Place> beside = aside.get(need.what());
      if ((line != null && line.remove(place)) || (beside != null && beside.remove(place))) {
        left.add(need.what());
      }
    }
    return left;
  }

  /** Whether somebody stands in a line. */
  boolean stands(Place place, String what) {
    TreeSet<Place> line = lines.get(what);
    TreeSet<Place> beside = aside.get(what);
    return (line != null && line.contains(place)) || (beside != null && beside.contains(place));
  }

  /** The run that comes first in a line; -1 for none. */
  int first(String what) {
    TreeSet<Place> line = lines.get(what);
    return line == null || line.isEmpty() ? -1 : line.first().run();
  }

  /** All who stand in a line, first to last; then those who need more than there is. */
  List<Integer> line(String what) {
    List<Integer> all = new ArrayList<>();
    lines.getOrDefault(what, NOBODY).forEach(place -> all.add(place.run()));
    aside.getOrDefault(what, NOBODY).forEach(place -> all.add(place.run()));
    return all;
  }

  /** The places of those whom nobody in line may overtake. */
  Set<Place> places(String what) {
    return lines.getOrDefault(what, NOBODY);
  }

  /** Forgets all runs: their indexes are about to change. */
  void forgetRuns() {
    hosts.forgetRuns();
    taken.clear();
    holders.clear();
    lines.clear();
    aside.clear();
    inLine.clear();
  }
}
