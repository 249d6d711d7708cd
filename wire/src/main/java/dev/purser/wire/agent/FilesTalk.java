package dev.purser.wire.agent;

/**
 * How a host's own files are asked for over a road: one request after another, each a word (UTF as
 * {@code DataOutput} writes it) and what belongs to it, each answered with a byte first.
 *
 * <ul>
 *   <li>{@code list} DIRECTORY: for each file a byte 1, its name, size, time, whether it leads out;
 *       then a byte 0
 *   <li>{@code look} PATH: whether it is there, then the same of it
 *   <li>{@code read} PATH: pieces, each with its length before it; an empty one at the end
 *   <li>{@code write} PATH, offset: after the answer the asker sends pieces likewise, and is
 *       answered once more
 *   <li>{@code move} PATH, TARGET; {@code remove} PATH
 * </ul>
 */
public final class FilesTalk {
  /** As an address: the host's own files. */
  public static final String FILES = "files";

  /** How an agent begins to say that its host lets nobody at its files. */
  public static final String NONE_ALLOWED = "this host lets no files be brought";

  /** It is done, or begins. */
  public static final byte GOOD = 0;

  /** It is refused, and why follows. */
  public static final byte REFUSED = 1;

  /** It cannot be done now, and why follows. */
  public static final byte FAILED = 2;

  /** Lists a directory. */
  public static final String LIST = "list";

  /** Looks at a file. */
  public static final String LOOK = "look";

  /** Reads a file. */
  public static final String READ = "read";

  /** Writes a file, or goes on with it. */
  public static final String WRITE = "write";

  /** Moves a file to where nothing is. */
  public static final String MOVE = "move";

  /** Removes a file. */
  public static final String REMOVE = "remove";

  /** Bytes of a piece at most. */
  public static final int PIECE = 64 * 1024;

  private FilesTalk() {}
}
