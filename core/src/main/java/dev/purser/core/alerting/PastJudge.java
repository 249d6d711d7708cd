package dev.purser.core.alerting;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.AlertRule;
import dev.purser.core.alert.Unusual;
import dev.purser.core.definition.AlertRules;
import dev.purser.core.schedule.Durations;
import java.time.Duration;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Deque;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Which alerts rules would have made of runs that are past. It is told of them in the order of
 * their ends, and knows of each what was known then: how long a job usually takes is taken from the
 * runs before.
 */
public final class PastJudge {
  private static final int ENOUGH = 5;
  private static final int LAST = 50;

  /** The kinds that a past run answers for by itself. */
  private static final Set<AlertKind> KINDS =
      EnumSet.of(
          AlertKind.FAILED,
          AlertKind.TOO_QUICK,
          AlertKind.VALUE,
          AlertKind.RETRIED,
          AlertKind.CANCELLED,
          AlertKind.SKIPPED,
          AlertKind.STARTED,
          AlertKind.SUCCEEDED);

  private final AlertRules rules;
  private final Map<String, Deque<Long>> durations = new HashMap<>();
  private final Map<String, Deque<String>> values = new HashMap<>();

  /**
   * A run that is past.
   *
   * @param path of its job
   * @param started epoch milliseconds; 0 where it never did
   * @param ended epoch milliseconds
   * @param outcome word of its last state
   * @param attempts how many there were
   * @param values what it handed back; empty where that is not on record any more
   */
  public record Past(
      String path,
      String reference,
      long started,
      long ended,
      String outcome,
      int attempts,
      Optional<Map<String, String>> values) {}

  /** An alert that would have come: by which rule, when, and what it would have said. */
  public record Would(
      AlertKind kind,
      AlertRule rule,
      String origin,
      String path,
      String reference,
      long at,
      String text) {}

  /** A judge by rules. */
  public PastJudge(AlertRules rules) {
    this.rules = rules;
  }

  /** Whether the records of runs answer for a kind; for others only the record of alerts does. */
  public static boolean answersFor(AlertKind kind) {
    return KINDS.contains(kind);
  }

  /** What would have come of a run. */
  public List<Would> of(Past run) {
    List<Would> all = new ArrayList<>();
    Map<AlertKind, AlertRules.Effective> effective = rules.ofJob(run.path());
    if (run.started() > 0) {
      add(all, effective, AlertKind.STARTED, run, run.started(), "has started");
      for (int attempt = 2; attempt <= run.attempts(); attempt++) {
        String text = "is tried again: attempt " + attempt;
        add(all, effective, AlertKind.RETRIED, run, run.started(), text);
      }
    }
    switch (run.outcome()) {
      case "succeeded" -> {
        add(all, effective, AlertKind.SUCCEEDED, run, run.ended(), "has succeeded");
        tooQuick(all, effective, run);
        values(all, effective, run);
        unusual(all, effective, run);
      }
      case "failed" -> {
        add(all, effective, AlertKind.FAILED, run, run.ended(), "failed");
        values(all, effective, run);
      }
      case "cancelled" ->
          add(all, effective, AlertKind.CANCELLED, run, run.ended(), "was cancelled");
      case "skipped" -> add(all, effective, AlertKind.SKIPPED, run, run.ended(), "was skipped");
      default -> {} // it goes on
    }
    return all;
  }

  private static void add(
      List<Would> all,
      Map<AlertKind, AlertRules.Effective> effective,
      AlertKind kind,
      Past run,
      long at,
      String text) {
    AlertRules.Effective found = effective.get(kind);
    if (!found.isOff()) {
      all.add(new Would(kind, found.rule(), found.origin(), run.path(), run.reference(), at, text));
    }
  }

  private void tooQuick(List<Would> all, Map<AlertKind, AlertRules.Effective> effective, Past run) {
    if (run.started() == 0) {
      return;
    }
    long took = run.ended() - run.started();
    Deque<Long> before = durations.computeIfAbsent(run.path(), any -> new ArrayDeque<>());
    AlertRules.Effective found = effective.get(AlertKind.TOO_QUICK);
    if (!found.isOff() && before.size() >= ENOUGH) {
      long[] sorted = before.stream().mapToLong(Long::longValue).toArray();
      Arrays.sort(sorted);
      long usual = sorted[sorted.length / 2];
      if (took * 100 < usual * found.rule().below()) {
        String text =
            "was done in "
                + Durations.print(Duration.ofMillis(took))
                + ", and usually takes "
                + Durations.print(Duration.ofMillis(usual));
        add(all, effective, AlertKind.TOO_QUICK, run, run.ended(), text);
      }
    }
    before.addLast(took);
    if (before.size() > LAST) {
      before.removeFirst();
    }
  }

  private static void values(
      List<Would> all, Map<AlertKind, AlertRules.Effective> effective, Past run) {
    AlertRules.Effective found = effective.get(AlertKind.VALUE);
    for (AlertRule rule : found.rules()) {
      Optional<AlertRule.ValueTest> test = rule.none() ? Optional.empty() : rule.when();
      Optional<String> value =
          test.flatMap(one -> run.values().map(values -> values.get(one.name())));
      if (value.isPresent() && test.get().holds(value.get())) {
        String text = "handed back " + test.get().name() + " = " + value.get();
        all.add(
            new Would(
                AlertKind.VALUE,
                rule,
                found.origin(),
                run.path(),
                run.reference(),
                run.ended(),
                text));
      }
    }
  }

  private void unusual(List<Would> all, Map<AlertKind, AlertRules.Effective> effective, Past run) {
    AlertRules.Effective found = effective.get(AlertKind.VALUE);
    for (AlertRule rule : found.rules()) {
      Optional<Unusual> unusual = rule.none() ? Optional.empty() : rule.unusual();
      String name = unusual.map(Unusual::name).orElse("");
      Optional<String> value =
          run.values().map(given -> given.get(name)).filter(any -> unusual.isPresent());
      if (value.isEmpty()) {
        continue;
      }
      Deque<String> before =
          values.computeIfAbsent(run.path() + " " + name, any -> new ArrayDeque<>());
      unusual
          .get()
          .why(value.get(), List.copyOf(before))
          .map(why -> "handed back " + name + " = " + value.get() + "; " + why)
          .ifPresent(
              text ->
                  all.add(
                      new Would(
                          AlertKind.VALUE,
                          rule,
                          found.origin(),
                          run.path(),
                          run.reference(),
                          run.ended(),
                          text)));
      before.addLast(value.get());
      if (before.size() > Unusual.LAST) {
        before.removeFirst();
      }
    }
  }
}
