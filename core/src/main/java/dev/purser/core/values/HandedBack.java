package dev.purser.core.values;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What work hands back: lines {@code name=value}. Of two lines with one name the later counts; what
 * is no such line is left out and told.
 *
 * @param problem what was left out and why, as a sentence's part; empty for nothing
 */
public record HandedBack(Map<String, String> values, String problem) {
  /** Nothing. */
  public static final HandedBack NOTHING = new HandedBack(Map.of(), "");

  /** So many values are taken. */
  public static final int MOST_VALUES = 100;

  /** The longest value, in characters. */
  public static final int LONGEST = 1_000;

  private static final Pattern LINE =
      Pattern.compile("\\s*([A-Za-z][A-Za-z0-9._-]{0,99})\\s*=\\s*(.*?)\\s*");

  /** Reads them. */
  public static HandedBack of(String text) {
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
      return new HandedBack(values, "");
    }
    String more = problems.size() > 1 ? " (and " + (problems.size() - 1) + " more)" : "";
    return new HandedBack(values, "of its file of values, " + problems.get(0) + more);
  }
}
