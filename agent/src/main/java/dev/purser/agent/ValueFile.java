package dev.purser.agent;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Reads what work hands back: lines {@code name=value} in the file that {@code PURSER_VALUES}
 * names. Of two lines with one name the later counts; what is no such line is left out and told.
 */
final class ValueFile {
  static final int MOST_BYTES = 64 * 1024;
  static final int MOST_VALUES = 100;
  static final int LONGEST = 1_000;
  private static final Pattern LINE =
      Pattern.compile("\\s*([A-Za-z][A-Za-z0-9._-]{0,99})\\s*=\\s*(.*?)\\s*");

  private ValueFile() {}

  /**
   * What was read.
   *
   * @param problem what was left out and why, as a sentence's part; empty for nothing
   */
  record Reading(Map<String, String> values, String problem) {}

  /** Reads a file; none there is the same as an empty one. */
  static Reading read(Path file) {
    try {
      if (!Files.isRegularFile(file)) {
        return new Reading(Map.of(), "");
      }
      long size = Files.size(file);
      if (size > MOST_BYTES) {
        return new Reading(
            Map.of(),
            "its file of values has "
                + size
                + " bytes, more than "
                + MOST_BYTES
                + ": no value was taken");
      }
      return parse(new String(Files.readAllBytes(file), StandardCharsets.UTF_8));
    } catch (IOException e) {
      return new Reading(Map.of(), "its file of values cannot be read: " + e.getMessage());
    }
  }

  private static Reading parse(String text) {
    Map<String, String> values = new LinkedHashMap<>();
    List<String> problems = new ArrayList<>();
    String[] lines = text.split("\\R", -1);
    for (int i = 0; i < lines.length; i++) {
      Matcher matcher = LINE.matcher(lines[i]);
      if (lines[i].isBlank()) {
        continue;
      }
      if (!matcher.matches()) {
        problems.add("line " + (i + 1) + " is not a line NAME=VALUE");
      } else if (matcher.group(2).length() > LONGEST) {
        problems.add("line " + (i + 1) + " is longer than " + LONGEST + " characters");
      } else if (values.size() == MOST_VALUES && !values.containsKey(matcher.group(1))) {
        problems.add("line " + (i + 1) + " is one value more than " + MOST_VALUES);
      } else {
        values.put(matcher.group(1), matcher.group(2));
      }
    }
    if (problems.isEmpty()) {
      return new Reading(values, "");
    }
    String more = problems.size() > 1 ? " (and " + (problems.size() - 1) + " more)" : "";
    return new Reading(values, "of its file of values, " + problems.get(0) + more);
  }
}
