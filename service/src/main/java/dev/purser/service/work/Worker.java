package dev.purser.service.work;

import dev.purser.core.job.Where;
import dev.purser.core.job.Work;
import java.time.Duration;

/**
 * Carries out attempts of one or more kinds of work. It is told of an attempt after that is on
 * record, on the engine's thread, so no method may wait: what takes time goes to a thread of the
 * worker's own. What becomes of an attempt it tells through {@link Reports}, or as agents do.
 *
 * <p>The service may die between any two steps. What is on record then is taken up again: of each
 * attempt that had been handed to this worker and has not ended, it is told by {@link #takeUp}. So
 * a worker that must not do a thing twice asks, where it did it, whether it was done.
 */
public interface Worker {
  /** Whether it carries out some work in some place. Of two that do, one is taken. */
  boolean takes(Work work, Where where);

  /** Starts an attempt. It may have been asked to stop before it could begin. */
  void start(Attempt attempt);

  /**
   * Asks an attempt to stop; it ends when the worker says so.
   *
   * @param grace after which it is forced
   */
  void stop(Attempt attempt, Duration grace);

  /**
   * Goes on with an attempt of before a restart, or of another service that was active before. By
   * its status it is starting, and may or may not have been begun; or running.
   */
  void takeUp(Attempt attempt);

  /** This service decides no more: every attempt is let go as it is, and nothing is said of it. */
  void letGo();
}
