package dev.purser.wire.agent;

import com.fasterxml.jackson.annotation.JsonSubTypes;
import com.fasterxml.jackson.annotation.JsonTypeInfo;
import java.util.List;
import java.util.Map;

/** What the service says to an agent. */
@JsonTypeInfo(use = JsonTypeInfo.Id.NAME, property = "type")
@JsonSubTypes({
  @JsonSubTypes.Type(value = ToAgent.Welcome.class, name = "welcome"),
  @JsonSubTypes.Type(value = ToAgent.Start.class, name = "start"),
  @JsonSubTypes.Type(value = ToAgent.Stop.class, name = "stop"),
  @JsonSubTypes.Type(value = ToAgent.Recorded.class, name = "recorded"),
  @JsonSubTypes.Type(value = ToAgent.OutputTaken.class, name = "output-taken"),
  @JsonSubTypes.Type(value = ToAgent.Look.class, name = "look"),
  @JsonSubTypes.Type(value = ToAgent.FoundTaken.class, name = "found-taken"),
  @JsonSubTypes.Type(value = ToAgent.Tidy.class, name = "tidy"),
  @JsonSubTypes.Type(value = ToAgent.Try.class, name = "try"),
  @JsonSubTypes.Type(value = ToAgent.Notify.class, name = "notify"),
  @JsonSubTypes.Type(value = ToAgent.Reach.class, name = "reach")
})
public sealed interface ToAgent {
  /** Hands this to what fits it. */
  <R> R accept(Visitor<R> visitor);

  /**
   * What is done with each kind of message; a kind without an answer does not compile.
   *
   * @param <R> the answer
   */
  interface Visitor<R> {
    /** Of this kind. */
    R visit(Welcome message);

    /** Of this kind. */
    R visit(Start message);

    /** Of this kind. */
    R visit(Stop message);

    /** Of this kind. */
    R visit(Recorded message);

    /** Of this kind. */
    R visit(OutputTaken message);

    /** Of this kind. */
    R visit(Look message);

    /** Of this kind. */
    R visit(FoundTaken message);

    /** Of this kind. */
    R visit(Tidy message);

    /** Of this kind. */
    R visit(Try message);

    /** Of this kind. */
    R visit(Notify message);

    /** Of this kind. */
    R visit(Reach message);
  }

  /**
   * The answer to a hello.
   *
   * @param epoch counts the services that have been active on the records; an agent that knows a
   *     higher one obeys this service no more
   */
  record Welcome(String version, long clock, long epoch) implements ToAgent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /**
   * Start an attempt, at most once ever.
   *
   * @param command read by {@code /bin/sh -c}
   * @param check likewise, first: with exit code 0 the command is run, with 1 there is nothing to
   *     do, with any other the check has failed; empty for none
   * @param directory working directory; empty for the agent's own
   * @param user on whose behalf it runs; empty for the agent's own
   * @param environment further variables, with secrets among them
   * @param secretFiles by variable, what the file holds whose path the variable is to have
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
      Map<String, String> secretFiles,
      long keepOutput)
      implements ToAgent {
    /** Shows no secrets. */
    @Override
    public String toString() {
      return "start of attempt " + attempt + " of run " + run;
    }

    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /** Ask an attempt's process group to stop, and force it after the grace time. */
  record Stop(long epoch, long run, int attempt, long graceMillis) implements ToAgent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /**
   * The end of an attempt is on record.
   *
   * @param withOutput whether all its output is, too
   */
  record Recorded(long run, int attempt, boolean withOutput) implements ToAgent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /** Output up to an offset is on record; the next piece may come. */
  record OutputTaken(long run, int attempt, long offset, boolean complete) implements ToAgent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /** Look for these files from now on, and for no others. */
  record Look(List<Task> tasks) implements ToAgent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /**
   * What to look for in one directory, for one watch.
   *
   * @param directory absolute, without a slash at its end
   * @param pattern for the names
   * @param stillForMillis how long a file must be unchanged
   * @param minimumSize in bytes
   * @param companion name of the file that says that one is complete; empty for none
   * @param checksumFile name of the file that holds its checksum; empty for none
   * @param lastLine a pattern for its last line; empty for none
   * @param oldestMillis files changed longer ago are left alone; 0 for no limit
   * @param since of the service's clock: when the watch began
   * @param everyMillis how often to look; 0 for what fits best
   */
  record Task(
      String watch,
      String directory,
      String pattern,
      boolean caseSensitive,
      long stillForMillis,
      long minimumSize,
      String companion,
      String checksumFile,
      String lastLine,
      long oldestMillis,
      boolean takeExisting,
      long since,
      long everyMillis) {}

  /**
   * What was said of files is on record.
   *
   * @param number of the message; 0 where it answers none
   * @param done files of which nothing more need be told
   */
  record FoundTaken(long number, List<Done> done) implements ToAgent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /** A file of which nothing more need be told, as it looked. */
  record Done(String watch, String directory, String name, long size, long modified, String key) {}

  /**
   * A file was used: do with it what is done with such files, if it still is the same one.
   *
   * @param path of the file
   * @param besides names of further files in the same directory that go with it
   * @param moveTo the directory to which they are moved; empty where they are removed
   */
  record Tidy(
      long epoch,
      long arrival,
      String path,
      long size,
      long modified,
      String key,
      List<String> besides,
      String moveTo)
      implements ToAgent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /** Say what these tasks would find now, and take nothing. */
  record Try(String id, List<Task> tasks) implements ToAgent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /**
   * Hand an alert to a command, and say what came of it. What was handed over under the same id is
   * not handed over again.
   *
   * @param command read by {@code /bin/sh -c}; a JSON document is on its standard input
   * @param user on whose behalf it runs; empty for the agent's own
   * @param limitMillis after so long it is ended, and has failed
   */
  record Notify(long epoch, String id, String command, String user, String input, long limitMillis)
      implements ToAgent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /**
   * Reach an address of its network, and say whether it can be reached.
   *
   * @param id of the question, and of the road
   * @param address a name or number
   * @param keep whether the connection is kept, as a road: then the agent connects for it; else it
   *     is closed at once
   */
  record Reach(long epoch, String id, String address, int port, boolean keep) implements ToAgent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }
}
