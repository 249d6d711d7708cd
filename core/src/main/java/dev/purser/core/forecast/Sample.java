package dev.purser.core.forecast;

import java.util.SplittableRandom;

/**
 * What chance holds for one sample. It never changes: whatever board is played with it, and however
 * often, a run that is on several of them goes the same way.
 *
 * @param draws what is drawn for each thing
 * @param outcomes what is assumed throughout
 */
record Sample(Draws draws, Outcomes outcomes) {
  /** Draws a sample, from a source that is used for nothing else. */
  static Sample of(Outcomes outcomes, SplittableRandom random) {
    return new Sample(new Draws(random.nextLong()), outcomes.inSample(random));
  }
}
