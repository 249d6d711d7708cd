package dev.purser.bench.truth;

import dev.purser.core.commitment.Promised;
import dev.purser.core.commitment.Promises;
import dev.purser.core.definition.Definitions;
import dev.purser.core.forecast.Outlook;
import dev.purser.core.forecast.PromiseOutlook;
import dev.purser.core.forecast.Rehearsal;
import dev.purser.core.forecast.RunOutlook;
import dev.purser.core.history.PastRun;
import dev.purser.core.learning.DaySoFar;
import dev.purser.core.learning.Learned;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.SplittableRandom;
import java.util.TreeMap;

/**
 * How often forecasts hold, on days that they have not seen, in worlds whose laws are known: how
 * many ends are at or before the foretold 90 % and 50 %, how far the middle is off beside a plain
 * mean and the median of the weekday, how many late ends are warned of in time, and how many
 * warnings come to nothing. Arguments: how many worlds, and optionally a directory that the last
 * one is written to.
 */
final class Truth {
  private static final int SAMPLES = 200;
  private static final Duration STEP = Duration.ofMinutes(15);
  private static final double WARN = 0.4;

  /** Forecasts by the true laws instead: what could be reached at all. */
  private static final boolean BY_TRUE_LAWS = Boolean.getBoolean("purser.true-laws");

  private Truth() {}

  /** What was counted. */
  private static final class Count {
    private int asked;
    private int within90;
    private int within50;
    private double off;
    private double offMean;
    private double offWeekday;
    private int firstAsked;
    private int late;
    private int foreseeable;
    private int warnedInTime;
    private int warned;
    private int cameToNothing;

    void add(Count other) {
      asked += other.asked;
      within90 += other.within90;
      within50 += other.within50;
      off += other.off;
      offMean += other.offMean;
      offWeekday += other.offWeekday;
      firstAsked += other.firstAsked;
      late += other.late;
      foreseeable += other.foreseeable;
      warnedInTime += other.warnedInTime;
      warned += other.warned;
      cameToNothing += other.cameToNothing;
    }

    void end(long actual, long middle, long latest) {
      asked++;
      within90 += actual <= latest ? 1 : 0;
      within50 += actual <= middle ? 1 : 0;
    }

    void print(String what) {
      System.out.printf(
          "%-10s %6d ends: %5.1f %% by the 90 %%, %5.1f %% by the middle; off %5.1f min, mean of 30"
              + " %5.1f, weekday %5.1f; late %d, foreseeable %d, warned in time %d; warnings %d, came"
              + " to nothing %d%n",
          what,
          asked,
          100.0 * within90 / asked,
          100.0 * within50 / asked,
          off / Math.max(1, firstAsked) / 60_000,
          offMean / Math.max(1, firstAsked) / 60_000,
          offWeekday / Math.max(1, firstAsked) / 60_000,
          late,
          foreseeable,
          warnedInTime,
          warned,
          cameToNothing);
    }
  }

  /** Measures. */
  public static void main(String[] args) throws IOException {
    int worlds = args.length > 0 ? Integer.parseInt(args[0]) : 20;
    Count runs = new Count();
    Count promises = new Count();
    int first = Integer.getInteger("purser.first-world", 1);
    for (int seed = first; seed < first + worlds; seed++) {
      Count ofRuns = new Count();
      Count ofPromises = new Count();
      new One(seed).measure(ofRuns, ofPromises, args.length > 1 ? args[1] + "/" + seed : "");
      ofRuns.print("world " + seed);
      ofPromises.print(" promises");
      runs.add(ofRuns);
      promises.add(ofPromises);
    }
    runs.print("all runs");
    promises.print(" promises");
  }

  /** One world. */
  private static final class One {
    private final long seed;
    private final MadeUpWorld world;
    private final List<PastRun> rows = new ArrayList<>();
    private Definitions definitions;

    One(long seed) {
      this.seed = seed;
      this.world = new MadeUpWorld(seed);
      this.definitions = world.definitions;
    }

    void measure(Count runs, Count promises, String directory) throws IOException {
      Planner planner = new Planner(world.definitions);
      for (int day = 0; day < MadeUpWorld.DAYS; day++) {
        live(planner.plan(MadeUpWorld.FIRST.plusDays(day)), seed * 1000 + day);
      }
      Map<String, String> times = promisedTimes();
      definitions = world.promising(times);
      if (!directory.isEmpty()) {
        write(Path.of(directory), times);
      }
      for (int day = MadeUpWorld.DAYS - MadeUpWorld.HELD_OUT; day < MadeUpWorld.DAYS; day++) {
        LocalDate date = MadeUpWorld.FIRST.plusDays(day);
        if (date.getDayOfWeek().getValue() <= 5) {
          ask(date, runs, promises);
        }
      }
    }

