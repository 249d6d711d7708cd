package dev.purser.service.outlook;

import dev.purser.core.board.Board;
import dev.purser.core.board.Scarcity;
import dev.purser.core.commitment.Promised;
import dev.purser.core.commitment.Promises;
import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.forecast.Outlook;
import dev.purser.core.forecast.PromiseOutlook;
import dev.purser.core.forecast.RunOutlook;
import dev.purser.core.history.PastRun;
import dev.purser.core.learning.LearnedOutcomes;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.plan.RunReference;
import dev.purser.core.run.RunSpec;
import dev.purser.service.board.Engine;
import dev.purser.service.history.DurationHistory;
import dev.purser.service.history.PastRuns;
import dev.purser.service.plan.Pauses;
import dev.purser.service.plan.PlanKeeper;
import java.time.Clock;
import java.time.Duration;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.BiFunction;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.context.event.EventListener;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/** Keeps an outlook of what is on the board, and makes one of further days when asked. */
@Component
public class OutlookKeeper {
  private static final Logger LOG = LoggerFactory.getLogger(OutlookKeeper.class);
  private static final int SAMPLES = 200;

  /** The board is played as often as that makes so many runs, but not oftener than is of use. */
  private static final long RUNS_PLAYED = 4_000_000;

  private static final int FEWEST = 5;

  /** Beyond this even what bears on promises is not played oftener than the rest by far. */
  private static final int LARGE = 200_000;

  private static final int BEARING_OF_LARGE = 5;

  /** So many runs are played at the most to bring some promises up to date. */
  private static final int MOST_AT_ONCE = 5_000;

  /** A small board takes long only while the program has just begun: it is not left for long. */
  private static final int SMALL = 2_000;

  private static final long LONGEST_OF_SMALL = 15_000;

  private static final long SEED = 20_270_304;
  private final Engine engine;
  private final PlanKeeper plan;
  private final Pauses pauses;
  private final DurationHistory history;
  private final Known known;
  private final PastRuns past;
  private final UsualEnding usual;
  private final List<ExpectedHosts> expected;
  private final ApplicationEventPublisher events;
  private final Clock clock;
  private volatile Map<Long, RunOutlook> current = Map.of();
  private volatile List<PromiseOutlook> promises = List.of();
  private Promises promising;
  private Definitions promisingOf;
  private Map<String, Duration> promisingUsual = Map.of();
  private final Map<String, Sooner<PromiseOutlook>> soonerPromises = new HashMap<>();
  private final Map<Long, Sooner<RunOutlook>> soonerRuns = new HashMap<>();
  private volatile Scarcity scarcity = new Scarcity();
  private volatile boolean stale = true;
  private volatile long next;

  /** What was brought up to date from a copy of the board of some time, epoch milliseconds. */
  private record Sooner<T>(long at, T outlook) {
    static <K, T> T newest(Map<K, Sooner<T>> sooner, K key, long at, T played) {
      Sooner<T> other = sooner.get(key);
      return other != null && other.at() > at ? other.outlook() : played;
    }

    /** Remembers what was played, unless something newer is there; gives what is newest. */
    static <K, T> T keep(Map<K, Sooner<T>> sooner, K key, long at, T played) {
      T newest = newest(sooner, key, at, played);
      if (newest == played) { // compared by identity
        sooner.put(key, new Sooner<>(at, played));
      }
      return newest;
    }
  }

  /** An outlook has been made. */
  public record Kept(List<PromiseOutlook> promises) {}

  OutlookKeeper(
      Engine engine,
      PlanKeeper plan,
      Pauses pauses,
      DurationHistory history,
      Known known,
      PastRuns past,
      UsualEnding usual,
      List<ExpectedHosts> expected,
      ApplicationEventPublisher events,
      Clock clock) {
    this.engine = engine;
    this.plan = plan;
    this.pauses = pauses;
    this.history = history;
    this.known = known;
    this.past = past;
    this.usual = usual;
    this.expected = expected;
    this.events = events;
    this.clock = clock;
  }

  /** The outlook of every open run on the board, by id, as of a few seconds ago at the most. */
  public Map<Long, RunOutlook> current() {
    return current;
  }

