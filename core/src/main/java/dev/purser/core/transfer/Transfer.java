package dev.purser.core.transfer;

import dev.purser.core.job.Work;

/**
 * Files that are brought from one place to another. Path and directories may hold placeholders.
 *
 * @param path of the files at their source: the last part may be a pattern
 * @param from the connection of the source
 * @param directory at the target
 * @param to the connection of the target
 * @param there what is done where the target has a file of the name already
 * @param afterwards what is done with a file at the source once it is there
 * @param moveTo the directory at the source to which it is moved then; empty where it is not
 * @param atLeast how many files there must be
 * @param compare whether what has arrived is read back and compared
 */
public record Transfer(
    String path,
    String from,
    String directory,
    String to,
    There there,
    Afterwards afterwards,
    String moveTo,
    int atLeast,
    boolean compare)
    implements Work {
  /** The word for it. */
  public static final String KIND = "transfer";

  /** Exit code of one that failed. */
  public static final int FAILED = 1;

  /** What is done where the target has a file of the name already. */
  public enum There {
    FAIL,
    OVERWRITE,
    SKIP
  }

  /** What is done with a file at the source once it is there. */
  public enum Afterwards {
    KEEP,
    REMOVE,
    MOVE
  }

  @Override
  public String kind() {
    return KIND;
  }

  @Override
  public String inWords() {
    return path + " from " + from + " to " + directory + " on " + to;
  }
}
