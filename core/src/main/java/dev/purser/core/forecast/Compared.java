package dev.purser.core.forecast;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.plan.RunReference;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Two rehearsals side by side: what moved between them, and why. */
public final class Compared {
  private Compared() {}

  /**
   * How a run went in one of them.
   *
   * @param start its first start, epoch milliseconds; 0 for none
   * @param end its end; 0 for none
   * @param because what let it start
   */
  public record Way(RunState state, long start, long end, String because) {}

  /**
   * A run in both.
   *
   * @param first empty where the first rehearsal does not have it
   * @param second empty where the second does not
   */
  public record Row(RunReference run, Optional<Way> first, Optional<Way> second) {
    /** Whether it went otherwise. */
    public boolean differs() {
      boolean same =
          first.isPresent()
              && second.isPresent()
              && first.get().state() == second.get().state()
              && first.get().start() == second.get().start()
              && first.get().end() == second.get().end();
      return !same;
    }
  }

  /** All runs of both, those of the first in its order and then what only the second has. */
  public static List<Row> of(Rehearsal first, Rehearsal second) {
    Map<RunReference, Way> one = ways(first);
    Map<RunReference, Way> two = ways(second);
    List<Row> rows = new ArrayList<>();
    one.forEach(
        (run, way) -> rows.add(new Row(run, Optional.of(way), Optional.ofNullable(two.get(run)))));
    two.forEach(
        (run, way) -> {
          if (!one.containsKey(run)) {
            rows.add(new Row(run, Optional.empty(), Optional.of(way)));
          }
        });
    return rows;
  }

  private static Map<RunReference, Way> ways(Rehearsal rehearsal) {
    Map<RunReference, Way> ways = new LinkedHashMap<>();
    for (RunSpec run : rehearsal.board().runs()) {
      RunStatus status = rehearsal.board().status(run.id()).orElseThrow();
      ways.put(
          run.run().reference(),
          new Way(
              status.state(),
              rehearsal.firstStart(run.id()),
              status.ended(),
              because(rehearsal, run, status)));
    }
    return ways;
  }

  /** What let a run start, or what became of it where it did not. */
  static String because(Rehearsal rehearsal, RunSpec run, RunStatus status) {
    List<BoardEvent> causes = rehearsal.causesOfStart(run.id());
    if (causes.isEmpty()) {
      return status.state().isEnded() ? status.note() : rehearsal.board().why(run.id()).sentence();
    }
    Set<Long> own = new HashSet<>(rehearsal.board().looksAt(run.id()));
    own.add(run.id());
    return causes.stream()
        .filter(event -> isAbout(event, own))
        .findFirst()
        .or(() -> causes.stream().filter(event -> runOf(event).isPresent()).findFirst())
        .map(event -> told(rehearsal, run, event))
        .orElseGet(
            () ->
                rehearsal.firstStart(run.id()) == run.run().due().toEpochMilli()
                    ? "it was due"
                    : "its time had come");
  }

  private static boolean isAbout(BoardEvent event, Set<Long> runs) {
    return runOf(event).filter(runs::contains).isPresent();
  }

  private static Optional<Long> runOf(BoardEvent event) {
    if (event instanceof BoardEvent.AttemptEnded ended) {
      return Optional.of(ended.run());
    }
    if (event instanceof BoardEvent.AttemptBegan began) {
      return Optional.of(began.run());
    }
    if (event instanceof BoardEvent.FileArrived file) {
      return Optional.of(file.run());
    }
    return event instanceof BoardEvent.PersonActed acted
        ? Optional.of(acted.run())
        : Optional.empty();
  }

  private static String told(Rehearsal rehearsal, RunSpec run, BoardEvent event) {
    if (event instanceof BoardEvent.AttemptEnded ended) {
      return name(rehearsal, ended.run())
          + (ended.run() == run.id() ? " was tried again" : " ended");
    }
    if (event instanceof BoardEvent.FileArrived file) {
      return "file " + file.watch() + " arrived";
    }
    if (event instanceof BoardEvent.PersonActed acted) {
      return name(rehearsal, acted.run()) + " was " + acted.action().done();
    }
    return name(rehearsal, runOf(event).orElseThrow()) + " began";
  }

  private static String name(Rehearsal rehearsal, long id) {
    return rehearsal.board().run(id).map(run -> run.run().reference().toString()).orElse("a run");
  }
}
