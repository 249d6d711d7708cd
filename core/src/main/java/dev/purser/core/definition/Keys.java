package dev.purser.core.definition;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/**
 * The keys that a mapping may have. The reader asks for its keys through this table and the JSON
 * Schema is written from it, so that the two cannot differ.
 */
final class Keys {

  /** The form of a value. */
  enum Form {
    TEXT("string"),
    NAME("string"),
    PATH("string"),
    DAY_RULE("string"),
    PREREQUISITE("string"),
    TIME("string"),
    TIMES("string-or-list"),
    ZONE("string"),
    DURATION("string"),
    DURATIONS("string"),
    NAMES("string-or-list"),
    NUMBER("integer"),
    CODES("scalar"),
    FLAG("flag"),
    FLAG_OR_ENTRY("flag-or-object"),
    TEXTS("map of string"),
    NUMBERS("map of integer"),
    ENTRY("object"),
    ENTRY_OR_LIST("object-or-list"),
    RULES("string-or-list"),
    ENTRIES("map of object"),
    LIST("list of object");

    final String json;

    Form(String json) {
      this.json = json;
    }
  }

  /** One key: its name, form, whether it must be there, what it means, and what is below it. */
  record Key(String name, Form form, boolean required, String about, Keys below) {}

  private final Map<String, Key> keys = new LinkedHashMap<>();

  Keys must(String name, Form form, String about) {
    keys.put(name, new Key(name, form, true, about, null));
    return this;
  }

  Keys may(String name, Form form, String about) {
    keys.put(name, new Key(name, form, false, about, null));
    return this;
  }

  Keys may(String name, Form form, String about, Keys below) {
    keys.put(name, new Key(name, form, false, about, below));
    return this;
  }

  Keys must(String name, Form form, String about, Keys below) {
    keys.put(name, new Key(name, form, true, about, below));
    return this;
  }

  Key key(String name) {
    Key key = keys.get(name);
    if (key == null) {
      throw new IllegalStateException("the reader asks for a key that the table lacks: " + name);
    }
    return key;
  }

  boolean has(String name) {
    return keys.containsKey(name);
  }

  List<String> names() {
    return new ArrayList<>(keys.keySet());
  }

  Iterable<Key> all() {
    return keys.values();
  }

  static final Keys SCHEDULE =
      new Keys()
          .may("days", Form.DAY_RULE, "The business dates, as a day rule (docs/day-rules.md).")
          .may("at", Form.TIMES, "Start time or times, HH:MM, on the clock of the zone.")
          .may("every", Form.TEXT, "Instead of at: 15m between 06:00 and 20:00.")
          .may("cron", Form.TEXT, "Instead of days and at: the five fields of POSIX crontab.")
          .may("windows", Form.TEXT, "Instead of days and at: 1h, 1d or 1 business day.")
          .may("at-a-time", Form.NUMBER, "How many windows may be open at once; 1: in order.")
          .must("zone", Form.ZONE, "IANA time zone, such as Europe/Oslo.")
          .may("from", Form.TEXT, "First business date; none before it.")
          .may("to", Form.TEXT, "Last business date; none after it.")
          .may("day-begins", Form.TIME, "A time before this belongs to the date before; 00:00.")
          .may("parameters", Form.TEXTS, "Values for placeholders, for the runs of this entry.")
          .may("if-missed", Form.TEXT, "After an outage or pause: run, run once or skip.")
          .may("start-by", Form.TIME, "A missed start is not made up after this time of day.");

  static final Keys RETRY =
      new Keys()
          .must("times", Form.NUMBER, "Further attempts after the first, 0 to 99.")
          .may("wait", Form.DURATION, "Between attempts; 1m where nothing is said.")
          .may("growing-to", Form.DURATION, "Each wait is twice the one before, up to this.")
          .may("on", Form.CODES, "The exit codes after which it is tried again: 75, 100 to 110.")
          .may("on-stop-after", Form.FLAG, "Also after an attempt that ran into stop-after.");

  static final Keys REPEAT =
      new Keys()
          .may("of-run", Form.NUMBER, "How often one run may move to another host; 3.")
          .may("of-job", Form.NUMBER, "How often all runs of the job of a date may; 20.");