  /** What is promised of the dates on the board and how it stands, as of a few seconds ago. */
  public List<PromiseOutlook> promises() {
    return promises;
  }

  @EventListener
  void committed(Engine.Committed committed) {
    stale = true;
  }

  /** What is known of durations is put on record, now and then. */
  @Scheduled(fixedDelayString = "PT10M", initialDelayString = "PT2M")
  void keepHistory() {
    if (engine.isActive()) {
      history.keep();
    }
  }

  /**
   * Plays anew when something has changed, or time has moved on, but not more often than it costs.
   */
  @Scheduled(fixedDelay = 1_000)
  void keep() {
    long now = clock.millis();
    if (!engine.isActive() || now < next || (!stale && now < next + 15_000)) {
      return;
    }
    stale = false;
    try {
      Board copy = board();
      Map<Long, RunOutlook> fresh = new HashMap<>();
      Outlook.Result result = play(copy, List.of(), promised(copy), Duration.ofDays(2));
      List<PromiseOutlook> newest = new ArrayList<>();
      synchronized (this) {
        for (RunOutlook outlook : result.runs()) {
          long id = outlook.run().id();
          fresh.put(id, Sooner.newest(soonerRuns, id, now, outlook));
        }
        for (PromiseOutlook outlook : result.promises()) {
          String reference = outlook.promised().reference();
          newest.add(Sooner.newest(soonerPromises, reference, now, outlook));
        }
        soonerRuns.values().removeIf(one -> one.at() <= now);
        soonerPromises.values().removeIf(one -> one.at() <= now);
        current = fresh;
        promises = newest;
        scarcity = result.scarcity();
      }
      events.publishEvent(new Kept(newest));
      long cost = clock.millis() - now;
      long pause = Math.max(2_000, cost * 8);
      next = clock.millis() + (copy.size() < SMALL ? Math.min(pause, LONGEST_OF_SMALL) : pause);
    } catch (RuntimeException e) {
      LOG.warn("cannot make an outlook: {}", e.toString());
      next = clock.millis() + 10_000;
    }
  }

  /**
   * A copy of the board from which to look ahead: hosts that are away for a moment only count as
   * there.
   */
  public Board board() {
    Board copy = engine.look(Board::new);
    long now = copy.now(); // what falls due is decided in the plays
    for (ExpectedHosts some : expected) {
      some.expected().stream()
          .filter(host -> !copy.isUp(host))
          .forEach(host -> copy.apply(new BoardEvent.HostSeen(now, host, Set.of())));
    }
    return copy;
  }

  /** The outlook of all runs of some days from a date on, whether they are on the board or not. */
  public List<RunOutlook> days(LocalDate from, int days) {
    Board copy = board();
    Set<RunReference> there = new HashSet<>();
    copy.runs().forEach(run -> there.add(run.run().reference()));
    Planner planner = new Planner(engine.definitions());
    List<RunSpec> more = new ArrayList<>();
    long id = -1;
    for (int i = 0; i < days; i++) {
      LocalDate date = from.plusDays(i);
      if (date.isAfter(plan.today().plusDays(1))) {
        for (PlannedRun run : planner.plan(date)) {
          boolean paused = isPaused(run, planner);
          if (!paused && !there.contains(run.reference())) {
            more.add(new RunSpec(id--, run, 0));
          }
        }
      }
    }
    return play(copy, more, List.of(), Duration.ofDays(days + 3L)).runs().stream()
        .filter(outlook -> isBetween(outlook.run().run().reference().date(), from, days))
        .toList();
  }

  private boolean isPaused(PlannedRun run, Planner planner) {
    return planner
        .definitions()
        .topOf(run.reference().stream())
        .filter(stream -> pauses.all().containsKey(stream.path()))
        .isPresent();
  }

  private static boolean isBetween(LocalDate date, LocalDate from, int days) {
    return !date.isBefore(from) && date.isBefore(from.plusDays(days));
  }

  /** What is promised of the dates that have runs on a board. */
  private List<Promised> promised(Board board) {
    Definitions definitions = engine.definitions();
    if (definitions.commitments().isEmpty()) {
      return List.of();
    }
    Promises known = promising(definitions);
    Map<LocalDate, List<PlannedRun>> byDate = new TreeMap<>();
    for (RunSpec run : board.runs()) {
      byDate.computeIfAbsent(run.run().reference().date(), any -> new ArrayList<>()).add(run.run());
    }
    List<Promised> all = new ArrayList<>();
    byDate.forEach((date, runs) -> all.addAll(known.of(date, runs)));
    return all;
  }