    /** A day as it goes. */
    private void live(List<PlannedRun> plan, long chance) {
      if (plan.isEmpty()) {
        return;
      }
      List<RunSpec> specs = new ArrayList<>();
      plan.forEach(run -> specs.add(new RunSpec(specs.size() + 1L, run, 0)));
      Instant begin =
          plan.stream().map(PlannedRun::due).min(Instant::compareTo).orElseThrow().minusMillis(1);
      Rehearsal day =
          new Rehearsal(
              Outlook.boardOf(world.definitions, specs, begin),
              TrueLaws.of(world),
              new SplittableRandom(chance));
      day.apply();
      day.play(begin.plus(Duration.ofDays(2)).toEpochMilli());
      for (RunSpec run : specs) {
        RunStatus status = day.board().status(run.id()).orElseThrow();
        if (status.ended() > 0 && day.firstStart(run.id()) > 0) {
          rows.add(
              new PastRun(
                  run.run().reference().stream(),
                  run.run().reference().job(),
                  run.run().reference().date(),
                  1,
                  run.due(),
                  day.firstStart(run.id()),
                  status.ended(),
                  status.state() == RunState.SUCCEEDED
                      ? PastRun.Outcome.SUCCEEDED
                      : PastRun.Outcome.FAILED,
                  status.exitCode(),
                  status.where().word(),
                  status.attempts()));
        }
      }
    }

    /** A time for each stream that four of five days before the held out ones have kept. */
    private Map<String, String> promisedTimes() {
      Map<String, List<Long>> ends = new TreeMap<>();
      LocalDate from = MadeUpWorld.FIRST.plusDays(MadeUpWorld.DAYS - MadeUpWorld.HELD_OUT - 40L);
      for (PastRun row : rows) {
        if (row.job().equals("last") && !row.date().isBefore(from)) {
          ends.computeIfAbsent(row.stream().substring("night/".length()), any -> new ArrayList<>())
              .add(row.end() - row.date().atStartOfDay(ZoneOffset.UTC).toInstant().toEpochMilli());
        }
      }
      Map<String, String> times = new TreeMap<>();
      ends.forEach(
          (stream, all) -> {
            all.sort(null);
            long millis = all.get(all.size() * 85 / 100);
            times.put(stream, LocalTime.MIDNIGHT.plusSeconds(millis / 60_000 * 60).toString());
          });
      return times;
    }

    private void ask(LocalDate date, Count runs, Count promises) {
      Map<String, PastRun> actual = new HashMap<>();
      long last = 0;
      for (PastRun row : rows) {
        if (row.date().equals(date)) {
          actual.put(row.path(), row);
          last = Math.max(last, row.end());
        }
      }
      Instant begin = DaySoFar.beginning(definitions, date);
      Set<String> warned = new HashSet<>();
      Set<String> inTime = new HashSet<>();
      Set<String> foreseeable = new HashSet<>();
      Map<String, Promised> all = new TreeMap<>();
      boolean first = true;
      for (Instant at = begin; at.toEpochMilli() < last; at = at.plus(STEP)) {
        DaySoFar day = new DaySoFar(definitions, rows, date, at);
        Learned learned = day.learned();
        List<Promised> promised = day.promised(new Promises(definitions, Map.of()));
        promised.forEach(one -> all.put(one.commitment().name(), one));
        Outlook.Result result =
            BY_TRUE_LAWS
                ? new Outlook(day.board(), trueLaws(date, at), 1)
                    .play(List.of(), promised, SAMPLES, at.plus(Duration.ofDays(2)).toEpochMilli())
                : day.play(learned, promised, SAMPLES, 1);
        for (RunOutlook run : result.runs()) {
          PastRun row = actual.get(run.run().run().reference().path());
          boolean own = run.run().run().reference().date().equals(date);
          if (own && row != null && run.end() > 0) {
            runs.end(row.end(), run.end(), run.latestEnd());
          }
        }
        for (PromiseOutlook promise : result.promises()) {
          String name = promise.promised().commitment().name();
          PastRun row = actual.get("night/" + name + "/last");
          if (row == null || row.end() <= at.toEpochMilli()) {
            continue;
          }
          if (promise.end() > 0) {
            promises.end(row.end(), promise.end(), promise.latestEnd());
            if (first) {
              promises.firstAsked++;
              promises.off += Math.abs(row.end() - promise.end());
              promises.offMean += Math.abs(row.end() - mean(row));
              promises.offWeekday += Math.abs(row.end() - weekday(row));
            }
          }
          Instant by = promise.promised().by().orElseThrow();
          if (promise.canSayLate() && promise.chanceLate() > WARN && at.isBefore(by)) {
            warned.add(name);
            if (!at.isAfter(by.minus(Duration.ofHours(1)))) {
              inTime.add(name);
            }
          }
        }
        if (all.values().stream()
            .anyMatch(one -> by(one).minus(Duration.ofMinutes(75)).isAfter(begin))) {
          foreseen(day, date, at, all, foreseeable);
        }
        first = false;
      }
      all.forEach(
          (name, promised) -> {
            PastRun row = actual.get("night/" + name + "/last");
            boolean late = row == null || row.end() > by(promised).toEpochMilli();
            promises.late += late ? 1 : 0;
            promises.foreseeable += late && foreseeable.contains(name) ? 1 : 0;
            promises.warnedInTime +=
                late && foreseeable.contains(name) && inTime.contains(name) ? 1 : 0;
            promises.warned += warned.contains(name) ? 1 : 0;
            promises.cameToNothing += warned.contains(name) && !late ? 1 : 0;
          });
    }

