package dev.purser.core.job;

/**
 * Another stream, run as a step of this one: its jobs are runs below this one.
 *
 * @param stream its full path
 */
public record OfStream(String stream) implements Work {
  /** The word for it. */
  public static final String KIND = "stream";

  @Override
  public String kind() {
    return KIND;
  }

  @Override
  public String inWords() {
    return "stream " + stream;
  }
}