  static final Keys ANSWER =
      new Keys()
          .may("by", Form.NAMES, "Who may answer, by name; everybody who may act on runs.")
          .may("remind", Form.DURATION, "An alert reminds people after this.")
          .may("lapses", Form.DURATION, "It is asked no more after this.")
          .may("then", Form.TEXT, "What lapsing means: fail, skip or approve; fail.");

  static final Keys JOB =
      new Keys()
          .may("title", Form.TEXT, "For people.")
          .may("run", Form.TEXT, "The command, read by /bin/sh on the host; with ${placeholders}.")
          .may("approve", Form.TEXT, "A question to a person, instead of a command.")
          .may("stream", Form.TEXT, "Another stream, run as a step, instead of a command.")
          .may("answer", Form.ENTRY, "Of an approval: who may answer, and until when.", ANSWER)
          .may(
              "host",
              Form.TEXT,
              "A host's name, any of, each of or 2 of a GROUP, or with the file.")
          .may("user", Form.TEXT, "Runs on behalf of this user, where the host allows it.")
          .may("succeeds-if", Form.TEXT, "Which of its parts must succeed: all, any, at least 2.")
          .may("waits-for", Form.PREREQUISITE, "What must be true first (docs/prerequisites.md).")
          .may("days", Form.DAY_RULE, "Business dates of its own, instead of its stream's.")
          .may("only-on", Form.DAY_RULE, "On other dates it is skipped; what follows goes on.")
          .may("not-before", Form.TIME, "Does not start before this time of day, HH:MM.")
          .may("usually", Form.DURATIONS, "How long it usually takes: 4m to 9m.")
          .may("stop-after", Form.DURATION, "A running attempt is stopped after this.")
          .may("grace", Form.DURATION, "Between asking to stop and forcing it; 10s if not said.")
          .may("retry", Form.ENTRY, "How a failed attempt is tried again.", RETRY)
          .may("start-by", Form.TIME, "Late if not started by then, HH:MM.")
          .may("finish-by", Form.TIME, "Late if not finished by then, HH:MM.")
          .may("takes", Form.NUMBERS, "Units of capacities held while it runs.")
          .may("directory", Form.TEXT, "Working directory on the host.")
          .may("environment", Form.TEXTS, "Further environment variables; with ${placeholders}.")
          .may(
              "may-repeat",
              Form.FLAG_OR_ENTRY,
              "An attempt that was lost with its host may be tried on another.",
              REPEAT)
          .may("parameters", Form.TEXTS, "Values for placeholders, stronger than its stream's.")
          .may("only-if", Form.TEXT, "A check before work: a command, or value N of JOB > 0.")
          .may("succeeds-with", Form.CODES, "Exit codes that count as success: 0, 3 to 5; 0.")
          .may(
              "overlap",
              Form.TEXT,
              "While an earlier run is at work: wait, skip, replace, allow 3.")
          .may("priority", Form.NUMBER, "Who comes first for capacity, 0 to 100; 50.")
          .may("tags", Form.NAMES, "Words that people find its runs by, beside its stream's.");

  static final Keys EXPECTED =
      new Keys()
          .must("days", Form.DAY_RULE, "The business dates on which a file should come.")
          .may("from", Form.TIME, "The time of day from which it may come; 00:00.")
          .must("by", Form.TIME, "By when it should be there; on the next day if before from.")
          .must("zone", Form.ZONE, "The clock of both.")
          .may("calendar", Form.NAME, "The business calendar that the day rule means.");

  static final Keys STARTS_ON =
      new Keys()
          .must("file", Form.NAME, "The file watch; each file, or complete set, is a start.")
          .may("at-a-time", Form.NUMBER, "How many starts may be open at once; 1.")
          .may("in-order-of", Form.TEXT, "Which file comes first: arrival or name; arrival.")
          .may("after-failure", Form.TEXT, "While a file is unprocessed: go on or wait; go on.");

