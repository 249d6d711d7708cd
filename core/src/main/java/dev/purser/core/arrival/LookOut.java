package dev.purser.core.arrival;

import dev.purser.core.pattern.FilePattern;
import dev.purser.core.schedule.Durations;
import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.PriorityQueue;
import java.util.Set;

/**
 * Judges what is seen in one directory for one watch: which files are whole, which still change,
 * what is wrong with others. Whoever looks says what it sees, asks when to look again and what to
 * read, and hands on the findings.
 *
 * <p>Of files that are done with only a fingerprint is kept, and of others at most {@link
 * #MOST_OPEN}: a directory of any size is looked after in bounded memory. Single threaded.
 */
public final class LookOut {
  /** So many files that are not done with are looked after at once; others have to wait. */
  public static final int MOST_OPEN = 20_000;

  /** A file that is whole sooner than this is told once, as ready. */
  private static final long TELL_AFTER_MILLIS = 1_000;

  private final LookFor what;
  private final FilePattern pattern;
  private final Map<String, Open> open = new LinkedHashMap<>();
  private final Map<String, String> besides = new HashMap<>();
  private final PriorityQueue<Due> due = new PriorityQueue<>();
  private final Set<String> toRead = new LinkedHashSet<>();
  private final List<Finding> news = new ArrayList<>();
  private Fingerprints finished = new Fingerprints();
  private Fingerprints finishedHere;
  private long round;
  private boolean overfull;

  /** A file that is not done with. */
  private static final class Open {
    FileFacts facts;
    final long first;
    long since;
    long round;
    boolean reading;
    Content content;
    String told = "";

    Open(FileFacts facts, long ticks) {
      this.facts = facts;
      this.first = ticks;
      this.since = ticks;
    }
  }

  /** When to look at a file again. */
  private record Due(long at, String name) implements Comparable<Due> {
    @Override
    public int compareTo(Due other) {
      return Long.compare(at, other.at);
    }
  }

  /**
   * The time, by two clocks.
   *
   * @param wall epoch milliseconds, as files are dated
   * @param ticks milliseconds of a clock that is never set
   */
  public record Now(long wall, long ticks) {}

  /** Begins to look; nothing is known yet. */
  public LookOut(LookFor what) {
    this.what = what;
    this.pattern = FilePattern.of(what.pattern(), what.caseSensitive());
  }

  /** What is looked for. */
  public LookFor what() {
    return what;
  }

  // ---- what is seen

  /** A listing of the whole directory begins. */
  public void beginListing() {
    round++;
    finishedHere = new Fingerprints();
    overfull = false;
  }

  /** The listing is complete: what was not in it is not there any more. */
  public void endListing() {
    finished = finishedHere;
    finishedHere = null;
    List<String> gone = new ArrayList<>();
    open.forEach(
        (name, one) -> {
          if (one.round < round) {
            gone.add(name);
          }
        });
    gone.forEach(this::gone);
  }

  /**
   * A file is there, and looks like this. Asked at every look, for every file that the pattern
   * picks.
   */
  public void see(FileFacts facts, Now now) {
    String name = facts.name();
    if (!pattern.matches(name) || what.isBesides(name)) {
      return;
    }
    long fingerprint = facts.fingerprint();
    if (finished.contains(fingerprint)) {
      keepFinished(fingerprint);
      return;
    }
    Open one = open.get(name);
    if (one == null) {
      if (open.size() >= MOST_OPEN) {
        overfull = true;
        return;
      }
      one = new Open(facts, now.ticks());
      open.put(name, one);
      remember(name);
    }
    if (!one.facts.isSame(facts)) {
      one.since = now.ticks();
      one.content = null;
      one.reading = false;
    }
    one.facts = facts;
    one.round = round;
    judge(name, one, now);
  }

  private void keepFinished(long fingerprint) {
    if (finishedHere != null) {
      finishedHere.add(fingerprint);
    }
  }

  private void remember(String name) {
    if (!what.companion().isEmpty()) {
      besides.put(what.companionOf(name), name);
    }
    if (!what.checksumFile().isEmpty()) {
      besides.put(what.checksumFileOf(name), name);
    }
  }

  private void forget(String name) {
    open.remove(name);
    if (!what.companion().isEmpty()) {
      besides.remove(what.companionOf(name));
    }
    if (!what.checksumFile().isEmpty()) {
      besides.remove(what.checksumFileOf(name));
    }
  }

