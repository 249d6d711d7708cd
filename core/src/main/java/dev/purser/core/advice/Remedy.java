package dev.purser.core.advice;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.run.Action;
import dev.purser.core.run.RunSpec;

/** Something that an operator could do for a run. */
public sealed interface Remedy {
  /** The run that it is done to, or for. */
  RunSpec run();

  /** It is done, as an event of a board. */
  BoardEvent event(long now);

  /**
   * Something is done to the run.
   *
   * @param argument the new priority, where that is what is done; else 0
   */
  record OnRun(RunSpec run, Action action, long argument) implements Remedy {
    @Override
    public BoardEvent event(long now) {
      return new BoardEvent.PersonActed(
          now, run.id(), action, "advice", "tried on a copy", argument);
    }
  }

  /**
   * A capacity that it needs gets more units.
   *
   * @param units how many in all
   * @param now how many there are
   */
  record MoreUnits(RunSpec run, String capacity, int units, int now) implements Remedy {
    @Override
    public BoardEvent event(long at) {
      return new BoardEvent.CapacitySet(at, capacity, units);
    }
  }

  /** A drained host on which it may be placed takes work again. */
  record HostReturned(RunSpec run, String host) implements Remedy {
    @Override
    public BoardEvent event(long at) {
      return new BoardEvent.HostReturned(at, host);
    }
  }
}
