package dev.purser.core.trial;

/** What becomes of what a try asks of other streams and of files. */
public enum Others {
  /** It waits for them, as it would when it is live. */
  WAITED_FOR,
  /** They count as met. */
  IGNORED,
  /** A question in the try stands for each: whoever tries it says how it turned out. */
  PLAYED
}
