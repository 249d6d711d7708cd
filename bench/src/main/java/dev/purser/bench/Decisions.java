package dev.purser.bench;

import dev.purser.core.board.Board;
import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.forecast.History;
import dev.purser.core.forecast.Outlook;
import dev.purser.core.forecast.Rehearsal;
import dev.purser.core.forecast.TypicalOutcomes;
import dev.purser.core.forecast.WhatIf;
import dev.purser.core.run.Action;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import java.time.Instant;
import java.util.List;
import java.util.SplittableRandom;

/**
 * What deciding costs, on one thread: a day of 100,000 runs with three prerequisites each (one in
 * ten across streams) and one in ten in line for a capacity: rehearsed, its events replayed, the
 * board copied , {@code why} asked of every waiting run in the middle of the day; and what-if on a
 * day of 10,000. The first figure of each is cold.
 */
final class Decisions {
  private static final TypicalOutcomes TYPICAL = new TypicalOutcomes(History.NONE);

  private Decisions() {}

  /** Prints the figures. */
  public static void main(String[] args) {
    rehearsals();
    whatIf();
  }

  private static long begin(List<RunSpec> specs) {
    return specs.stream().mapToLong(s -> s.run().due().toEpochMilli()).min().orElseThrow() - 1;
  }

  private static Rehearsal rehearse(Definitions definitions, List<RunSpec> specs, long until) {
    long begin = begin(specs);
    Rehearsal rehearsal =
        new Rehearsal(
            Outlook.boardOf(definitions, List.of(), Instant.ofEpochMilli(begin)),
            TYPICAL,
            new SplittableRandom(1));
    rehearsal.apply(new BoardEvent.RunsPlanned(begin, specs));
    rehearsal.play(until);
    return rehearsal;
  }

  private static void rehearsals() {
    Definitions definitions = World.definitions(10_000);
    List<RunSpec> specs = World.specs(definitions);
    Board planned = Outlook.boardOf(definitions, List.of(), Instant.ofEpochMilli(begin(specs)));
    for (int round = 0; round < 5; round++) {
      planned = Outlook.boardOf(definitions, List.of(), Instant.ofEpochMilli(begin(specs)));
      long start = System.nanoTime();
      planned.turn(new BoardEvent.RunsPlanned(begin(specs), specs));
      print("%,d runs taken onto the board and tied".formatted(specs.size()), start, round);
    }
    List<BoardEvent> events = List.of();
    for (int round = 0; round < 8; round++) {
      long start = System.nanoTime();
      Rehearsal rehearsal = new Rehearsal(new Board(planned), TYPICAL, new SplittableRandom(1));
      rehearsal.play(Long.MAX_VALUE - 1);
      print("rehearsal of that day, from a copy of it", start, round);
      events = rehearsal.events();
    }
    for (int round = 0; round < 8; round++) {
      Board board = new Board(planned);
      long start = System.nanoTime();
      events.forEach(board::apply);
      double mine = events.size() / ((System.nanoTime() - start) / 1e9);
      double bare = BareQueue.eventsPerSecond(events, specs.size());
      System.out.printf(
          "its %,d events replayed: %,.0f events/s; a bare queue of the same: %,.0f; %.2f%s%n",
          events.size(), mine, bare, mine / bare, round == 0 ? " (cold)" : "");
    }
    Board middle = rehearse(definitions, specs, begin(specs) + 12 * 3_600_000L).board();
    for (int round = 0; round < 6; round++) {
      long start = System.nanoTime();
      Board copy = new Board(middle);
      print("a fork of that board of %,d runs".formatted(copy.size()), start, round);
    }
    List<Long> waiting =
        middle.runs().stream()
            .map(RunSpec::id)
            .filter(id -> middle.state(id).orElseThrow() == RunState.WAITING)
            .toList();
    long worst = 0;
    long all = System.nanoTime();
    for (long id : waiting) {
      long start = System.nanoTime();
      middle.why(id);
      worst = Math.max(worst, System.nanoTime() - start);
    }
    System.out.printf(
        "why of %,d waiting runs: %.3f ms on average, %.3f ms at the worst (cold)%n",
        waiting.size(), (System.nanoTime() - all) / 1e6 / Math.max(waiting.size(), 1), worst / 1e6);
  }

  private static void whatIf() {
    Definitions definitions = World.definitions(1_000);
    List<RunSpec> specs = World.specs(definitions);
    Board middle = rehearse(definitions, specs, begin(specs) + 8 * 3_600_000L).board();
    long running =
        middle.runs().stream()
            .map(RunSpec::id)
            .filter(id -> middle.state(id).orElseThrow() == RunState.RUNNING)
            .findFirst()
            .orElseThrow();
    for (int round = 0; round < 6; round++) {
      long start = System.nanoTime();
      WhatIf.Effect effect =
          WhatIf.of(
              middle,
              TYPICAL,
              List.of(new BoardEvent.PersonActed(middle.now(), running, Action.CANCEL, "ida", "")),
              middle.now() + 3 * 86_400_000L);
      print(
          "what-if on a day of %,d runs (%d sentences)"
              .formatted(middle.size(), effect.sentences().size()),
          start,
          round);
    }
  }

  private static void print(String what, long start, int round) {
    System.out.printf(
        "%s: %.1f ms%s%n", what, (System.nanoTime() - start) / 1e6, round == 0 ? " (cold)" : "");
  }
}
