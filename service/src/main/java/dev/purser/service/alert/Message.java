package dev.purser.service.alert;

import dev.purser.core.alert.AlertKind;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * What is carried to one receiver: the same for every channel.
 *
 * @param id the same for every try, so that a receiver can tell a repeat
 * @param what an alert, a digest, or only a trial: {@code alert}, {@code digest}, "test"
 * @param alert the alert's id; 0 for a test
 * @param step what has become of it: {@code opened}, {@code changed}, {@code escalated}, {@code
 *     reminded}, {@code grew} or {@code closed}
 * @param kind word of its kind
 * @param about what it is about, such as a run's reference
 * @param link the page of it
 * @param command what says more on the command line
 * @param count how many alerts are part of it
 * @param parts the first of those, a line each; of a digest, what it tells of
 * @param firstAid what to do, for whoever is called; empty where nobody has said it
 * @param thread the id of the first message of this alert to the same address, where this is
 *     another
 */
public record Message(
    String id,
    String what,
    long alert,
    String step,
    String kind,
    String urgency,
    String title,
    String text,
    String about,
    long run,
    String stream,
    String rule,
    Instant at,
    String link,
    String command,
    int count,
    List<String> parts,
    String firstAid,
    Optional<String> thread) {
  /** Copies the list. */
  public Message {
    parts = List.copyOf(parts);
  }

  /** One line that says what it is: the subject of a mail. */
  public String subject() {
    if (what.equals("test")) {
      return "[test] " + title;
    }
    if (what.equals("digest")) {
      return "[digest] " + title;
    }
    String word =
        switch (step) {
          case "closed" -> "over: ";
          case "reminded", "escalated" -> "still open: ";
          case "grew" -> "more: ";
          default -> "";
        };
    boolean urgent = urgency.equals("urgent") && !step.equals("closed");
    String kindTitle = AlertKind.of(kind).map(AlertKind::word).orElse(kind);
    return "["
        + word
        + (urgent ? "urgent: " : "")
        + kindTitle
        + "] "
        + title
        + (count > 0 && !step.equals("closed") ? " and " + count + " more" : "");
  }
}
