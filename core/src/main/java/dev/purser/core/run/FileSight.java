package dev.purser.core.run;

/** What is seen of a file that a run waits for. */
public enum FileSight {
  /** Nothing matches. */
  ABSENT,
  /** There is one, but it is empty or smaller than the watch asks. */
  EMPTY,
  /** There is one, but something of it is missing; the path says what. */
  INCOMPLETE,
  /** There is one, but it still changes. */
  GROWING,
  /** There is one, but another run has used it. */
  USED,
  /** The directory cannot be read, or the host is not connected. */
  UNREADABLE,
  /** Whole and there; recorded and used by this run. */
  ARRIVED
}
