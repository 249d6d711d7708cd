package dev.purser.core.arrival;

import java.util.Arrays;
import java.util.Locale;
import java.util.Optional;

/**
 * What somebody who looks has to say of a file.
 *
 * @param watch the watch's name
 * @param directory where it is, without a slash at its end
 * @param pattern by which it was found
 * @param name within the directory
 * @param size in bytes
 * @param modified epoch milliseconds of the file system
 * @param key as in {@link FileFacts}
 * @param state how it is
 * @param note what is missing or wrong; may be empty
 * @param checksum SHA-256 in hexadecimal; empty where the content was not read
 */
public record Finding(
    String watch,
    String directory,
    String pattern,
    String name,
    long size,
    long modified,
    String key,
    State state,
    String note,
    String checksum) {

  /** How a file is that was found. */
  public enum State {
    /** It is there, and something else than rest is missing. */
    SEEN,
    /** It still changes, or has not rested long enough. */
    SETTLING,
    /** It is whole. */
    READY,
    /** It can never be used as it is. */
    REJECTED,
    /** It is left alone. */
    IGNORED,
    /** It was there, and is not any more. */
    GONE;

    /** The word in messages. */
    public String word() {
      return name().toLowerCase(Locale.ROOT);
    }

    /** The state of a word. */
    public static Optional<State> of(String word) {
      return Arrays.stream(values()).filter(one -> one.word().equals(word)).findFirst();
    }
  }

  /** The whole path. */
  public String path() {
    return directory + "/" + name;
  }
}
