package dev.purser.core.reading;

import dev.purser.core.definition.Kind;

/** The keys of every mapping of a definition file, but for those that a kind of work brings. */
final class KeyTables {
  private KeyTables() {}

  static final Keys SCHEDULE =
      new Keys()
          .may("days", Keys.Form.DAY_RULE, "The business dates, as a day rule (docs/day-rules.md).")
          .may("at", Keys.Form.TIMES, "Start time or times, HH:MM, on the clock of the zone.")
          .may("every", Keys.Form.TEXT, "Instead of at: 15m between 06:00 and 20:00.")
          .may("cron", Keys.Form.TEXT, "Instead of days and at: the five fields of POSIX crontab.")
          .may("windows", Keys.Form.TEXT, "Instead of days and at: 1h, 1d or 1 business day.")
          .may("at-a-time", Keys.Form.NUMBER, "How many windows may be open at once; 1: in order.")
          .must("zone", Keys.Form.ZONE, "IANA time zone, such as Europe/Oslo.")
          .may("from", Keys.Form.TEXT, "First business date; none before it.")
          .may("to", Keys.Form.TEXT, "Last business date; none after it.")
          .may(
              "day-begins", Keys.Form.TIME, "A time before this belongs to the date before; 00:00.")
          .may(
              "parameters", Keys.Form.TEXTS, "Values for placeholders, for the runs of this entry.")
          .may("if-missed", Keys.Form.TEXT, "After an outage or pause: run, run once or skip.")
          .may("start-by", Keys.Form.TIME, "A missed start is not made up after this time of day.");

  static final Keys RETRY =
      new Keys()
          .must("times", Keys.Form.NUMBER, "Further attempts after the first, 0 to 99.")
          .may("wait", Keys.Form.DURATION, "Between attempts; 1m where nothing is said.")
          .may("growing-to", Keys.Form.DURATION, "Each wait is twice the one before, up to this.")
          .may(
              "on",
              Keys.Form.CODES,
              "The exit codes after which it is tried again: 75, 100 to 110.")
          .may("on-stop-after", Keys.Form.FLAG, "Also after an attempt that ran into stop-after.");

  static final Keys REPEAT =
      new Keys()
          .may("of-run", Keys.Form.NUMBER, "How often one run may move to another host; 3.")
          .may("of-job", Keys.Form.NUMBER, "How often all runs of the job of a date may; 20.");

  static final Keys JOB =
      new Keys()
          .may("title", Keys.Form.TEXT, "For people.")
          .with(TemplateReader.USE)
          .with(WorkKinds.keys())
          .may(
              "host",
              Keys.Form.TEXT,
              "A host's name, any of, each of or 2 of a GROUP, or with the file.")
          .may("user", Keys.Form.TEXT, "Runs on behalf of this user, where the host allows it.")
          .may(
              "waits-for",
              Keys.Form.PREREQUISITE,
              "What must be true first (docs/prerequisites.md).")
          .may("days", Keys.Form.DAY_RULE, "Business dates of its own, instead of its stream's.")
          .may("only-on", Keys.Form.DAY_RULE, "On other dates it is skipped; what follows goes on.")
          .may("not-before", Keys.Form.TIME, "Does not start before this time of day, HH:MM.")
          .may("usually", Keys.Form.DURATIONS, "How long it usually takes: 4m to 9m.")
          .may("stop-after", Keys.Form.DURATION, "A running attempt is stopped after this.")
          .may(
              "grace",
              Keys.Form.DURATION,
              "Between asking to stop and forcing it; 10s if not said.")
          .may("retry", Keys.Form.ENTRY, "How a failed attempt is tried again.", RETRY)
          .may("start-by", Keys.Form.TIME, "Late if not started by then, HH:MM.")
          .may("finish-by", Keys.Form.TIME, "Late if not finished by then, HH:MM.")
          .may("takes", Keys.Form.NUMBERS, "Units of capacities held while it runs.")
          .may("directory", Keys.Form.TEXT, "Working directory on the host.")
          .may(
              "environment",
              Keys.Form.TEXTS,
              "Further environment variables; with ${placeholders}.")
          .may(
              "secrets",
              Keys.Form.TEXTS,
              "Secrets that its command is given, by variable: STORE_PASSWORD: store-password.")
          .may(
              "secret-files",
              Keys.Form.TEXTS,
              "The same in files of the attempt; each variable holds the path of one.")
          .may(
              "may-repeat",
              Keys.Form.FLAG_OR_ENTRY,
              "An attempt that was lost with its host may be tried on another.",
              REPEAT)
          .may(
              "parameters",
              Keys.Form.PARAMETERS,
              "Values for placeholders, stronger than its stream's.")
          .may("only-if", Keys.Form.TEXT, "A check before work: a command, or value N of JOB > 0.")
          .may("succeeds-with", Keys.Form.CODES, "Exit codes that count as success: 0, 3 to 5; 0.")
          .may(
              "overlap",
              Keys.Form.TEXT,
              "While an earlier run is at work: wait, skip, replace, allow 3.")
          .may("priority", Keys.Form.NUMBER, "Who comes first for capacity, 0 to 100; 50.")
          .may(
              "alerts",
              Keys.Form.LIST,
              "Rules of its alerts, nearer than its stream's.",
              TellingKeys.ALERT_RULE)
          .may("when-it-fails", Keys.Form.TEXT, "What to do, for whoever is called.")
          .may("tags", Keys.Form.NAMES, "Words that people find its runs by, beside its stream's.");

