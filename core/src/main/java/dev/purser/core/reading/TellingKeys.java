package dev.purser.core.reading;

/** The keys of all that says who is told of what, and how. */
final class TellingKeys {
  static final Keys ESCALATION =
      new Keys()
          .must("after", Keys.Form.DURATION, "How long after it was opened.")
          .must("tell", Keys.Form.NAMES, "Recipients and duties that are told besides.");

  static final Keys ACT =
      new Keys()
          .may("rerun", Keys.Form.NUMBER, "How often the run is done again at the most.")
          .may("cancel", Keys.Form.FLAG, "yes: the run is cancelled.")
          .may("hold-what-follows", Keys.Form.FLAG, "yes: what waits for the run is held.")
          .may("mark", Keys.Form.TEXT, "The run is marked: succeeded or failed.")
          .may("start", Keys.Form.PATH, "The stream that is started, of the run's date or today's.")
          .may("with", Keys.Form.TEXTS, "Parameters of the start, with ${run}, ${text} ...")
          .may("after", Keys.Form.DURATION, "How long after the alert was opened; at once.")
          .may("at-most", Keys.Form.NUMBER, "How often for one run; 1.");

  static final Keys ALERT_RULE =
      new Keys()
          .must("kind", Keys.Form.TEXT, "The kind of alert: failed, late, too-quick, value, ...")
          .may("none", Keys.Form.FLAG, "yes: there are no such alerts.")
          .may("urgency", Keys.Form.TEXT, "note, warning or urgent.")
          .may("tell", Keys.Form.NAMES, "Recipients, instead of owner and alerts-to.")
          .may("say", Keys.Form.TEXT, "What it says, with ${title}, ${text}, ${value rows} ...")
          .may("below", Keys.Form.TEXT, "Of too-quick: a part of the usual duration, 20 %.")
          .may("when", Keys.Form.TEXT, "Of value: value rows < 1000.")
          .may(
              "unusual",
              Keys.Form.NAME,
              "Of value: a value's name; told where it is unlike those of its last 30 dates.")
          .may(
              "beyond",
              Keys.Form.TEXT,
              "Of unusual: how much it may be beyond the lowest and highest of those, 20 %; 0 %.")
          .may("longer-than", Keys.Form.DURATION, "Of waits-long and long-running: how long.")
          .may(
              "longer-than-runs",
              Keys.Form.TEXT,
              "Of long-running: longer than this share of its last runs, 95 %.")
          .may(
              "escalation",
              Keys.Form.LIST,
              "Who is told besides where nobody has taken it on.",
              ESCALATION)
          .may(
              "remind-every",
              Keys.Form.DURATION,
              "How often those who were told are reminded until somebody takes it on.")
          .may("do", Keys.Form.ENTRY, "What is done besides: one thing.", ACT);

  static final Keys LIMITS =
      new Keys()
          .may("an-hour", Keys.Form.NUMBER, "Messages in an hour.")
          .may("a-day", Keys.Form.NUMBER, "Messages in 24 hours.")
          .may("a-week", Keys.Form.NUMBER, "Messages in seven days.")
          .may("urgent-an-hour", Keys.Form.NUMBER, "Urgent messages in an hour, besides.");

  static final Keys BY_WAY = byWay();

  static final Keys ALERTS =
      new Keys()
          .must("alerts-of", Keys.Form.TEXT, "site, or department NAME.")
          .may("title", Keys.Form.TEXT, "For people.")
          .may("alerts", Keys.Form.LIST, "The rules.", ALERT_RULE)
          .may("at-most", Keys.Form.ENTRY, "Of the site: how many messages it sends.", LIMITS)
          .may("by-way", Keys.Form.ENTRY, "Of the site: how many go by each way.", BY_WAY);

  static final Keys QUIET =
      new Keys()
          .must("from", Keys.Form.TIME, "From this time of day.")
          .must("to", Keys.Form.TIME, "Up to this one; on the next day if not after from.")
          .may("but", Keys.Form.TEXT, "How urgent it must be to be told all the same; urgent.");

  static final Keys RECIPIENT =
      new Keys()
          .must("recipient", Keys.Form.NAME, "The recipient's name.")
          .may("title", Keys.Form.TEXT, "For people.")
          .with(WayKinds.keys())
          .may(
              "members",
              Keys.Form.NAMES,
              "Who is told besides: recipients, duties, and person NAME.")
          .may("receives", Keys.Form.NAMES, "Kinds of alert; all where nothing is said.")
          .may("when-over", Keys.Form.FLAG, "yes: is told that an alert is closed, too.")
          .may("zone", Keys.Form.ZONE, "The clock of quiet.")
          .may("quiet", Keys.Form.LIST, "Times of day at which all but the urgent waits.", QUIET)
          .may(
              "at-most",
              Keys.Form.ENTRY,
              "How many messages; what is over comes as one digest.",
              LIMITS);

  static final Keys SHIFT =
      new Keys()
          .may("days", Keys.Form.DAY_RULE, "Dates on which it begins; all where nothing is said.")
          .must("from", Keys.Form.TIME, "From this time of day.")
          .must("to", Keys.Form.TIME, "Up to this one; on the next day if not after from.")
          .must("who", Keys.Form.NAMES, "Recipients, or person NAME; with turns, in this order.")
          .may("turns", Keys.Form.TEXT, "1 week on monday from 2027-01-04.");

  static final Keys REPLACEMENT =
      new Keys()
          .must("from", Keys.Form.TEXT, "The first date of a shift.")
          .may("to", Keys.Form.TEXT, "The last date of a shift; from.")
          .must("of", Keys.Form.TEXT, "Who is away.")
          .must("by", Keys.Form.TEXT, "Who stands in.");

  static final Keys DUTY =
      new Keys()
          .must("duty", Keys.Form.NAME, "The duty's name.")
          .may("title", Keys.Form.TEXT, "For people.")
          .must("zone", Keys.Form.ZONE, "The clock of its shifts.")
          .may("calendar", Keys.Form.NAME, "The business calendar that its day rules mean.")
          .must("shifts", Keys.Form.LIST, "Who has it at which time of day.", SHIFT)
          .may("replacements", Keys.Form.LIST, "Who stands in for whom.", REPLACEMENT);

  private TellingKeys() {}

  private static Keys byWay() {
    Keys keys = new Keys();
    WayKinds.names().forEach(way -> keys.may(way, Keys.Form.ENTRY, "How many go by it.", LIMITS));
    return keys;
  }
}
