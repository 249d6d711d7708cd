package dev.purser.core.board;

import dev.purser.core.definition.Capacity;
import dev.purser.core.definition.HostDefinition;
import dev.purser.core.definition.HostGroup;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** Something that happened. Instants are epoch milliseconds and never go back. */
public sealed interface BoardEvent {
  /** When it happened. */
  long at();

  /** Time passed. */
  record TimeReached(long at) implements BoardEvent {}

  /** What there is to run on, and what is shared: replaces what was said before. */
  record SiteDefined(
      long at, List<HostDefinition> hosts, List<HostGroup> groups, List<Capacity> capacities)
      implements BoardEvent {}

  /** A host's agent is there. */
  record HostSeen(long at, String host, Set<String> labels) implements BoardEvent {}

  /** A host's agent is gone. */
  record HostLost(long at, String host) implements BoardEvent {}

  /**
   * A host takes no new work until further notice; what runs on it goes on.
   *
   * @param note by whom and why, as the end of a sentence
   */
  record HostDrained(long at, String host, String note) implements BoardEvent {}

  /** A drained host takes work again. */
  record HostReturned(long at, String host) implements BoardEvent {}

  /**
   * Runs were added to the plan.
   *
   * @param missedBefore those due before this were missed; 0 where nothing can have been
   */
  record RunsPlanned(long at, List<RunSpec> runs, long missedBefore) implements BoardEvent {
    /** Runs of which none was missed. */
    public RunsPlanned(long at, List<RunSpec> runs) {
      this(at, runs, 0);
    }
  }

  /**
   * The service was away: of what is still planned, all that was due before a time was missed.
   *
   * @param missedBefore epoch milliseconds
   */
  record StartsMissed(long at, long missedBefore) implements BoardEvent {}

  /** Runs are taken up again from records. */
  record RunsRestored(long at, List<Restored> runs) implements BoardEvent {}

  /** Runs are no longer planned; those that are not just planned any more are left alone. */
  record RunsWithdrawn(long at, List<Long> runs) implements BoardEvent {}

  /** Business dates before this one are forgotten, as far as nothing of them is open. */
  record DatesClosed(long at, LocalDate before) implements BoardEvent {}

  /**
   * An attempt's process is at work.
   *
   * @param happened when it began: earlier than {@code at} where the news was late
   */
  record AttemptBegan(long at, long run, int attempt, long happened) implements BoardEvent {
    /** It began just now. */
    public AttemptBegan(long at, long run, int attempt) {
      this(at, run, attempt, at);
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
    /** It ended just now, and handed back nothing. */
    public AttemptEnded(long at, long run, int attempt, Ending ending) {
      this(at, run, attempt, ending, at, Map.of());
    }
  }

  /** Something was seen of a file that a run waits for, short of its arrival. */
  record FileSeen(long at, long run, String watch, FileSight sight, String path)
      implements BoardEvent {}

  /** A file has arrived for a run: whole, not empty, and used by no other run. */
  record FileArrived(long at, long run, String watch, String path) implements BoardEvent {}

  /**
   * A person did something to a run.
   *
   * @param argument the new priority (0 to 100) or start time (epoch milliseconds); 0 for all else
   */
  record PersonActed(long at, long run, Action action, String by, String reason, long argument)
      implements BoardEvent {
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
  record HoldPlaced(long at, HoldScope scope, String note) implements BoardEvent {}

  /** A job, stream or department is held no more. */
  record HoldLifted(long at, HoldScope scope) implements BoardEvent {}

  /**
   * A person changed how many units a capacity has.
   *
   * @param units -1 for as many as are defined
   */
  record CapacitySet(long at, String capacity, int units) implements BoardEvent {}

  /** A run as it stood in the records. */
  record Restored(RunSpec spec, RunStatus status) {}
}
