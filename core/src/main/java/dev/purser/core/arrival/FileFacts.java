package dev.purser.core.arrival;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;

/**
 * How a file looks from outside.
 *
 * @param name within its directory; bytes that are not UTF-8 as {@code \xE9}
 * @param size in bytes
 * @param modified epoch milliseconds, as the file system says
 * @param changed when the file was last touched in any way, renamed among it, by a clock that
 *     nobody sets; the same as modified where there is none
 * @param key what tells it from another file of the same name, size and time; may be empty
 * @param oddity why it cannot be used at all; empty for a plain file
 * @param companion whether its companion and its checksum file are there; true where none is asked
 *     for
 * @param ownClock whether the times are of the looker's own clock, so that its age can be told
 */
public record FileFacts(
    String name,
    long size,
    long modified,
    long changed,
    String key,
    Oddity oddity,
    boolean companion,
    boolean ownClock) {

  /** Why a file cannot be used at all. */
  public enum Oddity {
    /** It is a plain file. */
    NONE,
    /** A link that leads out of the directory. */
    LINK_OUT,
    /** Its name cannot be written as text. */
    NAME
  }

  /** Whether two looks have met the same content. */
  boolean isSame(FileFacts other) {
    return size == other.size && modified == other.modified && key.equals(other.key);
  }

  /**
   * 64 bits that stand for name, size, time and key: two of a million differ but for one in 3e7.
   */
  static long fingerprint(String name, long size, long modified, String key) {
    try {
      byte[] all =
          MessageDigest.getInstance("SHA-256")
              .digest(
                  (name + '\n' + size + '\n' + modified + '\n' + key)
                      .getBytes(StandardCharsets.UTF_8));
      long bits = 0;
      for (int i = 0; i < 8; i++) {
        bits = bits << 8 | (all[i] & 0xff);
      }
      return bits;
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every Java has SHA-256", e);
    }
  }

  long fingerprint() {
    return fingerprint(name, size, modified, key);
  }
}
