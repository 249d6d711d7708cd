package dev.purser.core.course;

import dev.purser.core.definition.HostDefinition;
import dev.purser.core.definition.HostGroup;
import dev.purser.core.job.Placement;
import dev.purser.core.job.Where;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;

/**
 * The hosts: which are there, how much is on them, and who waits for room on one. Hosts and
 * placements are small numbers that stay.
 */
public final class Hosts {
  /** The placement of what runs on no host. */
  public static final int NOWHERE = 0;

  /** In place of a host's number: it is nowhere. */
  public static final int NO_HOST = -1;

  /** In place of a host's number: it is in the service. */
  public static final int IN_SERVICE = -2;

  private static final int[] NO_HOSTS = {};

  private final Names<String> names;
  private final Names<Placement> placements;
  private Map<String, HostGroup> groups;
  private HostDefinition[] defined;
  private Set<String>[] labels;
  private String[] drained;
  private long[] drainedAt;
  private boolean[] up;
  private int[] load;
  private long[] lostAt;
  private int[][] candidates;
  private int[][] placementsOf;
  private Line[] rooms;
  private int[] peaks;
  private boolean[] lacked;

  @SuppressWarnings({"unchecked", "rawtypes"})
  Hosts() {
    names = new Names<>();
    placements = new Names<>();
    placements.of(new Placement.Nowhere());
    groups = Map.of();
    defined = new HostDefinition[4];
    labels = new Set[4];
    drained = new String[4];
    drainedAt = new long[4];
    up = new boolean[4];
    load = new int[4];
    lostAt = new long[4];
    candidates = new int[4][];
    rooms = new Line[4];
    peaks = new int[4];
    lacked = new boolean[4];
  }

  Hosts(Hosts other) {
    names = other.names.copy();
    placements = other.placements.copy();
    groups = other.groups;
    defined = other.defined.clone();
    labels = other.labels.clone();
    drained = other.drained.clone();
    drainedAt = other.drainedAt.clone();
    up = other.up.clone();
    load = other.load.clone();
    lostAt = other.lostAt.clone();
    candidates = other.candidates.clone();
    placementsOf = other.placementsOf;
    rooms = Line.copies(other.rooms, other.rooms.length);
    peaks = other.peaks.clone();
    lacked = other.lacked.clone();
  }

  // ---- names

  /** The number of a host, which may not be defined. */
  public int of(String name) {
    int host = names.of(name);
    if (host >= up.length) {
      int length = host * 2;
      defined = Arrays.copyOf(defined, length);
      labels = Arrays.copyOf(labels, length);
      drained = Arrays.copyOf(drained, length);
      drainedAt = Arrays.copyOf(drainedAt, length);
      up = Arrays.copyOf(up, length);
      load = Arrays.copyOf(load, length);
      lostAt = Arrays.copyOf(lostAt, length);
      peaks = Arrays.copyOf(peaks, length);
    }
    return host;
  }

  /** The name of a host, not of what stands in its place. */
  public String name(int host) {
    return names.name(host);
  }

  /** What a number stands for: a host, or one of the two that stand in its place. */
  public Where where(int host) {
    return switch (host) {
      case NO_HOST -> Where.nowhere();
      case IN_SERVICE -> Where.inService();
      default -> Where.onHost(names.name(host));
    };
  }

  /** The number that stands for it. */
  public int of(Where where) {
    return where.as(this::of, () -> IN_SERVICE, () -> NO_HOST);
  }

  /** The number of a placement. */
  int placement(Placement placement) {
    int known = placements.of(placement);
    if (known >= candidates.length) {
      candidates = Arrays.copyOf(candidates, known * 2);
      rooms = Arrays.copyOf(rooms, known * 2);
      lacked = Arrays.copyOf(lacked, known * 2);
    }
    placementsOf = candidates[known] == null ? null : placementsOf;
    return known;
  }

  /** The placement of a number. */
  public Placement placement(int number) {
    return placements.name(number);
  }

  private int known() {
    return names.size();
  }

  // ---- definitions

