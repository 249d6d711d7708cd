package dev.purser.agent;

import dev.purser.core.values.HandedBack;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;

/**
 * Reads what work hands back: lines {@code name=value} in the file that {@code PURSER_VALUES}
 * names. Of two lines with one name the later counts; what is no such line is left out and told.
 */
final class ValueFile {
  static final int MOST_BYTES = 64 * 1024;

  private ValueFile() {}

  /** Reads a file; none there is the same as an empty one. */
  static HandedBack read(Path file) {
    try {
      if (!Files.isRegularFile(file)) {
        return HandedBack.NOTHING;
      }
      long size = Files.size(file);
      if (size > MOST_BYTES) {
        return new HandedBack(
            Map.of(),
            "its file of values has "
                + size
                + " bytes, more than "
                + MOST_BYTES
                + ": no value was taken");
      }
      return HandedBack.of(new String(Files.readAllBytes(file), StandardCharsets.UTF_8));
    } catch (IOException e) {
      return new HandedBack(Map.of(), "its file of values cannot be read: " + e.getMessage());
    }
  }
}