  /** A file is not there any more. */
  public void gone(String name) {
    Open one = open.get(name);
    if (one == null) {
      return;
    }
    forget(name);
    if (!one.told.isEmpty()) {
      news.add(finding(one, Finding.State.GONE, "", ""));
    }
  }

  /** The file of which something is told by the news of a name; empty where it is no concern. */
  public Optional<String> concerned(String name) {
    String of = besides.get(name);
    if (of != null) {
      return Optional.of(of);
    }
    return pattern.matches(name) && !what.isBesides(name) ? Optional.of(name) : Optional.empty();
  }

  // ---- when to look again

  /** When to look at some file again, in ticks; empty for not before there is news. */
  public Optional<Long> nextDue() {
    return Optional.ofNullable(due.peek()).map(Due::at);
  }

  /** The files to look at again now. */
  public Set<String> due(long ticks) {
    Set<String> names = new LinkedHashSet<>();
    while (!due.isEmpty() && due.peek().at() <= ticks) {
      String name = due.remove().name();
      if (open.containsKey(name)) {
        names.add(name);
      }
    }
    return names;
  }

  /** Whether files were left out for want of room, so that a listing is due once there is some. */
  public boolean wantsListing() {
    return overfull && open.size() < MOST_OPEN * 9 / 10;
  }

  /** The files whose content is to be read, each once. */
  public List<String> toRead() {
    List<String> names = List.copyOf(toRead);
    toRead.clear();
    return names;
  }

  /**
   * The content of a file was read.
   *
   * @param facts how it looked before and after; where that differs, the reading does not count
   */
  public void read(FileFacts facts, Content content, Now now) {
    Open one = open.get(facts.name());
    if (one != null && one.facts.isSame(facts)) {
      one.content = content;
      one.reading = false;
      judge(facts.name(), one, now);
    }
  }

  /** The content of a file could not be read: it is asked for anew at the next look. */
  public void readAgain(String name) {
    Open one = open.get(name);
    if (one != null) {
      one.reading = false;
    }
  }

  /**
   * How a file that looks like this would be judged, if nothing of it changed: for trials.
   *
   * @param content of it; empty where it was not read
   */
  public Finding judged(FileFacts facts, Optional<Content> content, Now now) {
    Open one = new Open(facts, now.ticks() - TELL_AFTER_MILLIS);
    boolean younger = facts.ownClock() && now.wall() - facts.changed() < what.stillForMillis();
    one.since = now.ticks() - (younger ? 0 : what.stillForMillis());
    one.content = content.orElse(new Content("", "", "", ""));
    judge(facts.name(), one, now);
    due.clear();
    Finding only = news.get(news.size() - 1);
    news.clear();
    return only;
  }

  // ---- judging

  private void judge(String name, Open one, Now now) {
    FileFacts facts = one.facts;
    String never = neverUsed(facts, now);
    if (!never.isEmpty()) {
      boolean odd = facts.oddity() == FileFacts.Oddity.NAME;
      tell(one, odd ? Finding.State.REJECTED : Finding.State.IGNORED, never, "", now);
      return;
    }
    long left = what.stillForMillis() - stillFor(one, now);
    boolean small = facts.size() < what.minimumSize();
    boolean waits = small || !facts.companion();
    if (left > 0) {
      tell(one, Finding.State.SETTLING, "", "", now);
      askToRead(name, one, waits, left);
      due.add(new Due(now.ticks() + left, name));
      return;
    }
    if (waits) {
      tell(one, Finding.State.SEEN, small ? tooSmall(facts) : missing(name), "", now);
      return;
    }
    if (one.content == null) {
      askToRead(name, one, false, 0);
      tell(one, Finding.State.SETTLING, "", "", now);
      return;
    }
    judgeContent(one, now);
  }

  private String neverUsed(FileFacts facts, Now now) {
    if (facts.oddity() == FileFacts.Oddity.LINK_OUT) {
      return "a link that leads out of the directory; links are followed only within it";
    }
    if (facts.oddity() == FileFacts.Oddity.NAME) {
      return Arrival.NAMELESS;
    }
    if (!what.takeExisting() && Math.max(facts.changed(), facts.modified()) < what.since()) {
      return "was there before the watch began";
    }
    long age = now.wall() - facts.modified();
    if (what.oldestMillis() > 0 && age > what.oldestMillis()) {
      return "is older than " + Durations.print(Duration.ofMillis(what.oldestMillis()));
    }
    return "";
  }

