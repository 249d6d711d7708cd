package dev.purser.core.event;

import dev.purser.core.definition.Capacity;
import dev.purser.core.definition.HostDefinition;
import dev.purser.core.definition.HostGroup;
import dev.purser.core.run.Action;
import dev.purser.core.run.Ending;
import dev.purser.core.run.FileSight;
import dev.purser.core.run.HoldScope;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunStatus;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Something that happened. Instants are epoch milliseconds and never go back. What happened is
 * taken in at once; what follows from it is decided when the turn ends ({@link TurnEnded}), so that
 * all that came in one turn counts as one instant.
 */
public sealed interface BoardEvent {
  /** When it happened. */
  long at();

  /** Hands this to what fits it. */
  <R> R accept(Visitor<R> visitor);

  /** All that came in this turn has been told: now who may start is decided, in one order. */
  record TurnEnded(long at) implements BoardEvent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /** Time passed. */
  record TimeReached(long at) implements BoardEvent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /** What there is to run on, and what is shared: replaces what was said before. */
  record SiteDefined(
      long at, List<HostDefinition> hosts, List<HostGroup> groups, List<Capacity> capacities)
      implements BoardEvent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /** A host's agent is there. */
  record HostSeen(long at, String host, Set<String> labels) implements BoardEvent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /** A host's agent is gone. */
  record HostLost(long at, String host) implements BoardEvent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /**
   * A host takes no new work until further notice; what runs on it goes on.
   *
   * @param note by whom and why, as the end of a sentence
   */
  record HostDrained(long at, String host, String note) implements BoardEvent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /** A drained host takes work again. */
  record HostReturned(long at, String host) implements BoardEvent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /**
   * Runs were added to the plan.
   *
   * @param missedBefore those due before this were missed; 0 where nothing can have been
   * @param said by id, what people have said of some of them before they were planned anew
   */
  record RunsPlanned(long at, List<RunSpec> runs, long missedBefore, Map<Long, RunStatus.Said> said)
      implements BoardEvent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }

    /** Runs of which none was missed. */
    public RunsPlanned(long at, List<RunSpec> runs) {
      this(at, runs, 0, Map.of());
    }

    /** Runs of which nobody has said anything. */
    public RunsPlanned(long at, List<RunSpec> runs, long missedBefore) {
      this(at, runs, missedBefore, Map.of());
    }
  }

  /**
   * The service was away: of what is still planned, all that was due before a time was missed.
   *
   * @param missedBefore epoch milliseconds
   */
  record StartsMissed(long at, long missedBefore) implements BoardEvent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /** Runs are taken up again from records. */
  record RunsRestored(long at, List<Restored> runs) implements BoardEvent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /** Runs are no longer planned; those that are not just planned any more are left alone. */
  record RunsWithdrawn(long at, List<Long> runs) implements BoardEvent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /**
   * Runs take another version of their definition, and go on where they stand: what they have
   * waited for, how often they were tried and what people have said of them stays. One that is over
   * well or was skipped keeps what it has, and so does one whose attempt is out.
   *
   * @param runs with the ids that they have
   * @param note which version and by whom, for people
   */
  record RunsRedefined(long at, List<RunSpec> runs, String note) implements BoardEvent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /**
   * A stream goes by another name, with all its runs; nothing else of them changes, whatever their
   * state.
   *
   * @param runs with the ids that they have
   * @param note from what to what and by whom, for people
   */
  record StreamRenamed(long at, List<RunSpec> runs, String note) implements BoardEvent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /**
   * Attempts that are out are asked to stop, so that their runs are tried again as other
   * definitions say. One that ends well before it is stopped has done its work: its run is over.
   *
   * @param note why and by whom, for people
   */
  record AttemptsReplaced(long at, List<Long> runs, String note) implements BoardEvent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /** Business dates before this one are forgotten, as far as nothing of them is open. */
  record DatesClosed(long at, LocalDate before) implements BoardEvent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /**
   * An attempt's process is at work.
   *
   * @param happened when it began: earlier than {@code at} where the news was late
   */
  record AttemptBegan(long at, long run, int attempt, long happened) implements BoardEvent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }

    /** It began just now. */
    public AttemptBegan(long at, long run, int attempt) {
      this(at, run, attempt, at);
    }
  }

  /**
   * Whoever carries out an attempt says how it stands there, for people; it goes on.
   *
   * @param note replaces what was said before
   * @param asks whether it can go on only once a person has said something
   * @param values what is known of it before its end, such as a remote id; empty for nothing new
   */
  record AttemptTold(
      long at, long run, int attempt, String note, boolean asks, Map<String, String> values)
      implements BoardEvent {
    /** Copies the map. */
    public AttemptTold {
      values = Map.copyOf(values);
    }

    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /**
   * An attempt is over.
   *
   * @param happened when it ended: earlier than {@code at} where the news was late
   * @param values what it handed back, by name
   */
  record AttemptEnded(
      long at, long run, int attempt, Ending ending, long happened, Map<String, String> values)
      implements BoardEvent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }

    /** It ended just now, and handed back nothing. */
    public AttemptEnded(long at, long run, int attempt, Ending ending) {
      this(at, run, attempt, ending, at, Map.of());
    }
  }

  /** Something was seen of a file that a run waits for, short of its arrival. */
  record FileSeen(long at, long run, String watch, FileSight sight, String path)
      implements BoardEvent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /** A file has arrived for a run: whole, not empty, and used by no other run. */
  record FileArrived(long at, long run, String watch, String path) implements BoardEvent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /**
   * A person did something to a run.
   *
   * @param argument the new priority (0 to 100) or start time (epoch milliseconds); 0 for all else
   */
  record PersonActed(long at, long run, Action action, String by, String reason, long argument)
      implements BoardEvent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }

    /** Something that needs no argument. */
    public PersonActed(long at, long run, Action action, String by, String reason) {
      this(at, run, action, by, reason, 0);
    }
  }

  /**
   * A job, stream or department is held until it is released; what runs goes on.
   *
   * @param note by whom and why, as the end of a sentence
   */
  record HoldPlaced(long at, HoldScope scope, String note) implements BoardEvent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /** A job, stream or department is held no more. */
  record HoldLifted(long at, HoldScope scope) implements BoardEvent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /**
   * A person changed how many units a capacity has.
   *
   * @param units -1 for as many as are defined
   */
  record CapacitySet(long at, String capacity, int units) implements BoardEvent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /**
   * What is done with each kind of event; a kind without an answer does not compile.
   *
   * @param <R> the answer
   */
  interface Visitor<R> {
    /** Of this kind. */
    R visit(TurnEnded event);

    /** Of this kind. */
    R visit(TimeReached event);

    /** Of this kind. */
    R visit(SiteDefined event);

    /** Of this kind. */
    R visit(HostSeen event);

    /** Of this kind. */
    R visit(HostLost event);

    /** Of this kind. */
    R visit(HostDrained event);

    /** Of this kind. */
    R visit(HostReturned event);

    /** Of this kind. */
    R visit(RunsPlanned event);

    /** Of this kind. */
    R visit(StartsMissed event);

    /** Of this kind. */
    R visit(RunsRestored event);

    /** Of this kind. */
    R visit(RunsWithdrawn event);

    /** Of this kind. */
    R visit(RunsRedefined event);

    /** Of this kind. */
    R visit(AttemptsReplaced event);

    /** Of this kind. */
    R visit(StreamRenamed event);

    /** Of this kind. */
    R visit(DatesClosed event);

    /** Of this kind. */
    R visit(AttemptBegan event);

    /** Of this kind. */
    R visit(AttemptTold event);

    /** Of this kind. */
    R visit(AttemptEnded event);

    /** Of this kind. */
    R visit(FileSeen event);

    /** Of this kind. */
    R visit(FileArrived event);

    /** Of this kind. */
    R visit(PersonActed event);

    /** Of this kind. */
    R visit(HoldPlaced event);

    /** Of this kind. */
    R visit(HoldLifted event);

    /** Of this kind. */
    R visit(CapacitySet event);
  }

  /** A run as it stood in the records. */
  record Restored(RunSpec spec, RunStatus status) {}
}
