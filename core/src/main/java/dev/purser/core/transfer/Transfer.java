package dev.purser.core.transfer;

import dev.purser.core.job.Work;
import java.util.Optional;

/**
 * Files that are brought from one place to another. Path and directories may hold placeholders.
 *
 * @param path of the files at their source: the last part may be a pattern
 * @param from the connection of the source, or {@code host } and a host's name
 * @param directory at the target
 * @param to the connection of the target, or {@code host } and a host's name
 * @param there what is done where the target has a file of the name already
 * @param afterwards what is done with a file at the source once it is there
 * @param moveTo the directory at the source to which it is moved then; empty where it is not
 * @param atLeast how many files there must be
 * @param sealing what is done to them on their way
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
    Sealing sealing,
    boolean compare)
    implements Work {
  /** The word for it. */
  public static final String KIND = "transfer";

  /** Exit code of one that failed. */
  public static final int FAILED = 1;

  private static final String OF_HOST = "host ";

  /** The host whose own files an end is; empty for a connection. */
  public static Optional<String> host(String end) {
    return end.startsWith(OF_HOST)
        ? Optional.of(end.substring(OF_HOST.length()))
        : Optional.empty();
  }

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

  /** The same where what is there already is replaced. */
  public Transfer overwriting() {
    return new Transfer(
        path, from, directory, to, There.OVERWRITE, afterwards, moveTo, atLeast, sealing, compare);
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
