package dev.purser.service.alert;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.AlertText;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
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
 * @param of what is known of its run
 * @param failed the jobs that have failed, itself and its first parts: title, error and page
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
    Optional<String> thread,
    Of of,
    List<String> failed) {
  /** Copies the lists. */
  public Message {
    parts = List.copyOf(parts);
    failed = List.copyOf(failed);
  }

  /**
   * What is known of a run.
   *
   * @param job its path; empty where it is about none
   * @param exitCode empty where there is none
   * @param output its last lines, as far as they are on record
   */
  public record Of(String job, String host, String exitCode, String output) {
    /** No run. */
    public static final Of NONE = new Of("", "", "", "");
  }

  /** All of it, by name, as programs read it. */
  public Map<String, Object> facts() {
    Map<String, Object> facts = new LinkedHashMap<>();
    facts.put("id", id);
    facts.put("alert", alert);
    facts.put("step", step);
    facts.put("kind", kind);
    facts.put("urgency", urgency);
    facts.put("title", title);
    facts.put("text", text);
    facts.put("reference", about);
    facts.put("stream", stream);
    facts.put("job", of.job());
    facts.put("host", of.host());
    facts.put("exitCode", of.exitCode());
    facts.put("output", of.output());
    facts.put("console", link);
    facts.put("test", what.equals("test"));
    facts.put("count", count);
    facts.put("parts", parts);
    facts.put("failedJobs", failed);
    if (!firstAid.isEmpty()) {
      facts.put("firstAid", firstAid);
    }
    return facts;
  }

  /** What a template may have, by name of {@link AlertText#MESSAGE_NAMES}. */
  public String fact(String name) {
    return switch (name) {
      case "title" -> title;
      case "text" -> text;
      case "kind" -> kind;
      case "urgency" -> urgency;
      case "about" -> about;
      case "stream" -> stream;
      case "link" -> link;
      case "at" -> at.toString();
      case "rule" -> rule;
      case "count" -> "" + count;
      case "parts" -> String.join("\n", parts);
      case "first-aid" -> firstAid;
      case "what" -> what.equals("alert") ? step : what;
      case "command" -> command;
      case "job" -> of.job();
      case "host" -> of.host();
      case "exit-code" -> of.exitCode();
      case "output" -> of.output();
      case "failed-jobs" -> String.join("\n", failed);
      default -> "";
    };
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
