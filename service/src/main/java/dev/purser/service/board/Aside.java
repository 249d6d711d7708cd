package dev.purser.service.board;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.run.Action;
import dev.purser.core.run.RunSpec;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.function.LongFunction;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * Runs that can never be put on record as they come to stand when their time has come. Each is held
 * before the time is let on, so that it keeps back no other run and nobody's question, and an alert
 * says so; nothing of it has been sent to any host by then.
 */
final class Aside {
  /** How the hold of such a run begins. */
  static final String HELD = "held by purser: it cannot be put on record";

  private static final Logger LOG = LoggerFactory.getLogger(Aside.class);

  private final EngineRecords records;
  private final Set<Long> toHold = new LinkedHashSet<>();

  Aside(EngineRecords records) {
    this.records = records;
  }

  /**
   * Looks for what it is of a turn that could not be put on record.
   *
   * @return whether anything was found that is not known yet
   */
  boolean lookFor(Turn failed) {
    boolean found = false;
    for (long run : records.unwritable(failed)) {
      if (toHold.add(run)) {
        found = true;
        String name =
            failed.board().run(run).map(spec -> spec.run().reference().toString()).orElse("");
        LOG.error("run {} ({}) cannot be put on record; it is held", run, name);
      }
    }
    return found;
  }

  /** Holds them, before the time of the turn is reached. */
  void hold(Turn turn) {
    for (long run : toHold) {
      turn.apply(
          new BoardEvent.PersonActed(
              turn.board().now(),
              run,
              Action.HOLD,
              "purser",
              HELD.substring(HELD.indexOf(':') + 2) + " when it starts; the log says why",
              0));
    }
  }

  /** What was to be held is held, on record. */
  void isHeld() {
    toHold.clear();
  }

  /** The runs of a board that are held for this. */
  static List<RunSpec> heldOn(Iterable<RunSpec> runs, LongFunction<String> heldBy) {
    List<RunSpec> held = new ArrayList<>();
    for (RunSpec run : runs) {
      if (heldBy.apply(run.id()).startsWith(HELD)) {
        held.add(run);
      }
    }
    return held;
  }
}
