package dev.purser.service.plan;

import dev.purser.core.definition.Document;
import dev.purser.core.definition.Stream;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.plan.RunReference;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.problem.Shorten;
import dev.purser.service.Settings;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.board.Turn;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import org.springframework.stereotype.Component;

/**
 * Streams that are paused: their schedules start nothing. What they miss is judged when they go on,
 * by what their schedules say of missed starts.
 */
@Component
public class Pauses {
  /** What is missed is made up for so many days back at the most, windows excepted. */
  static final int MOST_DAYS_BACK = 31;

  private static final int MOST_WINDOW_DAYS_BACK = 3_660;

  /** A window of a business day lasts over the closed days after it: its date is so far back. */
  private static final int LONGEST_WINDOW_DAYS = 20;

  private final Engine engine;
  private final EntityManager rows;
  private final AuditTrail audit;
  private final PlannedRuns planned;
  private final Settings settings;
  private final Clock clock;
  private volatile Map<String, PauseRow> paused;

  Pauses(
      Engine engine,
      EntityManager rows,
      AuditTrail audit,
      PlannedRuns planned,
      Settings settings,
      Clock clock) {
    this.engine = engine;
    this.rows = rows;
    this.audit = audit;
    this.planned = planned;
    this.settings = settings;
    this.clock = clock;
  }

  /** All that are paused, by stream. */
  public Map<String, PauseRow> all() {
    Map<String, PauseRow> known = paused;
    if (known == null) {
      known = new ConcurrentHashMap<>();
      for (PauseRow row : rows.createQuery("from PauseRow", PauseRow.class).getResultList()) {
        known.put(row.stream, row);
      }
      paused = known;
    }
    return known;
  }

  /** Whether a stream is paused on a date, as far as is known now. */
  public boolean isPausedOn(String stream, LocalDate date) {
    PauseRow row = all().get(stream);
    return row != null && (row.until == null || date.isBefore(row.until));
  }

  /** Whether a stream is paused now. */
  public boolean isPaused(String stream) {
    return all().containsKey(stream);
  }

  /**
   * Pauses a stream: what of it has not begun is taken off the plan.
   *
   * @param until the date on which it goes on by itself; empty for when a person says so
   * @throws NotUnderstood where it has no schedule, or the date is not to come
   */
  public void pause(
      String stream, Optional<LocalDate> until, AuditTrail.Actor actor, String reason) {
    engine
        .ask(
            turn -> {
              Stream found = streamOf(turn, stream);
              if (!found.startsByItself()) {
                throw new NotUnderstood(
                    "stream "
                        + stream
                        + " starts by nothing but people; there is nothing to pause");
              }
              if (until.isPresent() && !until.get().isAfter(today())) {
                throw new NotUnderstood(
                    "a stream can be paused until a date to come, not until " + until.get());
              }
              pause(turn, stream, until, actor, reason);
              turn.also(s -> s.insert(audit.entry(actor, "pause", "stream " + stream, reason)));
              return true;
            })
        .join();
  }

  private static Stream streamOf(Turn turn, String path) {
    return turn.definitions().stream(path)
        .orElseThrow(() -> new NotUnderstood("there is no stream \"" + path + "\""));
  }

  private LocalDate today() {
    return LocalDate.ofInstant(clock.instant(), settings.zone());
  }

  private void pause(
      Turn turn, String stream, Optional<LocalDate> until, AuditTrail.Actor actor, String reason) {
    PauseRow row = new PauseRow();
    row.stream = stream;
    row.since =
        Optional.ofNullable(all().get(stream)).map(old -> old.since).orElse(clock.instant());
    row.until = until.orElse(null);
    row.who = actor.name();
    row.reason = Shorten.text(reason, 1_000);
    all().put(stream, row);
    turn.also(session -> session.upsert(row));
    turn.withdraw(planned.notBegun(turn, stream));
  }

  /**
   * Lets a stream go on.
   *
   * @return how many runs were planned, those among them that were missed
   * @throws NotUnderstood where it is not paused
   */
  public int resume(String stream, AuditTrail.Actor actor, String reason) {
    return engine
        .ask(
            turn -> {
              streamOf(turn, stream);
              int count = resume(turn, stream);
              turn.also(s -> s.insert(audit.entry(actor, "resume", "stream " + stream, reason)));
              return count;
            })
        .join();
  }

