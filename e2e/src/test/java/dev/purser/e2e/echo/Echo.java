package dev.purser.e2e.echo;

import dev.purser.core.job.Work;
import java.time.Duration;

/**
 * Says something, after a while.
 *
 * @param text with placeholders
 * @param takes how long it is at it
 * @param code with which it ends
 */
record Echo(String text, Duration takes, int code) implements Work {
  static final String KIND = "echo";

  @Override
  public String kind() {
    return KIND;
  }

  @Override
  public String inWords() {
    return "say " + text;
  }
}
