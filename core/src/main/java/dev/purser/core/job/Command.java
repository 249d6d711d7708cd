package dev.purser.core.job;

import java.util.List;

/**
 * A command on a host, read by its {@code /bin/sh}.
 *
 * @param line may hold placeholders
 */
public record Command(String line) implements Work {
  /** The word for it. */
  public static final String KIND = "command";

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
