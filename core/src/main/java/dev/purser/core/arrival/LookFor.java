package dev.purser.core.arrival;

import dev.purser.core.pattern.FilePattern;

/**
 * What somebody who looks at one directory is asked to look for, for one watch.
 *
 * @param watch the watch's name
 * @param directory absolute, without a slash at its end
 * @param pattern of the names, see {@link FilePattern}
 * @param caseSensitive whether upper and lower case differ
 * @param minimumSize in bytes, at least 1
 * @param stillForMillis for how long a file must be unchanged
 * @param companion the name of the file that says that one is complete, with {@code ${file.name}}
 *     or {@code ${file.stem}}; empty for none
 * @param checksumFile likewise, the name of the file that holds its checksum
 * @param lastLine a pattern that its last line must match; empty for none
 * @param oldestMillis a file changed longer ago than this is left alone; 0 for no limit
 * @param takeExisting whether files count that were there before the watch began
 * @param since when the watch began, epoch milliseconds of the looker's clock
 * @param everyMillis how often to look; 0 for the system's notifications, or what fits best
 */
public record LookFor(
    String watch,
    String directory,
    String pattern,
    boolean caseSensitive,
    long minimumSize,
    long stillForMillis,
    String companion,
    String checksumFile,
    String lastLine,
    long oldestMillis,
    boolean takeExisting,
    long since,
    long everyMillis) {

  /** Whether the content of a file says whether it is complete. */
  boolean asksForContent() {
    return !checksumFile.isEmpty() || !lastLine.isEmpty();
  }

  /** The companion's name of a file. */
  public String companionOf(String name) {
    return fill(companion, name);
  }

  /** The name of a file's checksum file. */
  public String checksumFileOf(String name) {
    return fill(checksumFile, name);
  }

  private static String fill(String template, String name) {
    int dot = name.lastIndexOf('.');
    String stem = dot > 0 ? name.substring(0, dot) : name;
    return template.replace("${file.name}", name).replace("${file.stem}", stem);
  }

  /** Whether a name is one of a companion or checksum file, by what the templates fix of it. */
  boolean isBesides(String name) {
    return fits(companion, name) || fits(checksumFile, name);
  }

  private static boolean fits(String template, String name) {
    int from = template.indexOf("${");
    int to = template.indexOf('}', Math.max(from, 0));
    if (from < 0 || to < 0) {
      return !template.isEmpty() && name.equals(template);
    }
    String before = template.substring(0, from);
    String after = template.substring(to + 1);
    return before.length() + after.length() > 0
        && name.length() > before.length() + after.length()
        && name.startsWith(before)
        && name.endsWith(after);
  }
}
