package dev.purser.service.plan;

import dev.purser.core.definition.Stream;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.RunReference;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.service.board.Turn;
import dev.purser.service.run.RunRecords;
import dev.purser.service.run.RunRow;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.function.Predicate;
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
        .filter(run -> top(turn, run.run().reference()).equals(stream))
        .filter(run -> turn.board().status(run.id()).orElseThrow().state() == RunState.PLANNED)
        .map(run -> run.id())
        .toList();
  }

  /** The stream whose schedule a run comes from: for a run below a step, the outermost one. */
  static String top(Turn turn, RunReference run) {
    return turn.definitions().topOf(run.stream()).map(Stream::path).orElse(run.stream());
  }

  /** A run that is there: its id and when it is due. */
  record There(long id, Instant due) {}

  /** The runs on the board by stream and reference, looked up once for many streams. */
  Map<String, Map<RunReference, There>> onBoard(Turn turn) {
    return onBoard(turn, any -> true);
  }

  /** The same of some streams. */
  Map<String, Map<RunReference, There>> onBoard(Turn turn, Predicate<String> streams) {
    Map<String, Map<RunReference, There>> index = new HashMap<>();
    for (RunSpec run : turn.board().runs()) {
      String top = top(turn, run.run().reference());
      if (streams.test(top)) {
        index
            .computeIfAbsent(top, path -> new HashMap<>())
            .put(run.run().reference(), new There(run.id(), run.run().due()));
      }
    }
    return index;
  }

  /**
   * Those of the wanted runs of a stream that are not there yet. A window is there by its number.
   * All else is there where a run of the same job, date and due time is; a start whose number is
   * taken by another start gets the next free one, so that no start is lost to a number.
   *
   * @param onBoard of {@link #onBoard}; what has been withdrawn since does not count
   * @param old whether dates are wanted that the board may have forgotten: then the records are
   *     asked
   */
  List<PlannedRun> fresh(
      Turn turn,
      String stream,
      List<PlannedRun> wanted,
      Map<String, Map<RunReference, There>> onBoard,
      boolean old) {
    if (wanted.isEmpty()) {
      return List.of();
    }
    Map<RunReference, Instant> there = new HashMap<>();
    if (old) {
      LocalDate first = date(wanted, Comparator.naturalOrder());
      LocalDate last = date(wanted, Comparator.reverseOrder());
      for (RunRow row : records.ofStream(stream, first, last)) {
        boolean own =
            turn.definitions().topOf(row.stream).filter(t -> t.path().equals(stream)).isPresent();
        if (own && !turn.isGone(row.id)) {
          there.put(new RunReference(row.stream, row.job, row.businessDate, row.number), row.due);
        }
      }
    }
    onBoard
        .getOrDefault(stream, Map.of())
        .forEach(
            (reference, run) -> {
              if (turn.board().run(run.id()).isPresent()) {
                there.put(reference, run.due());
              }
            });
    List<PlannedRun> fresh = new ArrayList<>();
    Map<LocalDate, List<PlannedRun>> byDate =
        wanted.stream()
            .collect(
                Collectors.groupingBy(
                    run -> run.reference().date(), TreeMap::new, Collectors.toList()));
    byDate.values().forEach(runs -> fresh.addAll(freshOfDate(runs, there)));
    return fresh;
  }

  private static LocalDate date(List<PlannedRun> runs, Comparator<LocalDate> order) {
    return runs.stream().map(run -> run.reference().date()).min(order).orElseThrow();
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
        dues.put(one.getKey().path() + " " + one.getValue(), one.getValue());
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
                          : !dues.containsKey(run.reference().path() + " " + run.due()))
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