  static final Keys PARAMETER =
      new Keys()
          .must("value", Keys.Form.TEXT, "The text.")
          .may(
              "shell",
              Keys.Form.FLAG,
              "yes: a piece of the command line, which the shell splits and reads; else one word.");

  static final Keys EXPECTED =
      new Keys()
          .must("days", Keys.Form.DAY_RULE, "The business dates on which a file should come.")
          .may("from", Keys.Form.TIME, "The time of day from which it may come; 00:00.")
          .must("by", Keys.Form.TIME, "By when it should be there; on the next day if before from.")
          .must("zone", Keys.Form.ZONE, "The clock of both.")
          .may("calendar", Keys.Form.NAME, "The business calendar that the day rule means.");

  static final Keys STARTS_ON =
      new Keys()
          .must("file", Keys.Form.NAME, "The file watch; each file, or complete set, is a start.")
          .may("at-a-time", Keys.Form.NUMBER, "How many starts may be open at once; 1.")
          .may("in-order-of", Keys.Form.TEXT, "Which file comes first: arrival or name; arrival.")
          .may(
              "after-failure",
              Keys.Form.TEXT,
              "While a file is unprocessed: go on or wait; go on.");

  static final Keys STREAM =
      new Keys()
          .must(
              "stream", Keys.Form.PATH, "The stream's full name, such as passenger/night-manifest.")
          .with(TemplateReader.USE)
          .may("title", Keys.Form.TEXT, "For people.")
          .may("about", Keys.Form.TEXT, "What it is for.")
          .may("department", Keys.Form.TEXT, "To whom it belongs.")
          .may(
              "owner",
              Keys.Form.NAME,
              "Gets its alerts, where a recipient of that name is defined.")
          .may("alerts-to", Keys.Form.NAMES, "Further recipients of its alerts.")
          .may(
              "alerts", Keys.Form.LIST, "Rules of alerts (docs/alerts.md).", TellingKeys.ALERT_RULE)
          .may("calendar", Keys.Form.NAME, "The business calendar that its day rules mean.")
          .may(
              "schedule",
              Keys.Form.ENTRY_OR_LIST,
              "When it starts: an entry or several; without one, people start it.",
              SCHEDULE)
          .may(
              "starts-on",
              Keys.Form.ENTRY,
              "Instead of a schedule: the files that start it.",
              STARTS_ON)
          .may("paused", Keys.Form.FLAG, "Whether it is published paused; yes for a new stream.")
          .may("parameters", Keys.Form.PARAMETERS, "Values for placeholders.")
          .may("asks-for", Keys.Form.NAMES, "Parameters that whoever starts it must give.")
          .may("succeeds-if", Keys.Form.NAMES, "Which jobs must succeed: all, any, or their names.")
          .may("priority", Keys.Form.NUMBER, "Of its jobs, where they say nothing, 0 to 100; 50.")
          .may("when-it-fails", Keys.Form.TEXT, "What to do where one of its jobs fails.")
          .may("tags", Keys.Form.NAMES, "Words that people find its runs by.")
          .may("places", Keys.Form.TEXTS, "Where jobs stand in its picture, by name: 40 120.")
          .must("jobs", Keys.Form.ENTRIES, "Its jobs by name.", JOB);

  static final Keys PARAMETERS =
      new Keys()
          .must("parameters-of", Keys.Form.TEXT, "site, environment NAME or department NAME.")
          .may("title", Keys.Form.TEXT, "For people.")
          .must("values", Keys.Form.PARAMETERS, "Values for placeholders.");

  static final Keys SPAN =
      new Keys()
          .must("from", Keys.Form.TIME, "From this time of day, HH:MM,")
          .must("to", Keys.Form.TIME, "to this one, across midnight where it is earlier,")
          .must("units", Keys.Form.NUMBER, "there are so many.");