  /** Since it was first seen so, or by its own age where one clock tells both. */
  private static long stillFor(Open one, Now now) {
    long watched = now.ticks() - one.since;
    long newest = Math.max(one.facts.modified(), one.facts.changed());
    return one.facts.ownClock() ? Math.max(watched, now.wall() - newest) : watched;
  }

  /** Its content is read in the second half of its rest, to be known when that is over. */
  private void askToRead(String name, Open one, boolean waits, long left) {
    if (waits || one.content != null || one.reading) {
      return;
    }
    long half = what.stillForMillis() / 2;
    if (left <= half) {
      one.reading = true;
      toRead.add(name);
    } else {
      due.add(new Due(one.since + half, name));
    }
  }

  private String tooSmall(FileFacts facts) {
    return facts.size() == 0
        ? "is empty"
        : "has " + facts.size() + " bytes, and should have " + what.minimumSize();
  }

  private String missing(String name) {
    List<String> names = new ArrayList<>();
    if (!what.companion().isEmpty()) {
      names.add(what.companionOf(name));
    }
    if (!what.checksumFile().isEmpty()) {
      names.add(what.checksumFileOf(name));
    }
    return "waits for " + String.join(" and ", names);
  }

  private void judgeContent(Open one, Now now) {
    Content content = one.content;
    boolean cut =
        !what.lastLine().isEmpty()
            && !FilePattern.of(what.lastLine(), true).matches(content.lastLine());
    if (cut) {
      tell(one, Finding.State.SEEN, "its last line is not \"" + what.lastLine() + "\"", "", now);
    } else if (what.checksumFile().isEmpty()) {
      tell(one, Finding.State.READY, "", content.checksum(), now);
    } else if (content.expected().isEmpty()) {
      String file = what.checksumFileOf(one.facts.name());
      tell(one, Finding.State.SEEN, file + " holds no checksum that can be read", "", now);
    } else if (content.expected().equalsIgnoreCase(content.actual())) {
      tell(one, Finding.State.READY, "", content.checksum(), now);
    } else {
      tell(
          one,
          Finding.State.REJECTED,
          "its checksum is " + content.actual() + ", and should be " + content.expected(),
          content.checksum(),
          now);
    }
  }

  // ---- telling

  private void tell(Open one, Finding.State state, String note, String checksum, Now now) {
    boolean ready = state == Finding.State.READY;
    boolean early = state == Finding.State.SETTLING && one.told.isEmpty();
    if (early && now.ticks() - one.first < TELL_AFTER_MILLIS) {
      due.add(new Due(one.first + TELL_AFTER_MILLIS, one.facts.name()));
      return;
    }
    String key = state + note + (ready ? one.facts.fingerprint() : "");
    if (!key.equals(one.told)) {
      one.told = key;
      news.add(finding(one, state, note, checksum));
    }
  }

  private Finding finding(Open one, Finding.State state, String note, String checksum) {
    FileFacts facts = one.facts;
    return new Finding(
        what.watch(),
        what.directory(),
        what.pattern(),
        facts.name(),
        facts.size(),
        facts.modified(),
        facts.key(),
        state,
        note,
        checksum);
  }

  /** What has not been told yet. */
  public List<Finding> news() {
    List<Finding> told = List.copyOf(news);
    news.clear();
    return told;
  }

  /** Whoever was told has forgotten: all is to be told anew. */
  public void tellAgain(Now now) {
    news.clear();
    for (Map.Entry<String, Open> entry : List.copyOf(open.entrySet())) {
      entry.getValue().told = "";
      judge(entry.getKey(), entry.getValue(), now);
    }
  }

  /**
   * A file is done with: only what it looked like is remembered, so that it is not told of again.
   *
   * @param size in bytes
   * @param modified epoch milliseconds of the file system
   * @param key as in {@link FileFacts}
   */
  public void finished(String name, long size, long modified, String key) {
    long fingerprint = FileFacts.fingerprint(name, size, modified, key);
    finished.add(fingerprint);
    keepFinished(fingerprint);
    Open one = open.get(name);
    if (one != null && one.facts.fingerprint() == fingerprint) {
      forget(name);
    }
  }

  /** How many files are not done with. */
  public int size() {
    return open.size();
  }

  /** How many files are there that are done with. */
  public int finished() {
    return finished.size();
  }
}
