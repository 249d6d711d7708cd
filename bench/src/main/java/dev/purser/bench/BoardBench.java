package dev.purser.bench;

import dev.purser.core.board.Board;
import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.forecast.History;
import dev.purser.core.forecast.Outlook;
import dev.purser.core.forecast.Rehearsal;
import dev.purser.core.forecast.UsualOutcomes;
import dev.purser.core.plan.Planner;
import dev.purser.core.run.RunSpec;
import java.time.Instant;
import java.util.List;
import java.util.SplittableRandom;
import java.util.concurrent.TimeUnit;
import org.openjdk.jmh.annotations.Benchmark;
import org.openjdk.jmh.annotations.BenchmarkMode;
import org.openjdk.jmh.annotations.Fork;
import org.openjdk.jmh.annotations.Measurement;
import org.openjdk.jmh.annotations.Mode;
import org.openjdk.jmh.annotations.OperationsPerInvocation;
import org.openjdk.jmh.annotations.OutputTimeUnit;
import org.openjdk.jmh.annotations.Scope;
import org.openjdk.jmh.annotations.Setup;
import org.openjdk.jmh.annotations.State;
import org.openjdk.jmh.annotations.Warmup;

/** The board and the planner on one core. */
@State(Scope.Benchmark)
@BenchmarkMode(Mode.Throughput)
@OutputTimeUnit(TimeUnit.SECONDS)
@Warmup(iterations = 2, time = 3)
@Measurement(iterations = 3, time = 4)
@Fork(1)
public class BoardBench {
  private static final int STREAMS = 2_000;
  private static final int PLANNED_DAYS = 5;

  private Definitions definitions;
  private List<RunSpec> specs;
  private List<BoardEvent> day;
  private long begin;

  /** Plays a day once, so that its events can be fed again and again. */
  @Setup
  public void play() {
    definitions = World.definitions(STREAMS);
    specs = World.specs(definitions);
    begin = specs.stream().mapToLong(s -> s.run().due().toEpochMilli()).min().orElseThrow() - 1;
    Rehearsal rehearsal =
        new Rehearsal(
            Outlook.boardOf(definitions, List.of(), Instant.ofEpochMilli(begin)),
            new UsualOutcomes(History.NONE),
            new SplittableRandom(1));
    rehearsal.apply(new BoardEvent.RunsPlanned(begin, specs));
    rehearsal.play(Long.MAX_VALUE);
    day = List.copyOf(rehearsal.events());
    System.out.println("a day of " + specs.size() + " runs is " + day.size() + " events");
  }

  /** A recorded day, all of its events; multiply by the events that the setup prints. */
  @Benchmark
  public Board aDaysEvents() {
    Board board = Outlook.boardOf(definitions, List.of(), Instant.ofEpochMilli(begin));
    day.forEach(board::apply);
    return board;
  }

  /** Runs planned from schedules a second: five dates of 2,000 streams of ten jobs. */
  @Benchmark
  @OperationsPerInvocation(STREAMS * 10 * PLANNED_DAYS)
  public int runsPlanned() {
    Planner planner = new Planner(definitions);
    int count = 0;
    for (int i = 0; i < PLANNED_DAYS; i++) {
      count += planner.plan(World.DATE.plusDays(i)).size();
    }
    return count;
  }
}