  static final Keys STREAM =
      new Keys()
          .must("stream", Form.PATH, "The stream's full name, such as passenger/night-manifest.")
          .may("title", Form.TEXT, "For people.")
          .may("about", Form.TEXT, "What it is for.")
          .may("department", Form.TEXT, "To whom it belongs.")
          .may("owner", Form.NAME, "Gets its alerts, where a recipient of that name is defined.")
          .may("alerts-to", Form.NAMES, "Further recipients of its alerts.")
          .may("calendar", Form.NAME, "The business calendar that its day rules mean.")
          .may(
              "schedule",
              Form.ENTRY_OR_LIST,
              "When it starts: an entry or several; without, people start it.",
              SCHEDULE)
          .may(
              "starts-on", Form.ENTRY, "Instead of a schedule: the files that start it.", STARTS_ON)
          .may("paused", Form.FLAG, "Whether it is published paused; yes for a new stream.")
          .may("parameters", Form.TEXTS, "Values for placeholders.")
          .may("asks-for", Form.NAMES, "Parameters that whoever starts it must give.")
          .may("succeeds-if", Form.NAMES, "Which jobs must succeed: all, any, or their names.")
          .may("priority", Form.NUMBER, "Of its jobs, where they say nothing, 0 to 100; 50.")
          .may("tags", Form.NAMES, "Words that people find its runs by.")
          .must("jobs", Form.ENTRIES, "Its jobs by name.", JOB);

  static final Keys PARAMETERS =
      new Keys()
          .must("parameters-of", Form.TEXT, "site, environment NAME or department NAME.")
          .may("title", Form.TEXT, "For people.")
          .must("values", Form.TEXTS, "Values for placeholders.");

  static final Keys SPAN =
      new Keys()
          .must("from", Form.TIME, "From this time of day, HH:MM,")
          .must("to", Form.TIME, "to this one, across midnight where it is earlier,")
          .must("units", Form.NUMBER, "there are so many.");

  static final Keys HOLIDAY =
      new Keys()
          .must("day", Form.DAY_RULE, "Any day rule: a date, a range, 24 december, easter.")
          .may("name", Form.TEXT, "What people call it.")
          .may("observed", Form.FLAG, "Whether the calendar's observance holds for it; yes.");

  static final Keys SOURCE =
      new Keys()
          .must("connection", Form.NAME, "The connection that gives the days as iCalendar.")
          .may("path", Form.TEXT, "What is asked for there, such as /holidays.ics.")
          .may("every", Form.DURATION, "How often it is fetched anew; 1d.");

  static final Keys HOLIDAY_CALENDAR =
      new Keys()
          .must("holiday-calendar", Form.NAME, "The calendar's name.")
          .may("title", Form.TEXT, "For people.")
          .may("holidays", Form.LIST, "The closed days.", HOLIDAY)
          .may("with", Form.NAMES, "Holiday calendars whose days are closed here too.")
          .may("observance", Form.TEXTS, "Where a holiday is kept: saturday: friday before.")
          .may("known-to", Form.TEXT, "The last date that it is good for.")
          .may("warn", Form.DURATION, "How long before that people are told.")
          .may("source", Form.ENTRY, "Where its days are fetched from.", SOURCE);

  static final Keys BUSINESS_CALENDAR =
      new Keys()
          .must("business-calendar", Form.NAME, "The calendar's name.")
          .may("title", Form.TEXT, "For people.")
          .may("working", Form.DAY_RULE, "Days that are worked: weekdays, or any day rule.")
          .may("without", Form.NAMES, "Holiday calendars whose days are closed.")
          .may("extra", Form.RULES, "Dates, or day rules, that are worked all the same.")
          .may("known-to", Form.TEXT, "The last date that it is good for.")
          .may("warn", Form.DURATION, "How long before that people are told.");

  static final Keys PERIOD =
      new Keys()
          .must("period", Form.NAME, "The name in rules: last business day of trading-month.")
          .may("title", Form.TEXT, "For people.")
          .may("starts", Form.DAY_RULE, "The first days of the periods, such as 1 july.")
          .may("weeks", Form.TEXT, "Instead of starts: lengths in weeks, such as 4-4-5.")
          .may("years", Form.NAMES, "With weeks: the dates on which the pattern begins anew.")
          .may("known-to", Form.TEXT, "The last day of the last period.")
          .may("warn", Form.DURATION, "How long before that people are told.");

  static final Keys CONNECTION =
      new Keys()
          .must("connection", Form.NAME, "The connection's name.")
          .may("title", Form.TEXT, "For people.")
          .must("address", Form.TEXT, "An http, https or sftp address.")
          .may("user", Form.TEXT, "Who signs in: a user, or an access key's id.")
          .may("secret-file", Form.TEXT, "A file of the service's host that holds the secret.")
          .may("secret-environment", Form.TEXT, "Or the variable of the service that does.")
          .may("host-key", Form.TEXT, "Of an sftp server: SHA256:... of its key.")
          .may("region", Form.TEXT, "Of an object store; us-east-1.");

