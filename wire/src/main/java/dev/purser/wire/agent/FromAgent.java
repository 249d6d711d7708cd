package dev.purser.wire.agent;

import com.fasterxml.jackson.annotation.JsonSubTypes;
import com.fasterxml.jackson.annotation.JsonTypeInfo;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** What an agent says. */
@JsonTypeInfo(use = JsonTypeInfo.Id.NAME, property = "type")
@JsonSubTypes({
  @JsonSubTypes.Type(value = FromAgent.Hello.class, name = "hello"),
  @JsonSubTypes.Type(value = FromAgent.Alive.class, name = "alive"),
  @JsonSubTypes.Type(value = FromAgent.Began.class, name = "began"),
  @JsonSubTypes.Type(value = FromAgent.Ended.class, name = "ended"),
  @JsonSubTypes.Type(value = FromAgent.Output.class, name = "output"),
  @JsonSubTypes.Type(value = FromAgent.Found.class, name = "found"),
  @JsonSubTypes.Type(value = FromAgent.Trouble.class, name = "trouble"),
  @JsonSubTypes.Type(value = FromAgent.Tidied.class, name = "tidied"),
  @JsonSubTypes.Type(value = FromAgent.Tried.class, name = "tried"),
  @JsonSubTypes.Type(value = FromAgent.Notified.class, name = "notified"),
  @JsonSubTypes.Type(value = FromAgent.Reached.class, name = "reached")
})
public sealed interface FromAgent {
  /** Hands this to what fits it. */
  <R> R accept(Visitor<R> visitor);

  /**
   * What is done with each kind of message; a kind without an answer does not compile.
   *
   * @param <R> the answer
   */
  interface Visitor<R> {
    /** Of this kind. */
    R visit(Hello message);

    /** Of this kind. */
    R visit(Alive message);

    /** Of this kind. */
    R visit(Began message);

    /** Of this kind. */
    R visit(Ended message);

    /** Of this kind. */
    R visit(Output message);

    /** Of this kind. */
    R visit(Found message);

    /** Of this kind. */
    R visit(Trouble message);

    /** Of this kind. */
    R visit(Tidied message);

    /** Of this kind. */
    R visit(Tried message);

    /** Of this kind. */
    R visit(Notified message);

    /** Of this kind. */
    R visit(Reached message);
  }

  /** The protocol that this code speaks. */
  int PROTOCOL = 4;

  /**
   * The first message: who it is and which attempts its journal knows.
   *
   * @param labels by which host groups may pick the host, besides those it is defined with
   * @param clock of the host
   * @param epoch the highest that the agent has been given; it obeys no older one
   */
  record Hello(
      int protocol,
      String version,
      Set<String> labels,
      long clock,
      long epoch,
      Machine machine,
      List<Known> attempts)
      implements FromAgent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /**
   * How the host does.
   *
   * @param cores processors
   * @param load running and waiting processes, over a minute; -1 where it cannot be read
   * @param memoryFree bytes that are free or can be freed at once; -1 where it cannot be read
   * @param memory bytes in all; -1 where it cannot be read
   * @param diskFree bytes free where the agent keeps its journal and output
   * @param disk bytes in all there
   * @param attempts at work on the host
   */
  record Machine(
      int cores,
      double load,
      long memoryFree,
      long memory,
      long diskFree,
      long disk,
      int attempts) {
    /** Nothing is known. */
    public static final Machine UNKNOWN = new Machine(0, -1, -1, -1, -1, -1, 0);
  }

  /**
   * An attempt of the journal. How it ended is told after the welcome.
   *
   * @param began when its process began to work; 0 where that is not known
   * @param ended whether it is over
   */
  record Known(long run, int attempt, long began, boolean ended) {}

  /** A sign of life. */
  record Alive(long clock, Machine machine) implements FromAgent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /** An attempt's process is at work; of an attempt that is soon over only the end is told. */
  record Began(long run, int attempt, long at) implements FromAgent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /**
   * An attempt is over.
   *
   * @param how {@code exited}, {@code not-started}, {@code lost}, {@code nothing-to-do} or {@code
   *     check-failed}
   * @param code the exit code of the command, or of its check; else -1
   * @param note for people; may be empty
   * @param began when its process began to work; 0 where that is not known
   * @param values what it handed back, by name
   * @param output all that it has written, where that is little and none of it was told; else null
   */
  record Ended(
      long run,
      int attempt,
      String how,
      int code,
      String note,
      long began,
      long at,
      Map<String, String> values,
      byte[] output)
      implements FromAgent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }

    /** With output, or without. */
    public Ended withOutput(byte[] all) {
      return new Ended(run, attempt, how, code, note, began, at, values, all);
    }
  }

  /**
   * A piece of an attempt's output.
   *
   * @param offset of its first byte
   * @param data the bytes, as Base64 in JSON; empty where only the end is told
   * @param complete whether this is the last piece
   * @param total bytes that the attempt has written in all
   */
  record Output(long run, int attempt, long offset, byte[] data, boolean complete, long total)
      implements FromAgent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /**
   * What is seen of files. Of several messages the service answers each with its number.
   *
   * @param number rises by one with every message of a connection
   */
  record Found(long number, List<File> files) implements FromAgent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /**
   * One file as it was seen.
   *
   * @param watch the watch's name
   * @param directory without a slash at its end
   * @param pattern by which it was found
   * @param name within the directory
   * @param size in bytes
   * @param modified of the host's clock
   * @param key what tells it from another one of the same name, size and time
   * @param state {@code seen}, {@code settling}, {@code ready}, {@code rejected}, {@code ignored}
   *     or {@code gone}
   * @param note what is missing or wrong; may be empty
   * @param checksum SHA-256 in hexadecimal; empty where the content was not read
   */
  record File(
      String watch,
      String directory,
      String pattern,
      String name,
      long size,
      long modified,
      String key,
      String state,
      String note,
      String checksum) {}

  /**
   * A directory cannot be looked at.
   *
   * @param text what is wrong; empty where nothing is any more
   */
  record Trouble(String watch, String directory, String text) implements FromAgent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /**
   * A file that was used has been dealt with.
   *
   * @param done false where it could not be; then it may be asked for again
   */
  record Tidied(long arrival, boolean done, String note) implements FromAgent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /**
   * The answer to a trial.
   *
   * @param files the first that would be found
   * @param more how many there are besides
   * @param troubles directories that cannot be looked at, and why
   * @param notified whether the system would give notice of new ones
   */
  record Tried(String id, List<File> files, long more, List<String> troubles, boolean notified)
      implements FromAgent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /**
   * What came of a command that an alert was handed to.
   *
   * @param code its exit code; -1 where it was not started or ran for too long
   * @param text the beginning of what it wrote, or why it was not started
   */
  record Notified(String id, int code, String text) implements FromAgent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }

  /**
   * Whether an address could be reached.
   *
   * @param problem why not; empty where it could
   */
  record Reached(String id, String problem) implements FromAgent {
    @Override
    public <R> R accept(Visitor<R> visitor) {
      return visitor.visit(this);
    }
  }
}
