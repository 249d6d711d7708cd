package dev.purser.core.definition;

import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/** What a job does. Each kind is one key of a job in a definition file. */
public sealed interface Work {
  /** The word for the kind, in the API. */
  String kind();

  /** What is done, as its author wrote it: a command, a question, the stream that is run. */
  String inWords();

  /** A command on a host, read by its {@code /bin/sh}; it may hold placeholders. */
  record Command(String line) implements Work {
    @Override
    public String inWords() {
      return line;
    }

    @Override
    public String kind() {
      return "command";
    }
  }

  /** A question to a person: the run succeeds with a yes and fails with a no. */
  record Approval(String question, Answering answering) implements Work {
    @Override
    public String inWords() {
      return question;
    }

    @Override
    public String kind() {
      return "approval";
    }
  }

  /**
   * A command that runs in parts, on several hosts at once.
   *
   * @param endsWell which parts must succeed for the run to succeed
   */
  record Parts(String line, SuccessRule endsWell) implements Work {
    @Override
    public String inWords() {
      return line;
    }

    @Override
    public String kind() {
      return "parts";
    }
  }

  /** Another stream, run as a step of this one. */
  record OfStream(String stream) implements Work {
    @Override
    public String inWords() {
      return "stream " + stream;
    }

    @Override
    public String kind() {
      return "stream";
    }
  }

  /**
   * Who may answer a question, and for how long it is asked.
   *
   * @param by names of people; empty for everybody who may act on runs
   * @param remind after this people are reminded by an alert
   * @param lapses after this it is asked no more
   * @param then what lapsing means
   */
  record Answering(
      List<String> by, Optional<Duration> remind, Optional<Duration> lapses, Lapse then) {
    /** Everybody, for ever. */
    public static final Answering ANYBODY =
        new Answering(List.of(), Optional.empty(), Optional.empty(), Lapse.FAIL);

    /** Copies the list. */
    public Answering {
      by = List.copyOf(by);
    }
  }

  /** What lapsing means for the run. */
  enum Lapse {
    /** As if the answer were no. */
    FAIL("fail"),
    /** It is left out, and what follows goes on. */
    SKIP("skip"),
    /** As if the answer were yes. */
    APPROVE("approve");

    private final String word;

    Lapse(String word) {
      this.word = word;
    }

    /** The word in files. */
    public String word() {
      return word;
    }

    /** The meaning of a word. */
    public static Optional<Lapse> of(String word) {
      return Arrays.stream(values()).filter(one -> one.word.equals(word)).findFirst();
    }

    /** All words. */
    public static List<String> words() {
      return Arrays.stream(values()).map(Lapse::word).toList();
    }
  }
}
