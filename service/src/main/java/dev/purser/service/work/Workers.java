package dev.purser.service.work;

import dev.purser.core.board.BoardView;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.job.Where;
import dev.purser.core.job.Work;
import dev.purser.core.run.Ending;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunStatus;
import dev.purser.service.board.Engine;
import dev.purser.service.board.InTurn;
import dev.purser.service.board.Turn;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;

/** All workers, and the one listener that hands them what the board instructs. */
@Component
public class Workers implements InTurn {
  private static final Logger LOG = LoggerFactory.getLogger(Workers.class);

  private final ObjectProvider<Engine> engine;
  private final ObjectProvider<Worker> all;
  private List<Attempt> toTakeUp = List.of();

  /** Both are asked for late: the engine starts before the workers, and takes up through this. */
  Workers(ObjectProvider<Engine> engine, ObjectProvider<Worker> all) {
    this.engine = engine;
    this.all = all;
  }

  // ---- after a restart

  @Override
  public void takeUp(BoardView board, long now) {
    List<Attempt> active = new ArrayList<>();
    for (RunSpec run : board.runs()) {
      if (board.state(run.id()).orElseThrow().isActive()) {
        RunStatus status = board.status(run.id()).orElseThrow();
        if (!status.where().equals(Where.nowhere())) {
          active.add(new Attempt(run, status));
        }
      }
    }
    synchronized (this) {
      toTakeUp = active;
    }
  }

  @Override
  public void complete(Turn turn) {
    // workers do not decide
  }

  private synchronized List<Attempt> taken() {
    List<Attempt> taken = toTakeUp;
    toTakeUp = List.of();
    return taken;
  }

  @EventListener({Engine.SteppedDown.class, Engine.CutOff.class, Engine.TakenUp.class})
  void letGo() {
    all.forEach(Worker::letGo);
  }

  // ---- what the board instructs

  @EventListener
  void committed(Engine.Committed committed) {
    for (Attempt attempt : taken()) {
      orAlone("take up", () -> worker(attempt).ifPresent(worker -> worker.takeUp(attempt)));
    }
    for (Instruction instruction : committed.instructions()) {
      orAlone("carry out", () -> instruction.accept(orders));
    }
  }

  /** What one worker cannot do keeps no other from its work. */
  private static void orAlone(String what, Runnable work) {
    try {
      work.run();
    } catch (RuntimeException e) {
      LOG.error("a worker could not {} what it was given", what, e);
    }
  }

  private final Instruction.Some orders =
      new Instruction.Some() {
        @Override
        public Void visit(Instruction.StartAttempt start) {
          attempt(start.run(), start.attempt())
              .filter(attempt -> attempt.status().state().isActive())
              .ifPresent(attempt -> start(attempt));
          return null;
        }

        @Override
        public Void visit(Instruction.StopAttempt stop) {
          attempt(stop.run(), stop.attempt())
              .ifPresent(
                  attempt ->
                      worker(attempt)
                          .ifPresent(w -> w.stop(attempt, Duration.ofMillis(stop.graceMillis()))));
          return null;
        }
      };

  private void start(Attempt attempt) {
    Optional<Worker> worker = worker(attempt);
    worker.ifPresent(one -> one.start(attempt));
    if (worker.isEmpty()) {
      String kind = attempt.run().run().job().work().kind();
      LOG.error("no worker takes work of the kind {}", kind);
      String because = "this service cannot carry out work of the kind \"" + kind + "\"";
      engine.getObject().hear(turn -> cannotStart(turn, attempt, because));
    }
  }

  /**
   * Ends an attempt that cannot be started, whatever is tried again.
   *
   * @return that it was told
   */
  public static boolean cannotStart(Turn turn, Attempt attempt, String because) {
    Ending ending = new Ending(Ending.Kind.NO_VALUE, -1, because);
    turn.apply(new BoardEvent.AttemptEnded(turn.now(), attempt.id(), attempt.number(), ending));
    return true;
  }

  /** An attempt as it stands now; nothing where the run has gone on to another one. */
  private Optional<Attempt> attempt(long run, int number) {
    return engine
        .getObject()
        .look(
            board ->
                board
                    .run(run)
                    .map(spec -> new Attempt(spec, board.status(run).orElseThrow()))
                    .filter(attempt -> attempt.number() == number));
  }

  private Optional<Worker> worker(Attempt attempt) {
    Work work = attempt.run().run().job().work();
    return all.stream().filter(worker -> worker.takes(work, attempt.status().where())).findFirst();
  }
}
