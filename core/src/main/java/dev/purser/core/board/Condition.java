package dev.purser.core.board;

import dev.purser.core.prerequisite.Answer;
import dev.purser.core.prerequisite.Prerequisite;
import dev.purser.core.schedule.Window;
import java.util.function.IntConsumer;

/**
 * A prerequisite tied to the runs of a board: names have become indexes. Immutable, so that copies
 * of a board share it.
 */
sealed interface Condition {
  /** What it says now. */
  Answer answer(Board board, int run);

  /** Hands every run that it looks at to the visitor. */
  default void targets(IntConsumer visitor) {}

  /** Always met. */
  record Met() implements Condition {
    @Override
    public Answer answer(Board board, int run) {
      return Answer.YES;
    }
  }

  /**
   * A run must have ended in a way.
   *
   * @param target its index, or -1 where it is not planned on the date
   * @param path for messages
   */
  record OnRun(int target, String path, Prerequisite.Outcome outcome) implements Condition {
    @Override
    public Answer answer(Board board, int run) {
      return target < 0 ? Answer.STUCK : answer(board);
    }

    private Answer answer(Board board) {
      RunState state = board.stateAt(target);
      if (!state.isEnded()) {
        return Answer.OPEN;
      }
      return switch (outcome) {
        case ENDED -> Answer.YES;
        case SUCCEEDED ->
            switch (state) {
              case SUCCEEDED -> Answer.YES;
              case SKIPPED -> board.isNotNeeded(target) ? Answer.NO : Answer.YES;
              default -> Answer.STUCK;
            };
        case FAILED ->
            switch (state) {
              case FAILED -> Answer.YES;
              case CANCELLED -> Answer.STUCK;
              default -> Answer.NO;
            };
        case SKIPPED ->
            switch (state) {
              case SKIPPED -> Answer.YES;
              case SUCCEEDED -> Answer.NO;
              default -> Answer.STUCK;
            };
      };
    }

    @Override
    public void targets(IntConsumer visitor) {
      if (target >= 0) {
        visitor.accept(target);
      }
    }
  }

  /**
   * Another window of the same stream must be done: all its runs have ended, and none has failed.
   * Or it must have begun at least.
   *
   * @param targets its runs
   */
  record OnWindow(int[] targets, Window.Place window, boolean begunIsEnough) implements Condition {
    @Override
    public Answer answer(Board board, int run) {
      return begunIsEnough ? begun(board) : done(board);
    }

    private Answer begun(Board board) {
      for (int target : targets) {
        RunState state = board.stateAt(target);
        if (state != RunState.PLANNED && state != RunState.WAITING) {
          return Answer.YES;
        }
      }
      return Answer.OPEN;
    }

    private Answer done(Board board) {
      Answer answer = Answer.YES;
      for (int target : targets) {
        RunState state = board.stateAt(target);
        Answer one =
            !state.isEnded() ? Answer.OPEN : state == RunState.FAILED ? Answer.STUCK : Answer.YES;
        answer = answer.and(one);
      }
      return answer;
    }

    @Override
    public void targets(IntConsumer visitor) {
      for (int target : targets) {
        visitor.accept(target);
      }
    }
  }

  /** A file must have arrived: the run's own file of this place in its list. */
  record OnFile(int place, String watch) implements Condition {
    @Override
    public Answer answer(Board board, int run) {
      return board.fileAt(run, place).sight() == FileSight.ARRIVED ? Answer.YES : Answer.OPEN;
    }
  }

  /** All must be met. */
  record All(Condition[] parts) implements Condition {
    @Override
    public Answer answer(Board board, int run) {
      Answer answer = Answer.YES;
      for (Condition part : parts) {
        answer = answer.and(part.answer(board, run));
      }
      return answer;
    }

    @Override
    public void targets(IntConsumer visitor) {
      for (Condition part : parts) {
        part.targets(visitor);
      }
    }
  }

  /** At least one must be met. */
  record Any(Condition[] parts) implements Condition {
    @Override
    public Answer answer(Board board, int run) {
      Answer answer = Answer.NO;
      for (Condition part : parts) {
        answer = answer.or(part.answer(board, run));
      }
      return answer;
    }

    @Override
    public void targets(IntConsumer visitor) {
      for (Condition part : parts) {
        part.targets(visitor);
      }
    }
  }

  /** The opposite. */
  record Not(Condition part) implements Condition {
    @Override
    public Answer answer(Board board, int run) {
      return part.answer(board, run).not();
    }

    @Override
    public void targets(IntConsumer visitor) {
      part.targets(visitor);
    }
  }
}
