package dev.purser.core.definition;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/** The kinds of definition; the word is the first key of its document in a file. */
public enum Kind {
  /** Jobs that belong together. */
  STREAM("stream", "stream"),
  /** Closed days. */
  HOLIDAY_CALENDAR("holiday-calendar", "holiday calendar"),
  /** Working days. */
  BUSINESS_CALENDAR("business-calendar", "business calendar"),
  /** Periods of a fiscal calendar. */
  PERIOD("period", "period"),
  /** The address of an outside system. */
  CONNECTION("connection", "connection"),
  /** How an outside service is asked, watched and stopped. */
  REMOTE_SERVICE("remote-service", "remote service"),
  /** A machine. */
  HOST("host", "host"),
  /** Machines by label or name. */
  HOST_GROUP("host-group", "host group"),
  /** A file looked for. */
  FILE_WATCH("file-watch", "file watch"),
  /** Units that runs take. */
  CAPACITY("capacity", "capacity"),
  /** What the business is promised. */
  COMMITMENT("commitment", "commitment"),
  /** Who is told. */
  RECIPIENT("recipient", "recipient"),
  /** Who is on duty when. */
  DUTY("duty", "duty"),
  /** Values for more than one stream. */
  PARAMETERS("parameters-of", "set of parameters"),
  /** A job or stream with parameters. */
  TEMPLATE("template", "template"),
  /** A stream for each row of a table. */
  FOR_EACH("for-each", "for-each"),
  /** Rules of alerts for more than one stream. */
  ALERTS("alerts-of", "set of alert rules");

  private final String word;
  private final String title;

  Kind(String word, String title) {
    this.word = word;
    this.title = title;
  }

  /** The word in files and in the API. */
  public String word() {
    return word;
  }

  /** The words in messages. */
  public String title() {
    return title;
  }

  /** The kind of a word. */
  public static Optional<Kind> of(String word) {
    return Arrays.stream(values()).filter(kind -> kind.word.equals(word)).findFirst();
  }

  /** All words. */
  public static List<String> words() {
    return Arrays.stream(values()).map(Kind::word).toList();
  }
}
