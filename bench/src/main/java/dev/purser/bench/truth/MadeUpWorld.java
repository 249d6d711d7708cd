package dev.purser.bench.truth;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import dev.purser.core.reading.SourceFile;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;

/**
 * A world that is made up: streams of an evening whose jobs wait for each other, a capacity that
 * runs short, a file that comes late at times, and the law by which each job takes its time.
 */
final class MadeUpWorld {
  static final LocalDate FIRST = LocalDate.of(2026, 7, 1);
  static final int DAYS = 120;
  static final int HELD_OUT = 30;

  /**
   * How long a job takes: the logarithm of milliseconds is normal, plus what the day adds.
   *
   * @param middle its mean
   * @param spread its standard deviation
   * @param byWeekday what each day of the week adds, Monday first
   * @param monthEnd what the last weekday of a month adds
   * @param changes from which date on it takes longer for good; null for never
   * @param change by how much
   * @param failing the chance that an attempt fails
   */
  record Law(
      double middle,
      double spread,
      double[] byWeekday,
      double monthEnd,
      LocalDate changes,
      double change,
      double failing) {
    double mean(LocalDate date) {
      double sum = middle + byWeekday[date.getDayOfWeek().getValue() - 1];
      LocalDate last = date.withDayOfMonth(date.lengthOfMonth());
      while (last.getDayOfWeek().getValue() > 5) {
        last = last.minusDays(1);
      }
      sum += date.equals(last) ? monthEnd : 0;
      return sum + (changes != null && !date.isBefore(changes) ? change : 0);
    }
  }

  final Map<String, Law> laws = new HashMap<>();
  final double slowDays;
  final double fileLate;
  final String text;
  final Definitions definitions;
  private final SplittableRandom random;

  /** Makes one; the same seed makes the same. */
  MadeUpWorld(long seed) {
    random = new SplittableRandom(seed);
    slowDays = 0.08 + 0.14 * random.nextDouble();
    fileLate = 0.04 + 0.08 * random.nextDouble();
    text = write(Map.of("deck", "21:30", "shore", "21:00", "ledger", "22:00"));
    DefinitionCheck.Result result =
        DefinitionCheck.check(
            Definitions.none(), List.of(new SourceFile("made-up.yaml", text)), FIRST);
    if (!result.isSound()) {
      throw new IllegalStateException(result.problems().toString());
    }
    definitions = result.definitions();
  }

  /** Its definitions with a time promised for the end of each stream. */
  Definitions promising(Map<String, String> times) {
    return DefinitionCheck.check(
            Definitions.none(), List.of(new SourceFile("made-up.yaml", promises(times))), FIRST)
        .definitions();
  }

  String promises(Map<String, String> times) {
    StringBuilder all = new StringBuilder(text);
    times.forEach(
        (stream, time) ->
            all.append("---\ncommitment: ")
                .append(stream)
                .append("\nof: night/")
                .append(stream)
                .append("/last\ndone-by: \"")
                .append(time)
                .append("\"\nzone: UTC\n"));
    return all.toString();
  }

  private String write(Map<String, String> streams) {
    StringBuilder out = new StringBuilder();
    out.append("host: quay\n---\nhost: pier\n---\nhost-group: both\nhosts: [quay, pier]\n---\n");
    out.append("capacity: slots\nunits: 2\n---\n");
    out.append("file-watch: feed\nhost: quay\npath: /in/feed-${date}.csv\n");
    streams.keySet().stream().sorted().forEach(name -> stream(name, streams.get(name), out));
    return out.toString();
  }

  private void stream(String name, String at, StringBuilder out) {
    out.append("---\nstream: night/").append(name);
    out.append("\npaused: no\nschedule: { days: weekdays, at: \"").append(at);
    out.append("\", zone: UTC }\njobs:\n");
    int jobs = 5 + random.nextInt(6);
    List<String> before = new ArrayList<>();
    for (int i = 0; i < jobs; i++) {
      String job = i == jobs - 1 ? "last" : "job-" + i;
      List<String> waits = new ArrayList<>();
      for (String other : before) {
        boolean near = before.size() - before.indexOf(other) <= 3;
        if (near && random.nextDouble() < 0.5) {
          waits.add(other + " succeeded");
        }
      }
      if (waits.isEmpty() && !before.isEmpty()) {
        waits.add(before.get(before.size() - 1) + " succeeded");
      }
      if (name.equals("deck") && i == 0) {
        waits.add("file feed arrived");
      }
      if (name.equals("ledger") && i == 2) {
        waits.add("night/shore/job-1 succeeded");
      }
      out.append("  ").append(job).append(": { host: any of both, run: x");
      if (!waits.isEmpty()) {
        out.append(", waits-for: ").append(String.join(" and ", waits));
      }
      if (random.nextDouble() < 0.5) {
        out.append(", takes: { slots: 1 }");
      }
      out.append(", retry: { times: 3, wait: 1m } }\n");
      before.add(job);
      laws.put("night/" + name + "/" + job, law());
    }
  }

  private Law law() {
    double[] week = new double[7];
    if (random.nextDouble() < 0.3) {
      week[random.nextInt(5)] = 0.2 + 0.3 * random.nextDouble();
    }
    boolean changes = random.nextDouble() < 0.2;
    return new Law(
        Math.log(60_000.0 * (2 + 14 * random.nextDouble())),
        0.08 + 0.25 * random.nextDouble(),
        week,
        random.nextDouble() < 0.35 ? 0.3 + 0.4 * random.nextDouble() : 0,
        changes ? FIRST.plusDays(60 + random.nextInt(45)) : null,
        0.3 + 0.4 * random.nextDouble(),
        random.nextDouble() < 0.5 ? 0.02 + 0.05 * random.nextDouble() : 0);
  }
}
