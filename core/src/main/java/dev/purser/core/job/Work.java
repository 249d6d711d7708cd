package dev.purser.core.job;

import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.function.UnaryOperator;

/**
 * What a job does. Each kind is one key of a job in a definition file, and is read by its {@code
 * WorkKind}. Two kinds are the board's own: {@link Approval} asks a person, {@link OfStream} and
 * {@link Parts} are other runs. All others are attempts, of which the board knows only that they
 * are started, stopped, and end.
 */
public interface Work {
  /** The word for the kind, in the API and the records: at most 20 lower-case letters. */
  String kind();

  /** What is done, as its author wrote it: a command, a question, the stream that is run. */
  String inWords();

  /** The lines of it that a shell reads, with their placeholders; none where no shell is used. */
  default List<String> shellLines() {
    return List.of();
  }

  /**
   * The connection that it goes over; empty where it goes over none.
   *
   * @param ofService gives the connection of a remote service, by the service's name
   */
  default Optional<String> connection(Function<String, Optional<String>> ofService) {
    return Optional.empty();
  }

  /**
   * The same work with what its words ask for filled in, where people read them before it starts.
   *
   * @param fill fills in the placeholders of a text
   * @return itself, where nobody reads its words before it is started
   */
  default Work filled(UnaryOperator<String> fill) {
    return this;
  }
}
