package dev.purser.core.event;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.job.Where;
import dev.purser.core.run.Action;
import dev.purser.core.run.RunState;

/** What the outside must do: facts only. Sentences are made where somebody reads them. */
public sealed interface Instruction {
  /** Hands this to what fits it. */
  <R> R accept(Visitor<R> visitor);

  /**
   * Begin an attempt.
   *
   * @param where on a host or in the service, never nowhere
   */
  record StartAttempt(long run, int attempt, Where where) implements Instruction {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /** Ask an attempt to stop, and force it after the grace time. */
  record StopAttempt(long run, int attempt, Where where, long graceMillis) implements Instruction {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /**
   * An attempt counts no more, and nobody knows what became of it: its host is away. What the host
   * tells of it later is the truth.
   *
   * @param note for people
   */
  record GiveUpAttempt(long run, int attempt, String note) implements Instruction {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /** Look for a file on a host for a run. */
  record WatchFile(long run, String watch) implements Instruction {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /** Look for it no more. */
  record UnwatchFile(long run, String watch) implements Instruction {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /** Say that time was reached, at this time at the latest; replaces what was said before. */
  record WakeAt(long at) implements Instruction {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /** A run has changed: its status must be recorded. */
  record RunChanged(long run, RunState state, String note) implements Instruction {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /** Tell people. */
  record OpenAlert(AlertKind kind, long run, AlertReason reason) implements Instruction {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /** The reason for an alert is gone. */
  record CloseAlert(AlertKind kind, long run, String text) implements Instruction {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /** Nothing but a person's answer is missing. */
  record AskPerson(long run, String question) implements Instruction {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /** An attempt has ended that was to be replaced: its run takes what is in force now. */
  record TakeVersion(long run) implements Instruction {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /** A person's action was not taken; nothing has changed. */
  record Refused(long run, Action action, String reason) implements Instruction {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /**
   * What is done with each kind of instruction. Whoever carries them out answers for every kind, so
   * that a new one cannot vanish; whoever only looks for some extends {@link Some}.
   *
   * @param <R> the answer
   */
  interface Visitor<R> {
    /** Of this kind. */
    R visit(StartAttempt instruction);

    /** Of this kind. */
    R visit(StopAttempt instruction);

    /** Of this kind. */
    R visit(GiveUpAttempt instruction);

    /** Of this kind. */
    R visit(WatchFile instruction);

    /** Of this kind. */
    R visit(UnwatchFile instruction);

    /** Of this kind. */
    R visit(WakeAt instruction);

    /** Of this kind. */
    R visit(RunChanged instruction);

    /** Of this kind. */
    R visit(OpenAlert instruction);

    /** Of this kind. */
    R visit(CloseAlert instruction);

    /** Of this kind. */
    R visit(AskPerson instruction);

    /** Of this kind. */
    R visit(TakeVersion instruction);

    /** Of this kind. */
    R visit(Refused instruction);
  }

  /** Looks for some kinds of instructions and lets the others be. */
  abstract class Some implements Visitor<Void> {
    @Override
    public Void visit(StartAttempt instruction) {
      return null;
    }

    @Override
    public Void visit(StopAttempt instruction) {
      return null;
    }

    @Override
    public Void visit(GiveUpAttempt instruction) {
      return null;
    }

    @Override
    public Void visit(WatchFile instruction) {
      return null;
    }

    @Override
    public Void visit(UnwatchFile instruction) {
      return null;
    }

    @Override
    public Void visit(WakeAt instruction) {
      return null;
    }

    @Override
    public Void visit(RunChanged instruction) {
      return null;
    }

    @Override
    public Void visit(OpenAlert instruction) {
      return null;
    }

    @Override
    public Void visit(CloseAlert instruction) {
      return null;
    }

    @Override
    public Void visit(AskPerson instruction) {
      return null;
    }

    @Override
    public Void visit(TakeVersion instruction) {
      return null;
    }

    @Override
    public Void visit(Refused instruction) {
      return null;
    }
  }
}