  /**
   * Replaces the definitions; what is known of hosts otherwise stays, that of hosts which are not
   * defined any more too.
   */
  public void define(List<HostDefinition> hosts, List<HostGroup> all) {
    Arrays.fill(defined, null);
    for (HostDefinition host : hosts) {
      int number = of(host.name());
      defined[number] = host;
      labels[number] =
          labels[number] == null ? host.labels() : union(labels[number], host.labels());
    }
    Map<String, HostGroup> byName = new HashMap<>();
    all.forEach(group -> byName.put(group.name(), group));
    groups = Map.copyOf(byName);
    forgetMembers();
  }

  private void forgetMembers() {
    Arrays.fill(candidates, null);
    placementsOf = null;
  }

  private static Set<String> union(Set<String> a, Set<String> b) {
    Set<String> both = new HashSet<>(a);
    both.addAll(b);
    return Set.copyOf(both);
  }

  // ---- coming and going

  /**
   * A host's agent is there.
   *
   * @param more labels of its own, besides those that are defined
   */
  public void seen(String name, Set<String> more) {
    int host = of(name);
    up[host] = true;
    lostAt[host] = 0;
    Set<String> now =
        defined[host] == null ? Set.copyOf(more) : union(defined[host].labels(), more);
    if (!now.equals(labels[host])) {
      labels[host] = now;
      forgetMembers();
    }
  }

  /**
   * A host's agent is gone.
   *
   * @param now epoch milliseconds
   * @return when its work may go elsewhere, epoch milliseconds; told again, it stays as it was told
   *     first
   */
  public long lost(String name, long now) {
    int host = of(name);
    up[host] = false;
    lostAt[host] = lostAt[host] == 0 ? now : lostAt[host];
    return givenUpAt(host);
  }

  private long givenUpAt(int host) {
    return lostAt[host]
        + (defined[host] == null ? HostDefinition.USUAL_LOST_AFTER : defined[host].lostAfter())
            .toMillis();
  }

  /** Hosts that have been away for so long that their work may go elsewhere. */
  public BitSet givenUp(long now) {
    BitSet gone = new BitSet();
    for (int host = 0; host < known(); host++) {
      gone.set(host, lostAt[host] != 0 && givenUpAt(host) <= now);
    }
    return gone;
  }

  /** When the work of each host that is away may go elsewhere. */
  List<Long> alarms() {
    List<Long> all = new ArrayList<>();
    for (int host = 0; host < known(); host++) {
      if (lostAt[host] != 0) {
        all.add(givenUpAt(host));
      }
    }
    return all;
  }

  /** Since when a host is away; 0 where it is not, or that is not known. */
  public long lostAt(int host) {
    return host < 0 ? 0 : lostAt[host];
  }

  /** Whether what is there can be reached just now; the service always reaches itself. */
  public boolean isReachable(int host) {
    return host == IN_SERVICE || isUp(host);
  }

  /** Whether its agent is connected. */
  public boolean isUp(int host) {
    return host >= 0 && up[host];
  }

  /**
   * The host takes no new work; what is on it goes on.
   *
   * @param note by whom and why, as the end of "it was ..."
   * @param at since when, epoch milliseconds
   */
  public void drain(String name, String note, long at) {
    int host = of(name);
    drained[host] = note;
    drainedAt[host] = at;
  }

  /** Since when a drained host is, epoch milliseconds. */
  public long drainedAt(int host) {
    return drainedAt[host];
  }

  /** A drained host takes work again. */
  public void takeBack(String name) {
    drained[of(name)] = null;
  }

  /** By whom and why a host is drained; null where it is not. */
  public String drained(int host) {
    return drained[host];
  }

  /** By whom and why each drained host is, by name. */
  public Map<String, String> drained() {
    Map<String, String> all = new TreeMap<>();
    for (int host = 0; host < known(); host++) {
      if (drained[host] != null) {
        all.put(names.name(host), drained[host]);
      }
    }
    return all;
  }

  // ---- room

  /** The hosts on which work may be placed, connected or not, by name; not to be changed. */
  public int[] candidates(int placement) {
    if (candidates[placement] == null) {
      candidates[placement] = candidates(placements.name(placement));
    }
    return candidates[placement];
  }

