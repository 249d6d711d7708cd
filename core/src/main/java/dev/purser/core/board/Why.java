package dev.purser.core.board;

import java.util.List;

/**
 * The answer to why a run is not running.
 *
 * @param sentence the answer in one sentence, without a full stop
 * @param reasons everything that is missing, as a tree
 */
public record Why(String sentence, List<Reason> reasons) {

  /** Whether a person must do something first: then nobody can say when it will go on. */
  public boolean hangsOnPerson() {
    return reasons.stream().anyMatch(Reason::hangsOnPerson);
  }

  /**
   * One thing that is missing.
   *
   * @param text what
   * @param since since when, epoch milliseconds; 0 where that says nothing
   * @param who who can change it; empty where time will
   * @param run the run that it hangs on; 0 for none
   * @param below why that one is not done yet
   */
  public record Reason(String text, long since, String who, long run, List<Reason> below) {
    boolean hangsOnPerson() {
      return !who.isEmpty() || below.stream().anyMatch(Reason::hangsOnPerson);
    }
  }
}