  static final Keys HOLIDAY =
      new Keys()
          .must("day", Keys.Form.DAY_RULE, "Any day rule: a date, a range, 24 december, easter.")
          .may("name", Keys.Form.TEXT, "What people call it.")
          .may("observed", Keys.Form.FLAG, "Whether the calendar's observance holds for it; yes.");

  static final Keys SOURCE =
      new Keys()
          .must("connection", Keys.Form.NAME, "The connection that gives the days as iCalendar.")
          .may("path", Keys.Form.TEXT, "What is asked for there, such as /holidays.ics.")
          .may("every", Keys.Form.DURATION, "How often it is fetched anew; 1d.");

  static final Keys HOLIDAY_CALENDAR =
      new Keys()
          .must("holiday-calendar", Keys.Form.NAME, "The calendar's name.")
          .may("title", Keys.Form.TEXT, "For people.")
          .may("holidays", Keys.Form.LIST, "The closed days.", HOLIDAY)
          .may("with", Keys.Form.NAMES, "Holiday calendars whose days are closed here too.")
          .may("observance", Keys.Form.TEXTS, "Where a holiday is kept: saturday: friday before.")
          .may("known-to", Keys.Form.TEXT, "The last date that it is good for.")
          .may("warn", Keys.Form.DURATION, "How long before that people are told.")
          .may("source", Keys.Form.ENTRY, "Where its days are fetched from.", SOURCE);

  static final Keys BUSINESS_CALENDAR =
      new Keys()
          .must("business-calendar", Keys.Form.NAME, "The calendar's name.")
          .may("title", Keys.Form.TEXT, "For people.")
          .may("working", Keys.Form.DAY_RULE, "Days that are worked: weekdays, or any day rule.")
          .may("without", Keys.Form.NAMES, "Holiday calendars whose days are closed.")
          .may("extra", Keys.Form.RULES, "Dates, or day rules, that are worked all the same.")
          .may("known-to", Keys.Form.TEXT, "The last date that it is good for.")
          .may("warn", Keys.Form.DURATION, "How long before that people are told.");

  static final Keys PERIOD =
      new Keys()
          .must("period", Keys.Form.NAME, "The name in rules: last business day of trading-month.")
          .may("title", Keys.Form.TEXT, "For people.")
          .may("starts", Keys.Form.DAY_RULE, "The first days of the periods, such as 1 july.")
          .may("weeks", Keys.Form.TEXT, "Instead of starts: lengths in weeks, such as 4-4-5.")
          .may("years", Keys.Form.NAMES, "With weeks: the dates on which the pattern begins anew.")
          .may("known-to", Keys.Form.TEXT, "The last day of the last period.")
          .may("warn", Keys.Form.DURATION, "How long before that people are told.");

  static final Keys HOST =
      new Keys()
          .must("host", Keys.Form.NAME, "The host's name, as its agent gives it.")
          .may("title", Keys.Form.TEXT, "For people.")
          .may("labels", Keys.Form.NAMES, "What host groups pick it by.")
          .may(
              "at-most",
              Keys.Form.NUMBER,
              "Attempts on it at once; no limit where nothing is said.")
          .may(
              "lost-after",
              Keys.Form.DURATION,
              "Away for this long, its work may go elsewhere; 5m.");

  static final Keys HOST_GROUP =
      new Keys()
          .must("host-group", Keys.Form.NAME, "The group's name.")
          .may("title", Keys.Form.TEXT, "For people.")
          .may("labels", Keys.Form.NAMES, "Hosts that have all of these.")
          .may("hosts", Keys.Form.NAMES, "Hosts by name.")
          .may(
              "alerts",
              Keys.Form.LIST,
              "Rules of alerts about its hosts (docs/alerts.md).",
              TellingKeys.ALERT_RULE);

