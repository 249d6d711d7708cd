package dev.purser.core.tie;

import dev.purser.core.job.SuccessRule;
import dev.purser.core.prerequisite.Answer;
import dev.purser.core.prerequisite.Comparison;
import dev.purser.core.prerequisite.ExitCodes;
import dev.purser.core.prerequisite.Prerequisite;
import dev.purser.core.run.FileSight;
import dev.purser.core.run.RunState;
import dev.purser.core.schedule.Window;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.IntConsumer;

/**
 * A prerequisite tied to the runs of a board: names have become indexes. Immutable, so that copies
 * of a board share it.
 */
public sealed interface Condition {
  /** What it says now. */
  Answer answer(Facts facts, int run);

  /** Hands this to what fits it. */
  <R> R accept(Visitor<R> visitor);

  /** Hands every run that it looks at to the visitor. */
  default void targets(IntConsumer visitor) {}

  /** Hands every run to the visitor of which it asks whether it is at work just now. */
  default void heard(IntConsumer visitor) {}

  /** Hands every comparison of a value below this to the visitor, from left to right. */
  default void values(Consumer<OnValue> visitor) {}

  /** Always met. */
  record Met() implements Condition {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }

    static final Met ALWAYS = new Met();

    @Override
    public Answer answer(Facts facts, int run) {
      return Answer.YES;
    }
  }

  /**
   * A run must have ended in a way.
   *
   * @param target its index, or -1 where it is not planned
   * @param path its full path where it is not planned; else null, and its run says it
   * @param outcome not {@link Prerequisite.Outcome#RUNNING}
   * @param codes with an end: the exit codes asked for
   * @param previous whether it is that of the previous business date
   */
  record OnRun(
      int target,
      String path,
      Prerequisite.Outcome outcome,
      Optional<ExitCodes> codes,
      boolean previous)
      implements Condition {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }

    @Override
    public Answer answer(Facts facts, int run) {
      return target < 0 ? Answer.STUCK : answerOf(facts, target, outcome, codes);
    }

    static Answer answerOf(
        Facts facts, int target, Prerequisite.Outcome outcome, Optional<ExitCodes> codes) {
      RunState state = facts.stateAt(target);
      if (!state.isEnded()) {
        return Answer.OPEN;
      }
      return switch (outcome) {
        case ENDED -> codes.isPresent() ? coded(facts, target, state, codes.get()) : Answer.YES;
        case SUCCEEDED ->
            switch (state) {
              case SUCCEEDED -> Answer.YES;
              case SKIPPED -> facts.isNotNeeded(target) ? Answer.NO : Answer.YES;
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
        case RUNNING -> throw new IllegalStateException("asked of the wrong condition");
      };
    }

    /** A person's word that it succeeded, and a skip, count as exit code 0. */
    private static Answer coded(Facts facts, int target, RunState state, ExitCodes codes) {
      int code = facts.exitCodeAt(target);
      return switch (state) {
        case SUCCEEDED -> codes.contains(Math.max(code, 0)) ? Answer.YES : Answer.NO;
        case FAILED -> codes.contains(code) ? Answer.YES : Answer.STUCK;
        case SKIPPED -> facts.isNotNeeded(target) || !codes.contains(0) ? Answer.NO : Answer.YES;
        default -> Answer.STUCK;
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
   * A start of a stream must have succeeded, or failed, as a whole.
   *
   * @param targets the runs of that start that count by the stream's {@code succeeds-if}
   * @param outcome {@link Prerequisite.Outcome#SUCCEEDED} or {@link Prerequisite.Outcome#FAILED}
   */
  record OnStream(int[] targets, SuccessRule rule, Prerequisite.Outcome outcome)
      implements Condition {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }

    @Override
    public Answer answer(Facts facts, int run) {
      Tally tally = new Tally();
      for (int target : targets) {
        tally.add(facts.stateAt(target), facts.isNotNeeded(target));
      }
      return outcome == Prerequisite.Outcome.SUCCEEDED ? tally.succeeded(rule) : tally.failed(rule);
    }

    @Override
    public void targets(IntConsumer visitor) {
      for (int target : targets) {
        visitor.accept(target);
      }
    }
  }

  /**
   * A run must be at work just now, or must not.
   *
   * @param target its index, or -1 where it is not planned
   */
  record OnRunning(int target, String path, boolean wanted) implements Condition {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }

    @Override
    public Answer answer(Facts facts, int run) {
      boolean active = target >= 0 && facts.stateAt(target).isActive();
      if (active == wanted) {
        return Answer.YES;
      }
      boolean over = wanted && (target < 0 || facts.stateAt(target).isEnded());
      return over ? Answer.STUCK : Answer.OPEN;
    }

    @Override
    public void targets(IntConsumer visitor) {
      if (target >= 0) {
        visitor.accept(target);
      }
    }

    @Override
    public void heard(IntConsumer visitor) {
      targets(visitor);
    }
  }

  /**
   * Some run of a job must have ended in a way not long before.
   *
   * @param targets all runs of the job, of whatever date
   * @param since epoch milliseconds: earlier ends do not count
   * @param span as it is written, for messages
   */
  record OnLatest(
      int[] targets,
      String path,
      Prerequisite.Outcome outcome,
      Optional<ExitCodes> codes,
      long since,
      String span)
      implements Condition {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }

    @Override
    public Answer answer(Facts facts, int run) {
      Answer best = Answer.STUCK;
      for (int target : targets) {
        Answer one = OnRun.answerOf(facts, target, outcome, codes);
        if (one == Answer.YES && facts.endedAt(target) < since) {
          one = Answer.STUCK;
        }
        best = best.or(one);
      }
      return best;
    }

    @Override
    public void targets(IntConsumer visitor) {
      for (int target : targets) {
        visitor.accept(target);
      }
    }
  }

  /**
   * A value that a run handed back must compare in a way, or must not.
   *
   * @param target its index, or -1 where it is not planned
   */
  record OnValue(
      int target,
      String path,
      String name,
      Comparison comparison,
      String operand,
      boolean wanted,
      boolean previous)
      implements Condition {
    @Override
    public void values(Consumer<OnValue> visitor) {
      visitor.accept(this);
    }

    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }

    @Override
    public Answer answer(Facts facts, int run) {
      if (target < 0) {
        return Answer.STUCK;
      }
      if (!facts.stateAt(target).isEnded()) {
        return Answer.OPEN;
      }
      String value = facts.valuesAt(target).get(name);
      return value == null
          ? Answer.STUCK
          : comparison.holds(value, operand) == wanted ? Answer.YES : Answer.NO;
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
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }

    @Override
    public Answer answer(Facts facts, int run) {
      return begunIsEnough ? begun(facts) : done(facts);
    }

    private Answer begun(Facts facts) {
      for (int target : targets) {
        RunState state = facts.stateAt(target);
        if (state != RunState.PLANNED && state != RunState.WAITING) {
          return Answer.YES;
        }
      }
      return Answer.OPEN;
    }

    private Answer done(Facts facts) {
      Answer answer = Answer.YES;
      for (int target : targets) {
        RunState state = facts.stateAt(target);
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

    @Override
    public void heard(IntConsumer visitor) {
      if (begunIsEnough) {
        targets(visitor);
      }
    }
  }

  /** A file must have arrived: the run's own file of this place in its list. */
  record OnFile(int place, String watch) implements Condition {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }

    @Override
    public Answer answer(Facts facts, int run) {
      return facts.sightAt(run, place) == FileSight.ARRIVED ? Answer.YES : Answer.OPEN;
    }
  }

  /** All must be met. */
  record All(Condition[] parts) implements Condition {
    @Override
    public void values(Consumer<OnValue> visitor) {
      for (Condition part : parts) {
        part.values(visitor);
      }
    }

    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }

    @Override
    public Answer answer(Facts facts, int run) {
      Answer answer = Answer.YES;
      for (Condition part : parts) {
        answer = answer.and(part.answer(facts, run));
      }
      return answer;
    }

    @Override
    public void targets(IntConsumer visitor) {
      for (Condition part : parts) {
        part.targets(visitor);
      }
    }

    @Override
    public void heard(IntConsumer visitor) {
      for (Condition part : parts) {
        part.heard(visitor);
      }
    }
  }

  /** At least one must be met. */
  record Any(Condition[] parts) implements Condition {
    @Override
    public void values(Consumer<OnValue> visitor) {
      for (Condition part : parts) {
        part.values(visitor);
      }
    }

    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }

    @Override
    public Answer answer(Facts facts, int run) {
      Answer answer = Answer.NO;
      for (Condition part : parts) {
        answer = answer.or(part.answer(facts, run));
      }
      return answer;
    }

    @Override
    public void targets(IntConsumer visitor) {
      for (Condition part : parts) {
        part.targets(visitor);
      }
    }

    @Override
    public void heard(IntConsumer visitor) {
      for (Condition part : parts) {
        part.heard(visitor);
      }
    }
  }

  /** The opposite. */
  record Not(Condition part) implements Condition {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }

    @Override
    public Answer answer(Facts facts, int run) {
      return part.answer(facts, run).not();
    }

    @Override
    public void targets(IntConsumer visitor) {
      part.targets(visitor);
    }
  }

  /**
   * What is done with each kind of condition: whoever tells of them answers for every kind.
   *
   * @param <R> the answer
   */
  interface Visitor<R> {
    /** Of this kind. */
    R visit(Met condition);

    /** Of this kind. */
    R visit(OnRun condition);

    /** Of this kind. */
    R visit(OnStream condition);

    /** Of this kind. */
    R visit(OnRunning condition);

    /** Of this kind. */
    R visit(OnLatest condition);

    /** Of this kind. */
    R visit(OnValue condition);

    /** Of this kind. */
    R visit(OnWindow condition);

    /** Of this kind. */
    R visit(OnFile condition);

    /** Of this kind. */
    R visit(All condition);

    /** Of this kind. */
    R visit(Any condition);

    /** Of this kind. */
    R visit(Not condition);
  }
}