  private int[] candidates(Placement placement) {
    if (placement instanceof Placement.OnHost on) {
      return new int[] {of(on.host())};
    }
    HostGroup group = placement.ofGroup().map(groups::get).orElse(null);
    if (group == null) {
      return NO_HOSTS;
    }
    List<Integer> members = new ArrayList<>();
    for (int host = 0; host < known(); host++) {
      if (labels[host] != null && group.contains(names.name(host), labels[host])) {
        members.add(host);
      }
    }
    members.sort(Comparator.comparing(names::name));
    return members.stream().mapToInt(i -> i).toArray();
  }

  /**
   * The open host with the least attempts on it that has room; the first by name among equals.
   *
   * @param not hosts that do not count; null for none
   * @return its number; -1 where there is none
   */
  public int choose(int placement, BitSet not) {
    int best = -1;
    for (int host : candidates(placement)) {
      boolean better = best < 0 || load[host] < load[best];
      if (better && isOpen(host) && !isFull(host) && (not == null || !not.get(host))) {
        best = host;
        if (load[host] == 0) {
          break; // none has less
        }
      }
    }
    return best;
  }

  /** Whether some host is connected and takes new work, full or not. */
  boolean isAnyOpen(int placement, BitSet not) {
    for (int host : candidates(placement)) {
      if (isOpen(host) && (not == null || !not.get(host))) {
        return true;
      }
    }
    return false;
  }

  /** Whether it is connected and takes new work. */
  boolean isOpen(int host) {
    return up[host] && drained[host] == null;
  }

  /** How many attempts may be on a host at once; 0 for no limit. */
  public int atMost(int host) {
    return defined[host] == null ? 0 : defined[host].atMost();
  }

  /** Whether a host has all the attempts that it takes at once. */
  public boolean isFull(int host) {
    return atMost(host) > 0 && load[host] >= atMost(host);
  }

  void take(int host) {
    load[host]++;
    peaks[host] = Math.max(peaks[host], load[host]);
  }

  /** Returns whether there is room now where there was none before. */
  boolean giveBack(int host) {
    boolean wasFull = isFull(host);
    load[host]--;
    return wasFull && !isFull(host);
  }

  // ---- who waits for room

  /** Who of a placement waits for room; not to be changed but through {@link Lines}. */
  Line room(int placement) {
    if (rooms[placement] == null) {
      rooms[placement] = new Line();
    }
    return rooms[placement];
  }

  /** The placements for which a host comes into question; not to be changed. */
  int[] placementsOf(int host) {
    if (placementsOf == null || host >= placementsOf.length) {
      placementsOf = placementsByHost();
    }
    return placementsOf[host];
  }

  private int[][] placementsByHost() {
    for (int i = 0; i < placements.size(); i++) {
      candidates(i); // may learn of hosts
    }
    int[][] all = new int[known()][];
    Arrays.fill(all, NO_HOSTS);
    for (int placement = 0; placement < placements.size(); placement++) {
      for (int host : candidates(placement)) {
        all[host] = Arrays.copyOf(all[host], all[host].length + 1);
        all[host][all[host].length - 1] = placement;
      }
    }
    return all;
  }

  /** Somebody of a placement was ready and found no room. */
  void lacked(int placement) {
    lacked[placement] = true;
  }

  /** Whether there was always plenty of room for a placement: a fifth of each of its hosts. */
  boolean wasPlenty(int placement) {
    for (int host : candidates(placement)) {
      if (atMost(host) > 0 && peaks[host] * 5L > atMost(host) * 4L) {
        return false;
      }
    }
    return !lacked[placement];
  }

  /** Forgets where room was scarce before now. */
  void forgetScarcity() {
    peaks = load.clone();
    for (int placement = 0; placement < lacked.length; placement++) {
      lacked[placement] = rooms[placement] != null && !rooms[placement].isEmpty();
    }
  }

  /** How many placements are known. */
  int knownPlacements() {
    return placements.size();
  }

  /** Forgets all runs: their indexes are about to change. */
  void forgetRuns() {
    Arrays.fill(load, 0);
    Arrays.fill(rooms, null);
  }
}
