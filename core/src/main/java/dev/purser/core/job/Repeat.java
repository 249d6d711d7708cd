package dev.purser.core.job;

/**
 * What becomes of an attempt that was lost with its host.
 *
 * @param allowed whether it may be tried again, on another host
 * @param ofRun how often one run may move so
 * @param ofJob how often all runs of the job of one business date may, together
 */
public record Repeat(boolean allowed, int ofRun, int ofJob) {
  /** It may not. */
  public static final Repeat NEVER = new Repeat(false, 0, 0);

  /** It may, so many times. */
  public static final Repeat USUAL = new Repeat(true, 3, 20);
}
