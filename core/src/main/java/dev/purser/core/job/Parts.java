package dev.purser.core.job;

import java.util.List;

/**
 * A command that runs in parts, on several hosts at once: each part is a run below this one.
 *
 * @param line of each part
 * @param endsWell which parts must succeed for the run to succeed
 */
public record Parts(String line, SuccessRule endsWell) implements Work {
  /** The word for it. */
  public static final String KIND = "parts";

  @Override
  public String kind() {
    return KIND;
  }

  @Override
  public String inWords() {
    return line;
  }

  @Override
  public List<String> shellLines() {
    return List.of(line);
  }
}
