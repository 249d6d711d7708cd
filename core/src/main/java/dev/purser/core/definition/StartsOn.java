package dev.purser.core.definition;

import java.util.Set;

/**
 * What starts a stream by itself: each file, or each complete set, of a watch.
 *
 * @param watch the file watch
 * @param atATime how many of its starts may be open at once
 * @param byName whether files are used in the order of their names, not in that of their arrival
 * @param waitsAfterFailure whether nothing more is started while a file is unprocessed
 */
public record StartsOn(String watch, int atATime, boolean byName, boolean waitsAfterFailure) {
  /** The parameter that holds the whole path of the file; of a set, of its first. */
  public static final String PATH = "file.path";

  /** The parameter that holds the host or connection where the file is. */
  public static final String HOST = "file.host";

  /** The parameter that holds the number of the arrival; of a set, of its first. */
  public static final String ARRIVAL = "file.arrival";

  /** All parameters that a file gives. */
  public static final Set<String> PARAMETERS =
      Set.of(
          PATH,
          "file.name",
          "file.size",
          "file.checksum",
          "file.count",
          "file.paths",
          "file.watch",
          HOST,
          ARRIVAL);
}