  static final Keys HOST =
      new Keys()
          .must("host", Form.NAME, "The host's name, as its agent gives it.")
          .may("title", Form.TEXT, "For people.")
          .may("labels", Form.NAMES, "What host groups pick it by.")
          .may("at-most", Form.NUMBER, "Attempts on it at once; no limit where nothing is said.")
          .may("lost-after", Form.DURATION, "Away for this long, its work may go elsewhere; 5m.");

  static final Keys HOST_GROUP =
      new Keys()
          .must("host-group", Form.NAME, "The group's name.")
          .may("title", Form.TEXT, "For people.")
          .may("labels", Form.NAMES, "Hosts that have all of these.")
          .may("hosts", Form.NAMES, "Hosts by name.");

  static final Keys FILE_WATCH =
      new Keys()
          .must("file-watch", Form.NAME, "The watch's name.")
          .may("title", Form.TEXT, "For people.")
          .may("host", Form.TEXT, "Whose agent looks: a host's name, or each of a GROUP.")
          .may("connection", Form.NAME, "Instead of a host: an object store or SFTP server.")
          .must("path", Form.TEXT, "Absolute path; * ? [a-z] {a,b} in its last part; ${date}.")
          .may("expected", Form.ENTRY, "When files should come.", EXPECTED)
          .may("still-for", Form.DURATION, "Unchanged for this long before it counts; 10s.")
          .may("minimum-size", Form.NUMBER, "In bytes; 1 where nothing is said, never less.")
          .may("companion", Form.TEXT, "Counts once this file is there: ${file.name}.done.")
          .may("checksum-file", Form.TEXT, "Counts if this file's checksum is right.")
          .may("last-line", Form.TEXT, "Counts once its last line matches: END*.")
          .may("set-of", Form.NUMBER, "So many files make a set, used by one run; 1.")
          .may("not-older-than", Form.DURATION, "Files changed longer ago are left alone.")
          .may("existing", Form.TEXT, "Files that were there before the watch: take or ignore.")
          .may("repeats", Form.TEXT, "The same name and content again: take, ignore or ask; ask.")
          .may("case-sensitive", Form.FLAG, "Whether A and a differ in names; yes.")
          .may("look", Form.TEXT, "when told (by the system), or every 10s.")
          .may("after-use", Form.TEXT, "leave, remove, or move to DIRECTORY; leave.")
          .may("grows-for", Form.DURATION, "Without rest for this long, people are told; 1h.")
          .may("unprocessed-for", Form.DURATION, "Unprocessed for this long, likewise; 1h.");

  static final Keys CAPACITY =
      new Keys()
          .must("capacity", Form.NAME, "The capacity's name.")
          .may("title", Form.TEXT, "For people.")
          .must("units", Form.NUMBER, "How many there are.")
          .may("zone", Form.ZONE, "The clock of its spans; UTC.")
          .may("spans", Form.LIST, "Times of day at which there are more or fewer.", SPAN);

  static final Keys RECIPIENT =
      new Keys()
          .must("recipient", Form.NAME, "The recipient's name.")
          .may("title", Form.TEXT, "For people.")
          .may("mail", Form.NAMES, "E-mail addresses.")
          .may("webhook", Form.TEXT, "Address that takes CloudEvents by HTTP POST.")
          .may("receives", Form.NAMES, "Kinds of alert; all where nothing is said.");

  static Keys of(Kind kind) {
    return switch (kind) {
      case STREAM -> STREAM;
      case HOLIDAY_CALENDAR -> HOLIDAY_CALENDAR;
      case BUSINESS_CALENDAR -> BUSINESS_CALENDAR;
      case PERIOD -> PERIOD;
      case CONNECTION -> CONNECTION;
      case HOST -> HOST;
      case HOST_GROUP -> HOST_GROUP;
      case FILE_WATCH -> FILE_WATCH;
      case CAPACITY -> CAPACITY;
      case RECIPIENT -> RECIPIENT;
      case PARAMETERS -> PARAMETERS;
    };
  }
}
