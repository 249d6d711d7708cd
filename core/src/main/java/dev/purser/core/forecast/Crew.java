package dev.purser.core.forecast;

/** Several who do the same work at once; the core itself has no threads. */
@FunctionalInterface
public interface Crew {
  /** Nobody but the caller. */
  Crew ALONE = Runnable::run;

  /**
   * Has a work done by each of them, and comes back when all are done with it; what one throws is
   * thrown.
   *
   * @param work shares out by itself what there is to do
   */
  void work(Runnable work);
}
