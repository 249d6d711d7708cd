package dev.purser.core.mail;

import dev.purser.core.job.Work;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;

/**
 * A mail, as a step of a stream. All texts may hold placeholders.
 *
 * @param to addresses, with commas between
 * @param subject its subject
 * @param text what it says
 * @param attached what goes with it, in order
 * @param over the connection of a mail server; empty for the service's own
 */
public record Mail(String to, String subject, String text, List<Attachment> attached, String over)
    implements Work {
  /** The word for it. */
  public static final String KIND = "mail";

  /** Exit code of one that the mail server refused. */
  public static final int REFUSED = 1;

  /** Copies the list. */
  public Mail {
    attached = List.copyOf(attached);
  }

  /**
   * Something that another job made.
   *
   * @param result the number of the query whose rows go along, as CSV; 0 for the job's output
   * @param job of the same stream, or a full path
   * @param name of the file
   */
  public record Attachment(int result, String job, String name) {}

  @Override
  public String kind() {
    return KIND;
  }

  @Override
  public Optional<String> connection(Function<String, Optional<String>> ofService) {
    return over.isEmpty() ? Optional.empty() : Optional.of(over);
  }

  @Override
  public String inWords() {
    return "mail to " + to + ": " + subject;
  }
}
