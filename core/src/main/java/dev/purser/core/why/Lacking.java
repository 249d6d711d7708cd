package dev.purser.core.why;

import dev.purser.core.course.Course;
import dev.purser.core.course.Hosts;
import dev.purser.core.course.Lines;
import dev.purser.core.course.Runs;
import dev.purser.core.course.Units;
import dev.purser.core.job.Approval;
import dev.purser.core.job.Placement;
import dev.purser.core.problem.Shorten;
import dev.purser.core.run.RunSpec;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/** What a run that is ready lacks: a person's answer, a host, units, the end of earlier runs. */
final class Lacking {
  private static final int MOST_NAMES = 5;
  private static final String OPERATOR = "an operator";

  private final Course course;
  private final Runs runs;

  Lacking(Course course) {
    this.course = course;
    runs = course.runs();
  }

  List<Why.Reason> of(int run) {
    if (course.spec(run).run().job().work() instanceof Approval approval) {
      return List.of(answer(run, approval));
    }
    List<Why.Reason> reasons = new ArrayList<>();
    int placement = course.demands().placement(run);
    if (placement != Hosts.NOWHERE && course.lines().host(run) < 0) {
      reasons.add(host(run, placement));
    }
    int[] needs = course.demands().needs(run);
    int lacks = course.lines().lacks(run);
    for (int at = 0; at < needs.length; at += 3) {
      if ((lacks & 1 << (at / 3)) != 0) {
        boolean ofJob = needs[at + 2] != Units.OF_CAPACITY;
        reasons.add(ofJob ? overlap(run, needs, at) : capacity(run, needs, at));
      }
    }
    return reasons;
  }

  /**
   * Why a run has no host to go to, as all stands; empty where one is there that takes new work,
   * however full it is, or where it needs none.
   */
  Optional<Why.Reason> noHost(int run) {
    Hosts hosts = course.hosts();
    int placement = course.demands().placement(run);
    boolean has =
        placement == Hosts.NOWHERE
            || Arrays.stream(hosts.candidates(placement))
                .anyMatch(host -> hosts.isUp(host) && hosts.drained(host) == null);
    return has ? Optional.empty() : Optional.of(host(run, placement));
  }

  // ---- an answer

  private Why.Reason answer(int run, Approval approval) {
    List<String> by = approval.answering().by();
    long asked = runs.asked.get(run);
    return WhyTeller.reason(
        Why.What.ANSWER,
        "",
        "a person must answer: " + course.work(run) + lapse(run, approval),
        asked > 0 ? asked : since(run),
        by.isEmpty() ? OPERATOR : String.join(" or ", by));
  }

  private long since(int run) {
    return runs.since.get(run);
  }

  private String lapse(int run, Approval approval) {
    if (approval.answering().lapses().isEmpty()) {
      return "";
    }
    long at = runs.asked.get(run) + approval.answering().lapses().get().toMillis();
    return " (it lapses at "
        + course.spec(run).clock(at)
        + ", which means "
        + approval.answering().then().word()
        + ")";
  }

  // ---- a host

  private Why.Reason host(int run, int placement) {
    Hosts hosts = course.hosts();
    boolean full = Arrays.stream(hosts.candidates(placement)).anyMatch(hosts::isFull);
    return WhyTeller.reason(
        Why.What.HOST,
        String.valueOf(hosts.placement(placement)),
        hostText(run, placement),
        hostSince(run, hosts.candidates(placement)),
        full ? "" : whoGivesHost(hosts.candidates(placement)));
  }

  /** Since when the only host that comes into question does not take it; else since it waits. */
  private long hostSince(int run, int[] candidates) {
    Hosts hosts = course.hosts();
    if (candidates.length != 1) {
      return since(run);
    }
    int host = candidates[0];
    long since = !hosts.isUp(host) ? hosts.lostAt(host) : drainedSince(host);
    return since > 0 ? since : since(run);
  }

  private long drainedSince(int host) {
    return course.hosts().drained(host) == null ? 0 : course.hosts().drainedAt(host);
  }

  /** An operator can return what was drained; to bring a host back is for who runs it. */
  private String whoGivesHost(int[] candidates) {
    Hosts hosts = course.hosts();
    boolean drained =
        Arrays.stream(candidates).anyMatch(host -> hosts.isUp(host) && hosts.drained(host) != null);
    return drained ? OPERATOR : "an administrator";
  }

  private String hostText(int run, int number) {
    Hosts hosts = course.hosts();
    Placement placement = hosts.placement(number);
    int[] candidates = hosts.candidates(number);
    if (candidates.length == 0) {
      return "no host belongs to the group " + placement.ofGroup().orElse("");
    }
    List<String> each = new ArrayList<>();
    for (int host : candidates) {
      each.add(hosts.name(host) + " " + hostState(run, host));
    }
    return placement.ofGroup().isEmpty()
        ? "host " + each.get(0)
        : "no host of " + placement.ofGroup().get() + " is free for it: " + some(each);
  }

  private String hostState(int run, int host) {
    Hosts hosts = course.hosts();
    if (!hosts.isUp(host)) {
      RunSpec spec = course.spec(run);
      long since = hosts.lostAt(host);
      return "is not connected" + (since > 0 ? " since " + spec.clock(since) : "");
    }
    if (hosts.drained(host) != null) {
      String since = course.spec(run).clock(hosts.drainedAt(host));
      return "takes no new work since " + since + ", it was " + hosts.drained(host);
    }
    return hosts.isFull(host)
        ? "has all the " + hosts.atMost(host) + " attempts that it takes at once"
        : "is taken by another part";
  }

  // ---- units

  private Why.Reason overlap(int run, int[] needs, int at) {
    List<String> others = references(course.units().holders(needs[at]));
    return WhyTeller.reason(
        Why.What.OVERLAP,
        course.units().name(needs[at]),
        others.isEmpty()
            ? "an earlier run of the same job comes first"
            : "it must not overlap itself, and "
                + some(others)
                + (others.size() == 1 ? " is" : " are")
                + " at work",
        sinceTaken(run, needs[at]),
        "");
  }

  private Why.Reason capacity(int run, int[] needs, int at) {
    Units units = course.units();
    String name = units.name(needs[at]);
    List<String> ahead = references(ahead(run, needs[at]));
    List<String> holders = references(units.holders(needs[at]));
    String text =
        "it needs "
            + needs[at + 1]
            + " of capacity "
            + name
            + ", where "
            + Math.max(0, units.free(needs, at))
            + " of "
            + units.total(needs, at)
            + " are free"
            + (holders.isEmpty() ? "" : "; held by " + some(holders))
            + (ahead.isEmpty() ? "" : "; before it in line: " + some(ahead));
    boolean never = needs[at + 1] > units.total(needs, at);
    return WhyTeller.reason(
        Why.What.CAPACITY, name, text, sinceTaken(run, needs[at]), never ? OPERATOR : "");
  }

  /** Since when those that hold units hold them, the first of them; else since it waits. */
  private long sinceTaken(int run, int what) {
    return Arrays.stream(course.units().holders(what))
        .mapToLong(this::since)
        .min()
        .orElse(since(run));
  }

  private int[] ahead(int run, int what) {
    Lines lines = course.lines();
    return Arrays.stream(lines.line(what).toArray())
        .takeWhile(other -> course.order().isBefore(other, run))
        .toArray();
  }

  private List<String> references(int[] all) {
    return Arrays.stream(all)
        .mapToObj(run -> course.spec(run).run().reference().toString())
        .toList();
  }

  static String some(List<String> names) {
    return Shorten.names(names, MOST_NAMES);
  }
}
