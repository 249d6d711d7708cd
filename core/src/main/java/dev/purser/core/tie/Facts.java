package dev.purser.core.tie;

import dev.purser.core.run.FileSight;
import dev.purser.core.run.RunState;
import java.util.Map;

/** How the runs of a board stand, by index: all that a condition may ask. */
public interface Facts {
  /** The state of a run. */
  RunState stateAt(int run);

  /** Whether it was skipped because its prerequisite could no longer be met. */
  boolean isNotNeeded(int run);

  /** The exit code of its last attempt; -1 for none. */
  int exitCodeAt(int run);

  /** When it ended, epoch milliseconds; 0 where it has not. */
  long endedAt(int run);

  /** What it handed back, by name; never null. */
  Map<String, String> valuesAt(int run);

  /** What is seen of the file at a place in its list of watches. */
  FileSight sightAt(int run, int place);
}
