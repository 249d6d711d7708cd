package dev.purser.core.why;

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

  /** Whether what a person must do first is to send files, and nothing else. */
  public boolean hangsOnFilesAlone() {
    return hangsOnPerson() && reasons.stream().allMatch(Reason::isFileAlone);
  }

  /** What a reason is about. */
  public enum What {
    /** A person holds it. */
    HOLD,
    /** It is tried again later. */
    RETRY,
    /** How another run stands. */
    RUN,
    /** A value that another run handed back. */
    VALUE,
    /** A file. */
    FILE,
    /** Another window of the stream. */
    WINDOW,
    /** The step that it is below. */
    STEP,
    /** A person's answer. */
    ANSWER,
    /** Units of a capacity. */
    CAPACITY,
    /** Earlier runs of the same job. */
    OVERLAP,
    /** A host. */
    HOST,
    /** One of several things. */
    EITHER,
    /** Something that must not be so, and may yet be. */
    NOT_SETTLED
  }

  /**
   * One thing that is missing.
   *
   * @param what what kind of thing
   * @param about its name, such as the capacity's; empty where a run says it, or nothing does
   * @param text in words
   * @param since since when, epoch milliseconds; 0 where that says nothing
   * @param who who can change it; empty where time will
   * @param run the run that it hangs on; 0 for none
   * @param below why that one is not done yet
   */
  public record Reason(
      What what, String about, String text, long since, String who, long run, List<Reason> below) {
    boolean isFileAlone() {
      return (who.isEmpty() || what == What.FILE) && below.stream().allMatch(Reason::isFileAlone);
    }

    boolean hangsOnPerson() {
      boolean oneIsEnough = what == What.EITHER;
      boolean deeper =
          (oneIsEnough && !below.isEmpty())
              ? below.stream().allMatch(Reason::hangsOnPerson)
              : below.stream().anyMatch(Reason::hangsOnPerson);
      return !who.isEmpty() || deeper;
    }
  }
}
