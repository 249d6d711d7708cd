package dev.purser.service.plan;

import dev.purser.core.board.RunState;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.RunReference;
import dev.purser.service.board.Turn;
import dev.purser.service.run.RunRecords;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;

/** What is planned already, on the board or in the records, so that nothing is planned twice. */
@Component
class PlannedRuns {
  private final RunRecords records;

  PlannedRuns(RunRecords records) {
    this.records = records;
  }

  /** The runs of a stream that are planned and have not begun. */
  List<Long> notBegun(Turn turn, String stream) {
    return turn.board().runs().stream()
        .filter(run -> run.run().reference().stream().equals(stream))
        .filter(run -> turn.board().status(run.id()).orElseThrow().state() == RunState.PLANNED)
        .map(run -> run.id())
        .toList();
  }

  /**
   * Those of the wanted runs of a stream that are not there yet. A window is there by its number.
   * All else is there where a run of the same job, date and start is; a start whose number is taken
   * by another start gets the next free one, so that no start is lost to a number.
   */
  List<PlannedRun> fresh(Turn turn, String stream, List<PlannedRun> wanted) {
    if (wanted.isEmpty()) {
      return List.of();
    }
    Map<RunReference, Instant> there = new HashMap<>();
    records.ofStream(stream, first(wanted), last(wanted)).forEach(there::put);
    turn.board().runs().stream()
        .map(run -> run.run())
        .filter(run -> run.reference().stream().equals(stream))
        .forEach(run -> there.put(run.reference(), run.due()));
    List<PlannedRun> fresh = new ArrayList<>();
    Map<java.time.LocalDate, List<PlannedRun>> byDate =
        wanted.stream()
            .collect(
                Collectors.groupingBy(
                    run -> run.reference().date(), TreeMap::new, Collectors.toList()));
    byDate.values().forEach(runs -> fresh.addAll(freshOfDate(runs, there)));
    return fresh;
  }

  private static java.time.LocalDate first(List<PlannedRun> runs) {
    return runs.stream()
        .map(run -> run.reference().date())
        .min(java.time.LocalDate::compareTo)
        .orElseThrow();
  }

  private static java.time.LocalDate last(List<PlannedRun> runs) {
    return runs.stream()
        .map(run -> run.reference().date())
        .max(java.time.LocalDate::compareTo)
        .orElseThrow();
  }

  private static List<PlannedRun> freshOfDate(
      List<PlannedRun> runs, Map<RunReference, Instant> there) {
    Map<Integer, List<PlannedRun>> starts =
        runs.stream()
            .collect(
                Collectors.groupingBy(
                    run -> run.reference().number(), LinkedHashMap::new, Collectors.toList()));
    Set<Integer> taken = new HashSet<>(starts.keySet());
    Map<String, Instant> dues = new HashMap<>();
    for (Map.Entry<RunReference, Instant> one : there.entrySet()) {
      if (one.getKey().date().equals(runs.get(0).reference().date())) {
        taken.add(one.getKey().number());
        dues.put(one.getKey().job() + " " + one.getValue(), one.getValue());
      }
    }
    List<PlannedRun> fresh = new ArrayList<>();
    for (List<PlannedRun> start : starts.values()) {
      boolean window = start.get(0).start().window().isPresent();
      List<PlannedRun> missing =
          start.stream()
              .filter(
                  run ->
                      window
                          ? !there.containsKey(run.reference())
                          : !dues.containsKey(run.reference().job() + " " + run.due()))
              .toList();
      boolean clash = missing.stream().anyMatch(run -> there.containsKey(run.reference()));
      if (clash) {
        int number = taken.stream().max(Integer::compare).orElse(0) + 1;
        taken.add(number);
        fresh.addAll(missing.stream().map(numbered(number)).toList());
      } else {
        fresh.addAll(missing);
      }
    }
    return fresh;
  }

  private static Function<PlannedRun, PlannedRun> numbered(int number) {
    return run -> run.numbered(number);
  }
}
