package dev.purser.core.job;

import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;

/**
 * A question to a person: the run succeeds with a yes and fails with a no.
 *
 * @param question may hold placeholders
 */
public record Approval(String question, Answering answering) implements Work {
  /** The word for it. */
  public static final String KIND = "approval";

  @Override
  public String kind() {
    return KIND;
  }

  @Override
  public String inWords() {
    return question;
  }

  @Override
  public Work filled(UnaryOperator<String> fill) {
    return question.contains("${") ? new Approval(fill.apply(question), answering) : this;
  }

  /**
   * Who may answer a question, and for how long it is asked.
   *
   * @param by names of people; empty for everybody who may act on runs
   * @param remind after this people are reminded by an alert
   * @param lapses after this it is asked no more
   * @param then what lapsing means
   */
  public record Answering(
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
  public enum Lapse {
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