  static final Keys FILE_WATCH =
      new Keys()
          .must("file-watch", Keys.Form.NAME, "The watch's name.")
          .may("title", Keys.Form.TEXT, "For people.")
          .may("host", Keys.Form.TEXT, "Whose agent looks: a host's name, or each of a GROUP.")
          .may("connection", Keys.Form.NAME, "Instead of a host: an object store or SFTP server.")
          .must("path", Keys.Form.TEXT, "Absolute path; * ? [a-z] {a,b} in its last part; ${date}.")
          .may("expected", Keys.Form.ENTRY, "When files should come.", EXPECTED)
          .may("still-for", Keys.Form.DURATION, "Unchanged for this long before it counts; 10s.")
          .may("minimum-size", Keys.Form.NUMBER, "In bytes; 1 where nothing is said, never less.")
          .may("companion", Keys.Form.TEXT, "Counts once this file is there: ${file.name}.done.")
          .may("checksum-file", Keys.Form.TEXT, "Counts if this file's checksum is right.")
          .may("last-line", Keys.Form.TEXT, "Counts once its last line matches: END*.")
          .may("set-of", Keys.Form.NUMBER, "So many files make a set, used by one run; 1.")
          .may("not-older-than", Keys.Form.DURATION, "Files changed longer ago are left alone.")
          .may(
              "existing", Keys.Form.TEXT, "Files that were there before the watch: take or ignore.")
          .may(
              "repeats",
              Keys.Form.TEXT,
              "The same name and content again: take, ignore or ask; ask.")
          .may("case-sensitive", Keys.Form.FLAG, "Whether A and a differ in names; yes.")
          .may("look", Keys.Form.TEXT, "when told (by the system), or every 10s.")
          .may("after-use", Keys.Form.TEXT, "leave, remove, or move to DIRECTORY; leave.")
          .may("grows-for", Keys.Form.DURATION, "Without rest for this long, people are told; 1h.")
          .may("unprocessed-for", Keys.Form.DURATION, "Unprocessed for this long, likewise; 1h.")
          .may(
              "alerts",
              Keys.Form.LIST,
              "Rules of its alerts (docs/alerts.md).",
              TellingKeys.ALERT_RULE);

  static final Keys CAPACITY =
      new Keys()
          .must("capacity", Keys.Form.NAME, "The capacity's name.")
          .may("title", Keys.Form.TEXT, "For people.")
          .must("units", Keys.Form.NUMBER, "How many there are.")
          .may("zone", Keys.Form.ZONE, "The clock of its spans; UTC.")
          .may("spans", Keys.Form.LIST, "Times of day at which there are more or fewer.", SPAN);

  static final Keys COMMITMENT =
      new Keys()
          .must("commitment", Keys.Form.NAME, "The commitment's name.")
          .may("title", Keys.Form.TEXT, "For people who know no job names.")
          .may("about", Keys.Form.TEXT, "What it is for.")
          .may("department", Keys.Form.TEXT, "To whom it belongs.")
          .may(
              "owner",
              Keys.Form.NAME,
              "Gets its alerts, where a recipient of that name is defined.")
          .may("alerts-to", Keys.Form.NAMES, "Further recipients of its alerts.")
          .must("of", Keys.Form.PATH, "The end job, by its full name; or a stream: all its jobs.")
          .may("done-by", Keys.Form.TEXT, "The promise: done by 22:00, or \"06:00 next day\".")
          .may("zone", Keys.Form.ZONE, "The clock of done-by.")
          .may("within", Keys.Form.DURATION, "Or: this long after its lineage begins.")
          .may("as-usual", Keys.Form.FLAG, "Or: when nine of ten earlier ends were.")
          .may("days", Keys.Form.DAY_RULE, "Only on these business dates.")
          .may("calendar", Keys.Form.NAME, "The business calendar that the day rule means.")
          .may("begins-after", Keys.Form.NAMES, "Jobs or streams after which its lineage begins.")
          .may("leave-out", Keys.Form.NAMES, "Jobs or streams that say nothing about it.")
          .may("history-from", Keys.Form.TEXT, "Runs of dates before this one do not count.")
          .may("important", Keys.Form.FLAG, "Whether its alerts are urgent.")
          .may(
              "alerts",
              Keys.Form.LIST,
              "Rules of its alerts (docs/alerts.md).",
              TellingKeys.ALERT_RULE)
          .may("warn-at", Keys.Form.TEXT, "The chance of being late that warns people; 40 %.");

  static Keys of(Kind kind) {
    return switch (kind) {
      case STREAM -> STREAM;
      case HOLIDAY_CALENDAR -> HOLIDAY_CALENDAR;
      case BUSINESS_CALENDAR -> BUSINESS_CALENDAR;
      case PERIOD -> PERIOD;
      case CONNECTION -> ConnectionReader.KEYS;
      case REMOTE_SERVICE -> RemoteServiceReader.KEYS;
      case HOST -> HOST;
      case HOST_GROUP -> HOST_GROUP;
      case FILE_WATCH -> FILE_WATCH;
      case CAPACITY -> CAPACITY;
      case COMMITMENT -> COMMITMENT;
      case RECIPIENT -> TellingKeys.RECIPIENT;
      case DUTY -> TellingKeys.DUTY;
      case PARAMETERS -> PARAMETERS;
      case TEMPLATE -> TemplateReader.KEYS;
      case FOR_EACH -> ForEachReader.KEYS;
      case ALERTS -> TellingKeys.ALERTS;
    };
  }
}