    private static Instant by(Promised promised) {
      return promised.by().orElseThrow();
    }

    /** Which promises the true laws say will be broken, at least 75 minutes before. */
    private void foreseen(
        DaySoFar day,
        LocalDate date,
        Instant at,
        Map<String, Promised> all,
        Set<String> foreseeable) {
      List<Promised> open =
          all.values().stream()
              .filter(one -> !at.isAfter(by(one).minus(Duration.ofMinutes(75))))
              .toList();
      if (open.isEmpty()) {
        return;
      }
      new Outlook(day.board(), trueLaws(date, at), 7)
          .play(List.of(), open, SAMPLES, at.plus(Duration.ofDays(2)).toEpochMilli())
          .promises()
          .forEach(
              promise -> {
                if (promise.canSayLate() && promise.chanceLate() > WARN) {
                  foreseeable.add(promise.promised().commitment().name());
                }
              });
    }

    private TrueLaws trueLaws(LocalDate date, Instant at) {
      List<PastRun> ended =
          rows.stream()
              .filter(row -> row.date().equals(date) && row.end() <= at.toEpochMilli())
              .toList();
      return TrueLaws.given(world, ended, date, at.atZone(ZoneOffset.UTC).toLocalTime());
    }

    private long mean(PastRun of) {
      return of.date().atStartOfDay(ZoneOffset.UTC).toInstant().toEpochMilli()
          + (long) earlier(of, 30, false).stream().mapToLong(Long::longValue).average().orElse(0);
    }

    private long weekday(PastRun of) {
      List<Long> all = earlier(of, 1000, true);
      all.sort(null);
      return of.date().atStartOfDay(ZoneOffset.UTC).toInstant().toEpochMilli()
          + all.get(all.size() / 2);
    }

    private List<Long> earlier(PastRun of, int most, boolean sameWeekday) {
      List<Long> ends = new ArrayList<>();
      for (PastRun row : rows) {
        boolean alike = !sameWeekday || row.date().getDayOfWeek() == of.date().getDayOfWeek();
        if (row.path().equals(of.path()) && row.date().isBefore(of.date()) && alike) {
          ends.add(row.end() - row.date().atStartOfDay(ZoneOffset.UTC).toInstant().toEpochMilli());
        }
      }
      return new ArrayList<>(ends.subList(Math.max(0, ends.size() - most), ends.size()));
    }

    private void write(Path directory, Map<String, String> times) throws IOException {
      Files.createDirectories(directory);
      Files.writeString(directory.resolve("world.yaml"), world.promises(times));
      StringBuilder csv =
          new StringBuilder("job,date,start,end,outcome,number,due,exit-code,host,attempts\n");
      for (PastRun row : rows) {
        csv.append(
            "%s,%s,%s,%s,%s,%d,%s,%d,%s,%d%n"
                .formatted(
                    row.path(),
                    row.date(),
                    Instant.ofEpochMilli(row.start()),
                    Instant.ofEpochMilli(row.end()),
                    row.outcome().word(),
                    row.number(),
                    Instant.ofEpochMilli(row.due()),
                    row.exitCode(),
                    row.host(),
                    row.attempts()));
      }
      Files.writeString(directory.resolve("history.csv"), csv);
    }
  }
}