  /** The promises of definitions, with what is usual of them. */
  public synchronized Promises promising(Definitions definitions) {
    Map<String, Duration> now = usual.of(definitions);
    if (promising == null || promisingOf != definitions || !promisingUsual.equals(now)) {
      promising = new Promises(definitions, now);
      promisingOf = definitions;
      promisingUsual = now;
    }
    return promising;
  }

  private Outlook.Result play(
      Board board, List<RunSpec> more, List<Promised> promised, Duration ahead) {
    return new Outlook(board, outcomes(board), SEED, Threads.butOne())
        .play(
            more, promised, samples(board.size() + more.size()), clock.millis() + ahead.toMillis());
  }

  /** How often boards of a size are played. */
  static Outlook.Samples samples(int runs) {
    int all = (int) Math.max(FEWEST, Math.min(SAMPLES, RUNS_PLAYED / (runs + 1L)));
    int bearing = runs <= LARGE ? SAMPLES : Math.max(all, BEARING_OF_LARGE * all);
    return new Outlook.Samples(all, bearing);
  }

  /**
   * A promise as of now, for who looks closely at it: what bears on it is played again, and nothing
   * is kept of that. As it was where that is too much.
   */
  public PromiseOutlook renewed(PromiseOutlook known) {
    return play(board(), List.of(known.promised()), scarcity)
        .flatMap(result -> result.promises().stream().findFirst())
        .orElse(known);
  }

  /** What bears on some promises, played; empty where that is too much. */
  private Optional<Outlook.Result> play(Board copy, List<Promised> some, Scarcity known) {
    Outlook outlook = new Outlook(copy, outcomes(copy), SEED, Threads.butOne());
    return outlook.bearingOn(some, known).size() > MOST_AT_ONCE
        ? Optional.empty()
        : Optional.of(
            outlook.playOnly(
                some, known, samples(0), clock.millis() + Duration.ofDays(2).toMillis()));
  }

  /**
   * Brings up to date what some promises rest on, while the rest stays as it was last played.
   *
   * @param touched is told the board and the promises, and says for which of them
   */
  void bringUpToDate(BiFunction<Board, List<PromiseOutlook>, List<Promised>> touched) {
    long at = clock.millis();
    Board copy = board();
    Scarcity known = scarcity;
    List<Promised> some = touched.apply(copy, promises);
    if (some.isEmpty()) {
      return;
    }
    play(copy, some, known)
        .ifPresent(result -> take(result, at)); // else the next of all is as quick
  }

  private void take(Outlook.Result result, long at) {
    List<PromiseOutlook> all;
    synchronized (this) {
      Map<String, PromiseOutlook> fresh = new HashMap<>();
      for (PromiseOutlook one : result.promises()) {
        String name = one.promised().reference();
        fresh.put(name, Sooner.keep(soonerPromises, name, at, one));
      }
      all =
          promises.stream()
              .map(one -> fresh.getOrDefault(one.promised().reference(), one))
              .toList();
      Map<Long, RunOutlook> runs = new HashMap<>(current);
      for (RunOutlook run : result.runs()) {
        long id = run.run().id();
        runs.put(id, Sooner.keep(soonerRuns, id, at, run));
      }
      promises = all;
      current = runs;
    }
    events.publishEvent(new Kept(all));
  }

  /** How all goes on from a board, as it is learned from the past and from what today has shown. */
  public LearnedOutcomes outcomes(Board board) {
    LocalDate today = plan.today();
    List<PastRun> soFar = new ArrayList<>();
    for (RunSpec run : board.runs()) {
      if (run.run().reference().date().equals(today) && !run.run().job().isStep()) {
        board.status(run.id()).flatMap(status -> SoFar.of(run, status)).ifPresent(soFar::add);
      }
    }
    return LearnedOutcomes.of(
        past.learned(engine.definitions(), today), known.now(), today, soFar, board.now(), true);
  }
}
