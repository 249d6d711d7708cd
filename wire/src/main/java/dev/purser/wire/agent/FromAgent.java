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
  @JsonSubTypes.Type(value = FromAgent.Sight.class, name = "sight")
})
public sealed interface FromAgent {
  /** The protocol that this code speaks. */
  int PROTOCOL = 2;

  /** The first message: who it is and which attempts its journal knows. */
  record Hello(int protocol, String version, Set<String> labels, long clock, List<Known> attempts)
      implements FromAgent {}

  /**
   * An attempt of the journal.
   *
   * @param ended how it ended; null while it runs
   */
  record Known(long run, int attempt, Ended ended) {}

  /** A sign of life. */
  record Alive(long clock) implements FromAgent {}

  /** An attempt's process is at work. */
  record Began(long run, int attempt, long at) implements FromAgent {}

  /**
   * An attempt is over.
   *
   * @param how {@code exited}, {@code not-started}, {@code lost}, {@code nothing-to-do} or {@code
   *     check-failed}
   * @param code the exit code of the command, or of its check; else -1
   * @param note for people; may be empty
   * @param values what it handed back, by name
   */
  record Ended(
      long run, int attempt, String how, int code, String note, long at, Map<String, String> values)
      implements FromAgent {}

  /**
   * A piece of an attempt's output.
   *
   * @param offset of its first byte
   * @param data the bytes, as Base64 in JSON; empty where only the end is told
   * @param complete whether this is the last piece
   * @param total bytes that the attempt has written in all
   */
  record Output(long run, int attempt, long offset, byte[] data, boolean complete, long total)
      implements FromAgent {}

  /**
   * What is seen of a file that a run waits for.
   *
   * @param sight {@code absent}, {@code empty}, {@code growing}, {@code unreadable} or {@code
   *     ready}
   * @param path the file, or for {@code unreadable} what is wrong; else empty
   * @param size in bytes
   * @param modified of the host's clock
   */
  record Sight(long run, String watch, String sight, String path, long size, long modified)
      implements FromAgent {}
}
