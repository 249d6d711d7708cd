package dev.purser.service.work;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import dev.purser.core.board.Board;
import dev.purser.core.board.BoardView;
import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.forecast.Outlook;
import dev.purser.core.job.Where;
import dev.purser.core.job.Work;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.RunSpec;
import dev.purser.service.board.Engine;
import java.time.Duration;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.springframework.beans.factory.ObjectProvider;

/** What one worker cannot do keeps no other attempt from being started, stopped or taken up. */
class WorkersTest {
  private static final LocalDate DATE = LocalDate.of(2027, 3, 4);
  private static final Definitions ALL =
      DefinitionCheck.check(
              Definitions.none(),
              List.of(
                  new SourceFile(
                      "t.yaml",
                      "host: pier\n---\nstream: a/b\nschedule: { days: every day, at: \"06:00\", zone:"
                          + " UTC }\njobs:\n  one: { host: pier, run: x }\n  two: { host: pier, run: y"
                          + " }\n  three: { host: pier, run: z }\n")),
              DATE)
          .definitions();

  /** Notes what it is told, and fails at the first of each. */
  private static final class Clumsy implements Worker {
    private final List<String> told = new ArrayList<>();

    private void tell(String what, Attempt attempt) {
      String line = what + " " + attempt.id();
      told.add(line);
      if (told.stream().filter(one -> one.startsWith(what)).count() == 1) {
        throw new IllegalStateException("cannot " + line);
      }
    }

    @Override
    public boolean takes(Work work, Where where) {
      return true;
    }

    @Override
    public void start(Attempt attempt) {
      tell("start", attempt);
    }

    @Override
    public void stop(Attempt attempt, Duration grace) {
      tell("stop", attempt);
    }

    @Override
    public void takeUp(Attempt attempt) {
      tell("take up", attempt);
    }

    @Override
    public void letGo() {
      told.clear();
    }
  }

  private final Clumsy clumsy = new Clumsy();
  private final Board board = board();

  private static Board board() {
    List<RunSpec> specs = new ArrayList<>();
    for (PlannedRun run : new Planner(ALL).plan(DATE)) {
      specs.add(new RunSpec(specs.size() + 1, run, 0));
    }
    Board board = Outlook.boardOf(ALL, specs, specs.get(0).run().due());
    board.turn(new BoardEvent.HostSeen(board.now() + 1, "pier", Set.of()));
    board.turn(new BoardEvent.TimeReached(specs.get(0).due() + 1));
    return board;
  }

  @SuppressWarnings("unchecked")
  private Workers workers() {
    Engine engine = mock(Engine.class);
    when(engine.look(any()))
        .thenAnswer(call -> ((Function<BoardView, ?>) call.getArgument(0)).apply(board));
    ObjectProvider<Engine> engines = mock(ObjectProvider.class);
    when(engines.getObject()).thenReturn(engine);
    ObjectProvider<Worker> all = mock(ObjectProvider.class);
    when(all.stream()).thenAnswer(call -> Stream.of(clumsy));
    return new Workers(engines, all);
  }

  @Test
  void oneThatFailsKeepsNoOtherFromItsWork() {
    Workers workers = workers();
    List<Instruction> orders = new ArrayList<>();
    for (RunSpec run : board.runs()) {
      orders.add(new Instruction.StartAttempt(run.id(), 1, Where.onHost("pier")));
    }
    for (RunSpec run : board.runs()) {
      orders.add(new Instruction.StopAttempt(run.id(), 1, Where.onHost("pier"), 10));
    }
    workers.committed(new Engine.Committed(List.of(), List.of(), orders));
    assertThat(clumsy.told)
        .containsExactly("start 1", "start 2", "start 3", "stop 1", "stop 2", "stop 3");
  }

  @Test
  void whatWasBegunBeforeIsTakenUpAllTheSame() {
    Workers workers = workers();
    workers.takeUp(board, board.now());
    workers.committed(new Engine.Committed(List.of(), List.of(), List.of()));
    assertThat(clumsy.told).containsExactly("take up 1", "take up 2", "take up 3");
  }
}