  private int resume(Turn turn, String stream) {
    PauseRow row = all().remove(stream);
    if (row == null) {
      throw new NotUnderstood("stream " + stream + " is not paused");
    }
    turn.also(session -> session.delete(row));
    Optional<Stream> found = turn.definitions().stream(stream);
    return found.map(one -> planFrom(turn, one, row.since)).orElse(0);
  }

  private int planFrom(Turn turn, Stream stream, Instant since) {
    List<PlannedRun> fresh = dueSince(turn, stream, since, planned.onBoard(turn));
    turn.plan(fresh, turn.now()); // what was missed is judged by the board
    return fresh.size();
  }

  /** All that was and will be due since an instant, up to tomorrow, and is not there yet. */
  List<PlannedRun> dueSince(
      Turn turn,
      Stream stream,
      Instant since,
      Map<String, Map<RunReference, PlannedRuns.There>> there) {
    int mostDays = stream.hasWindows() ? MOST_WINDOW_DAYS_BACK : MOST_DAYS_BACK;
    LocalDate last = today().plusDays(1);
    LocalDate first = LocalDate.ofInstant(since, settings.zone()).minusDays(LONGEST_WINDOW_DAYS);
    LocalDate bounded = first.isBefore(last.minusDays(mostDays)) ? last.minusDays(mostDays) : first;
    List<PlannedRun> runs = new ArrayList<>();
    for (PlannedRun run : new Planner(turn.definitions()).plan(stream, bounded, last)) {
      if (run.due().isAfter(since)) {
        runs.add(run);
      }
    }
    return planned.fresh(turn, stream.path(), runs, there, true);
  }

  /**
   * Does what published files say: a new stream that starts by itself is paused unless they say
   * otherwise; one whose file says something else than before is paused or goes on.
   */
  public void published(
      Turn turn, Document document, Optional<Document> before, AuditTrail.Actor actor) {
    if (!(document.value() instanceof Stream stream) || !stream.startsByItself()) {
      return;
    }
    Optional<Stream> old = before.map(Document::value).map(Stream.class::cast);
    boolean wanted = isPausedAfter(stream, old);
    if (wanted && !isPaused(stream.path())) {
      pause(
          turn,
          stream.path(),
          Optional.empty(),
          actor,
          stream.paused().isPresent() ? "its file says so" : "new: nobody has let it go yet");
    } else if (!wanted && isPaused(stream.path())) {
      resume(turn, stream.path());
    }
  }

  /**
   * Whether a stream is paused once it is published. A new one is unless its file says otherwise;
   * later the file counts only where it says something else than before.
   */
  public boolean isPausedAfter(Stream stream, Optional<Stream> old) {
    boolean isNew = old.filter(Stream::startsByItself).isEmpty();
    boolean said =
        stream.paused().isPresent() && !stream.paused().equals(old.flatMap(Stream::paused));
    return (isNew || said) ? stream.paused().orElse(true) : isPaused(stream.path());
  }

  /** Forgets a stream that is withdrawn. */
  public void withdrawn(Turn turn, String stream) {
    PauseRow row = all().remove(stream);
    if (row != null) {
      turn.also(session -> session.delete(row));
    }
  }

  /** A stream goes by another name: it is paused as it was. */
  public void renamed(Turn turn, String from, String to) {
    PauseRow row = all().remove(from);
    if (row != null) {
      PauseRow moved = new PauseRow();
      moved.stream = to;
      moved.since = row.since;
      moved.until = row.until;
      moved.who = row.who;
      moved.reason = row.reason;
      all().put(to, moved);
      turn.also(session -> session.delete(row));
      turn.also(session -> session.upsert(moved));
    }
  }

  /** Lets those go on whose date has come. */
  void keep() {
    LocalDate today = today();
    for (PauseRow row : List.copyOf(all().values())) {
      if (row.until != null && !row.until.isAfter(today)) {
        resume(
            row.stream,
            new AuditTrail.Actor("purser", "the service itself"),
            "it was paused until " + row.until);
      }
    }
  }

  /** After the board was taken up anew from the records, so is this. */
  void forget() {
    paused = null;
  }
}
