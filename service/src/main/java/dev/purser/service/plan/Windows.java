package dev.purser.service.plan;

import dev.purser.core.definition.Stream;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.run.RunState;
import dev.purser.service.Settings;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.board.Turn;
import dev.purser.service.run.RunRecords;
import dev.purser.service.run.RunRow;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.springframework.stereotype.Component;

/** The windows of streams that cut time: which are done, and how earlier ones are filled in. */
@Component
public class Windows {
  private static final int MOST_RUNS = 20_000;

  private static final int MOST_YEARS_BACK = 10;

  private final Engine engine;
  private final RunRecords runs;
  private final PlannedRuns planned;
  private final AuditTrail audit;
  private final Settings settings;
  private final Clock clock;

  Windows(
      Engine engine,
      RunRecords runs,
      PlannedRuns planned,
      AuditTrail audit,
      Settings settings,
      Clock clock) {
    this.engine = engine;
    this.runs = runs;
    this.planned = planned;
    this.audit = audit;
    this.settings = settings;
    this.clock = clock;
  }

  /**
   * A window and how it stands.
   *
   * @param state {@code done}, {@code open} or {@code failed}
   */
  public record Standing(
      LocalDate date, int number, Instant start, Instant end, String state, List<RunRow> runs) {}

  /**
   * The windows of a stream, newest first.
   *
   * @param most how many windows
   */
  public List<Standing> of(String stream, int most) {
    Map<String, List<RunRow>> byWindow = new LinkedHashMap<>();
    int jobs = engine.definitions().stream(stream).map(found -> found.jobs().size()).orElse(1);
    for (RunRow row : runs.windows(stream, most * jobs)) {
      byWindow
          .computeIfAbsent(row.businessDate + "#" + row.number, k -> new ArrayList<>())
          .add(row);
    }
    return byWindow.values().stream().limit(most).map(Windows::standing).toList();
  }

  private static Standing standing(List<RunRow> rows) {
    RunRow first = rows.get(0);
    boolean failed = rows.stream().anyMatch(row -> row.state.equals(RunState.FAILED.word()));
    boolean done =
        rows.stream().allMatch(row -> RunState.of(row.state).orElseThrow().isEnded()) && !failed;
    return new Standing(
        first.businessDate,
        first.number,
        first.windowStart,
        first.windowEnd,
        failed ? "failed" : done ? "done" : "open",
        rows);
  }

  /**
   * Plans the windows from a date on that are not on record, up to now.
   *
   * @return how many windows were added
   * @throws NotUnderstood where the stream has no windows, or the date cannot be
   */
  public int fill(String path, LocalDate from, AuditTrail.Actor actor, String reason) {
    return engine.ask(turn -> fill(turn, path, from, actor, reason)).join();
  }

  private int fill(Turn turn, String path, LocalDate from, AuditTrail.Actor actor, String reason) {
    Stream stream =
        turn.definitions().stream(path)
            .orElseThrow(() -> new NotUnderstood("there is no stream \"" + path + "\""));
    if (!stream.hasWindows()) {
      throw new NotUnderstood(
          "stream " + path + " has no windows; its schedule is " + stream.schedule());
    }
    LocalDate today = LocalDate.ofInstant(clock.instant(), settings.zone());
    LocalDate begins = stream.schedule().get(0).from().orElse(LocalDate.MIN);
    if (from.isAfter(today) || from.isBefore(begins)) {
      throw new NotUnderstood(
          from.isAfter(today)
              ? "windows are filled in back to a date that is past, not " + from
              : "the schedule of " + path + " begins on " + begins + "; " + from + " is before it");
    }
    if (from.isBefore(today.minusYears(MOST_YEARS_BACK))) {
      throw new NotUnderstood(
          "windows are filled in for at most "
              + MOST_YEARS_BACK
              + " years back at once: take "
              + today.minusYears(MOST_YEARS_BACK)
              + " or a later date");
    }
    List<PlannedRun> due = new ArrayList<>();
    for (PlannedRun run : new Planner(turn.definitions()).plan(stream, from, today)) {
      if (run.due().toEpochMilli() <= turn.now()) {
        due.add(run);
      }
    }
    List<PlannedRun> fresh = planned.fresh(turn, path, due, planned.onBoard(turn), true);
    if (fresh.size() > MOST_RUNS) {
      throw new NotUnderstood(
          "that would be "
              + fresh.size()
              + " runs; at most "
              + MOST_RUNS
              + " are filled in at once: take a later date first");
    }
    turn.plan(fresh, turn.now());
    turn.also(
        session ->
            session.insert(
                audit.entry(actor, "fill windows", "stream " + path + " from " + from, reason)));
    return (int)
        fresh.stream()
            .map(run -> run.reference().date() + "#" + run.reference().number())
            .distinct()
            .count();
  }
}
