package dev.purser.wire.agent;

import com.fasterxml.jackson.annotation.JsonSubTypes;
import com.fasterxml.jackson.annotation.JsonTypeInfo;
import java.util.Map;

/** What the service says to an agent. */
@JsonTypeInfo(use = JsonTypeInfo.Id.NAME, property = "type")
@JsonSubTypes({
  @JsonSubTypes.Type(value = ToAgent.Welcome.class, name = "welcome"),
  @JsonSubTypes.Type(value = ToAgent.Start.class, name = "start"),
  @JsonSubTypes.Type(value = ToAgent.Stop.class, name = "stop"),
  @JsonSubTypes.Type(value = ToAgent.Recorded.class, name = "recorded"),
  @JsonSubTypes.Type(value = ToAgent.OutputTaken.class, name = "output-taken"),
  @JsonSubTypes.Type(value = ToAgent.Watch.class, name = "watch"),
  @JsonSubTypes.Type(value = ToAgent.Unwatch.class, name = "unwatch"),
  @JsonSubTypes.Type(value = ToAgent.Ignore.class, name = "ignore")
})
public sealed interface ToAgent {

  /**
   * The answer to a hello.
   *
   * @param epoch counts the services that have been active on the records; an agent that knows a
   *     higher one obeys this service no more
   */
  record Welcome(String version, long clock, long epoch) implements ToAgent {}

  /**
   * Start an attempt, at most once ever.
   *
   * @param command read by {@code /bin/sh -c}
   * @param check likewise, first: with exit code 0 the command is run, with 1 there is nothing to
   *     do, with any other the check has failed; empty for none
   * @param directory working directory; empty for the agent's own
   * @param user on whose behalf it runs; empty for the agent's own
   * @param keepOutput bytes of output to send at most
   */
  record Start(
      long epoch,
      long run,
      int attempt,
      String command,
      String check,
      String directory,
      String user,
      Map<String, String> environment,
      long keepOutput)
      implements ToAgent {}

  /** Ask an attempt's process group to stop, and force it after the grace time. */
  record Stop(long epoch, long run, int attempt, long graceMillis) implements ToAgent {}

  /**
   * The end of an attempt is on record.
   *
   * @param withOutput whether all its output is, too
   */
  record Recorded(long run, int attempt, boolean withOutput) implements ToAgent {}

  /** Output up to an offset is on record; the next piece may come. */
  record OutputTaken(long run, int attempt, long offset, boolean complete) implements ToAgent {}

  /**
   * Look for a file for a run.
   *
   * @param path absolute; {@code *} and {@code ?} in its last part
   * @param stillForMillis how long it must be unchanged
   * @param minimumSize in bytes
   */
  record Watch(long run, String watch, String path, long stillForMillis, long minimumSize)
      implements ToAgent {}

  /** Look for it no more. */
  record Unwatch(long run, String watch) implements ToAgent {}

  /** That file has been used by another run: go on looking for another. */
  record Ignore(long run, String watch, String path, long size, long modified) implements ToAgent {}
}
