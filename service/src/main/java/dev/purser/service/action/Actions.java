package dev.purser.service.action;

import dev.purser.core.board.Board;
import dev.purser.core.board.BoardEvent;
import dev.purser.core.board.BoardView;
import dev.purser.core.board.Instruction;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Job;
import dev.purser.core.definition.Stream;
import dev.purser.core.forecast.TypicalOutcomes;
import dev.purser.core.forecast.WhatIf;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.problem.Nearest;
import dev.purser.core.run.Action;
import dev.purser.core.run.HoldScope;
import dev.purser.core.run.RunSpec;
import dev.purser.service.Settings;
import dev.purser.service.arrival.ArrivalHistory;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.CapacityChangeRow;
import dev.purser.service.board.Engine;
import dev.purser.service.board.StandingHoldRow;
import dev.purser.service.board.Turn;
import dev.purser.service.history.DurationHistory;
import jakarta.persistence.Entity;
import jakarta.persistence.EntityManager;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;

/** What people do to runs, each with its entry in the audit trail, and what it would do. */
@Component
public class Actions {
  private static final Duration AHEAD = Duration.ofDays(3);

  private final Engine engine;
  private final EntityManager rows;
  private final AuditTrail audit;
  private final DurationHistory history;
  private final ArrivalHistory arrivals;
  private final Settings settings;
  private final Clock clock;

  Actions(
      Engine engine,
      EntityManager rows,
      AuditTrail audit,
      DurationHistory history,
      ArrivalHistory arrivals,
      Settings settings,
      Clock clock) {
    this.engine = engine;
    this.rows = rows;
    this.audit = audit;
    this.history = history;
    this.arrivals = arrivals;
    this.settings = settings;
    this.clock = clock;
  }

  /** An action that makes no sense now; nothing was done. */
  public static final class Refused extends RuntimeException {
    private static final long serialVersionUID = 1L;

    Refused(String reason) {
      super(reason);
    }
  }

  /** Something that a person wants done. */
  public sealed interface Wish {
    /** An action on runs. */
    record OnRuns(List<Long> runs, Action action, long argument) implements Wish {}

    /** To hold a job, stream or department. */
    record Hold(HoldScope scope) implements Wish {}

    /** To let it go on. */
    record Release(HoldScope scope) implements Wish {}

    /**
     * To change how many units a capacity has.
     *
     * @param units -1 for as many as are defined
     */
    record Units(String capacity, int units) implements Wish {}

    /**
     * To start a stream, or a part of it.
     *
     * @param job only this job; empty for all
     * @param andFollowing with it all that follow it
     */
    record Start(
        String stream,
        Optional<String> job,
        boolean andFollowing,
        LocalDate date,
        Map<String, String> parameters)
        implements Wish {
      /** A start with nothing special. */
      public static Start of(String stream, Optional<String> job, LocalDate date) {
        return new Start(stream, job, false, date, Map.of());
      }
    }
  }

  /**
   * What became of one run.
   *
   * @param refusal why nothing was done to it; empty where it was done
   */
  public record Result(long run, String reference, String refusal) {}

  /**
   * Acts on runs, each for itself: what makes no sense for one is done to the others all the same.
   */
  public List<Result> act(Wish.OnRuns wish, AuditTrail.Actor actor, String reason) {
    return engine
        .ask(
            turn -> {
              List<Result> results = new ArrayList<>();
              for (long run : wish.runs()) {
                results.add(act(turn, run, wish, actor, reason));
              }
              return results;
            })
        .join();
  }

  private Result act(Turn turn, long run, Wish.OnRuns wish, AuditTrail.Actor actor, String reason) {
    String reference =
        turn.board().run(run).map(spec -> spec.run().reference().toString()).orElse("run " + run);
    List<Instruction> given =
        turn.apply(
            new BoardEvent.PersonActed(
                turn.now(), run, wish.action(), actor.name(), reason, wish.argument()));
    Optional<String> refusal =
        given.stream()
            .filter(Instruction.Refused.class::isInstance)
            .map(refused -> ((Instruction.Refused) refused).reason())
            .findFirst();
    if (refusal.isEmpty()) {
      String what = wish.action().word() + argument(wish);
      turn.also(session -> session.insert(audit.entry(actor, what, reference, reason)));
    }
    return new Result(run, reference, refusal.orElse(""));
  }

  private static String argument(Wish.OnRuns wish) {
    return switch (wish.action()) {
      case PRIORITY -> " " + wish.argument();
      case START_AT -> " " + Instant.ofEpochMilli(wish.argument());
      default -> "";
    };
  }

  /**
   * Acts on one run.
   *
   * @throws Refused where the action makes no sense for the run as it is now
   */
  public void act(long run, Action action, long argument, AuditTrail.Actor actor, String reason) {
    Result result = act(new Wish.OnRuns(List.of(run), action, argument), actor, reason).get(0);
    if (!result.refusal().isEmpty()) {
      throw new Refused(result.refusal());
    }
  }

  /**
   * Holds a job, stream or department, runs to come among it.
   *
   * @throws IllegalArgumentException where there is none of that name
   * @throws Refused where it is held already
   */
  public void hold(HoldScope scope, AuditTrail.Actor actor, String reason) {
    engine
        .ask(
            turn -> {
              known(turn.definitions(), scope);
              if (turn.board().holds().containsKey(scope)) {
                throw new Refused(
                    "the " + scope + " is already " + turn.board().holds().get(scope));
              }
              StandingHoldRow row = new StandingHoldRow();
              row.kind = scope.kind().word();
              row.name = scope.name();
              row.note = note(actor, reason);
              row.who = actor.name();
              row.since = clock.instant();
              turn.apply(new BoardEvent.HoldPlaced(turn.now(), scope, row.note));
              turn.also(session -> session.insert(row));
              turn.also(s -> s.insert(audit.entry(actor, "hold", scope.toString(), reason)));
              return true;
            })
        .join();
  }

  private static String note(AuditTrail.Actor actor, String reason) {
    String note = "held by " + actor.name() + (reason.isBlank() ? "" : ": " + reason);
    return note.length() > 1_200 ? note.substring(0, 1_200) : note;
  }

  private static void known(Definitions definitions, HoldScope scope) {
    List<String> names =
        switch (scope.kind()) {
          case STREAM ->
              definitions.streamAt(scope.name()).isPresent()
                  ? List.of(scope.name())
                  : definitions.streams().stream().map(Stream::path).toList();
          case JOB ->
              definitions.job(scope.name()).isPresent()
                  ? List.of(scope.name())
                  : definitions.streams().stream()
                      .flatMap(stream -> stream.jobs().stream().map(stream::pathOf))
                      .toList();
          case DEPARTMENT ->
              definitions.streams().stream().map(Stream::department).distinct().toList();
        };
    if (!names.contains(scope.name()) || scope.name().isEmpty()) {
      throw new IllegalArgumentException(
          "there is no "
              + scope.kind().word()
              + " \""
              + scope.name()
              + "\""
              + Nearest.hint(scope.name(), names));
    }
  }

  /**
   * Lets a job, stream or department go on.
   *
   * @throws Refused where it is not held
   */
  public void release(HoldScope scope, AuditTrail.Actor actor, String reason) {
    engine
        .ask(
            turn -> {
              if (!turn.board().holds().containsKey(scope)) {
                throw new Refused("the " + scope + " is not held");
              }
              turn.apply(new BoardEvent.HoldLifted(turn.now(), scope));
              turn.also(
                  session ->
                      session
                          .createMutationQuery(
                              "delete from StandingHoldRow h where h.kind = :kind and h.name ="
                                  + " :name")
                          .setParameter("kind", scope.kind().word())
                          .setParameter("name", scope.name())
                          .executeUpdate());
              turn.also(s -> s.insert(audit.entry(actor, "release", scope.toString(), reason)));
              return true;
            })
        .join();
  }

  /**
   * Changes how many units a capacity has, with effect at once.
   *
   * @throws IllegalArgumentException where there is no such capacity
   */
  public void units(Wish.Units wish, AuditTrail.Actor actor, String reason) {
    engine
        .ask(
            turn -> {
              known(turn.definitions(), wish);
              turn.apply(new BoardEvent.CapacitySet(turn.now(), wish.capacity(), wish.units()));
              CapacityChangeRow row = new CapacityChangeRow();
              row.capacity = wish.capacity();
              row.units = wish.units();
              row.who = actor.name();
              row.since = clock.instant();
              row.reason = reason.length() > 1_000 ? reason.substring(0, 1_000) : reason;
              turn.also(session -> write(session, row));
              String units = wish.units() < 0 ? "as defined" : wish.units() + " units";
              turn.also(
                  s -> s.insert(audit.entry(actor, units, "capacity " + wish.capacity(), reason)));
              return true;
            })
        .join();
  }

  private static void write(org.hibernate.StatelessSession session, CapacityChangeRow row) {
    session
        .createMutationQuery("delete from CapacityChangeRow c where c.capacity = :name")
        .setParameter("name", row.capacity)
        .executeUpdate();
    if (row.units >= 0) {
      session.insert(row);
    }
  }

  private static void known(Definitions definitions, Wish.Units wish) {
    List<String> names = definitions.capacities().stream().map(one -> one.name()).toList();
    if (!names.contains(wish.capacity())) {
      throw new IllegalArgumentException(
          "there is no capacity \""
              + wish.capacity()
              + "\""
              + Nearest.hint(wish.capacity(), names));
    }
    if (wish.units() > 1_000_000) {
      throw new IllegalArgumentException("a capacity has at most 1000000 units");
    }
  }

  /**
   * Starts a stream, or a part of it, by hand.
   *
   * @param key the same key starts the same runs only once
   * @return the ids of the runs
   * @throws IllegalArgumentException where there is no such stream or job, or a parameter has no
   *     value
   */
  public List<Long> start(
      Wish.Start wish, Optional<String> key, AuditTrail.Actor actor, String reason) {
    return engine.ask(turn -> start(turn, wish, key, actor, reason)).join();
  }

  private List<Long> start(
      Turn turn, Wish.Start wish, Optional<String> key, AuditTrail.Actor actor, String reason) {
    Optional<StartKeyRow> before =
        key.map(k -> rows.find(StartKeyRow.class, actor.name() + " " + k));
    if (before.isPresent()) {
      return Arrays.stream(before.get().runs.split(",")).map(Long::valueOf).toList();
    }
    List<PlannedRun> runs =
        byHand(turn.definitions(), turn.board(), wish, Instant.ofEpochMilli(turn.now()));
    List<Long> ids = turn.plan(runs);
    String what = wish.stream() + wish.job().map(n -> "/" + n).orElse("") + "@" + wish.date();
    String about =
        what
            + (wish.andFollowing() ? " and what follows" : "")
            + (wish.parameters().isEmpty() ? "" : " with " + wish.parameters());
    turn.also(
        session -> {
          session.insert(audit.entry(actor, "start", about, reason));
          key.ifPresent(k -> session.insert(keyRow(actor.name() + " " + k, ids)));
        });
    return ids;
  }

  private List<PlannedRun> byHand(
      Definitions definitions, BoardView board, Wish.Start wish, Instant at) {
    Stream stream =
        definitions.stream(wish.stream())
            .orElseThrow(() -> new IllegalArgumentException(noStream(definitions, wish.stream())));
    Optional<Job> job =
        wish.job()
            .map(
                name ->
                    stream
                        .job(name)
                        .orElseThrow(
                            () ->
                                new IllegalArgumentException(
                                    "stream "
                                        + wish.stream()
                                        + " has no job \""
                                        + name
                                        + "\""
                                        + Nearest.hint(
                                            name,
                                            stream.jobs().stream().map(Job::name).toList()))));
    Planner planner = new Planner(definitions);
    // Windows are known by their number: a start by hand must not take that of one to come.
    int least =
        stream.hasWindows() ? planner.starts(stream, wish.date(), wish.date()).size() + 1 : 1;
    return planner.byHand(
        stream,
        new Planner.ByHand(
            job,
            wish.andFollowing(),
            wish.parameters(),
            wish.date(),
            Math.max(least, nextNumber(board, wish.stream(), wish.date())),
            at,
            settings.zone()));
  }

  private static String noStream(Definitions definitions, String path) {
    return definitions.streamAt(path).isPresent()
        ? path
            + " runs as a step of another stream; start that one, or the step's own stream by its"
            + " name"
        : "there is no stream \""
            + path
            + "\""
            + Nearest.hint(path, definitions.streams().stream().map(Stream::path).toList());
  }

  private int nextNumber(BoardView board, String stream, LocalDate date) {
    Integer recorded =
        rows.createQuery(
                "select max(r.number) from RunRow r where r.stream = :stream"
                    + " and r.businessDate = :date",
                Integer.class)
            .setParameter("stream", stream)
            .setParameter("date", date)
            .getSingleResult();
    int onBoard =
        board.runs().stream()
            .map(run -> run.run().reference())
            .filter(run -> run.stream().equals(stream) && run.date().equals(date))
            .mapToInt(run -> run.number())
            .max()
            .orElse(0);
    return Math.max(recorded == null ? 0 : recorded, onBoard) + 1;
  }

  /**
   * What a wish would do, without doing it.
   *
   * @throws IllegalArgumentException where it cannot be understood
   */
  public WhatIf.Effect whatIf(Wish wish, String who) {
    Board copy = engine.look(Board::new);
    long now = Math.max(copy.now(), clock.millis());
    List<BoardEvent> change = new ArrayList<>();
    if (wish instanceof Wish.OnRuns on) {
      for (long run : on.runs()) {
        change.add(new BoardEvent.PersonActed(now, run, on.action(), who, "", on.argument()));
      }
    } else if (wish instanceof Wish.Hold hold) {
      known(engine.definitions(), hold.scope());
      change.add(new BoardEvent.HoldPlaced(now, hold.scope(), "held by " + who));
    } else if (wish instanceof Wish.Release release) {
      change.add(new BoardEvent.HoldLifted(now, release.scope()));
    } else if (wish instanceof Wish.Units units) {
      known(engine.definitions(), units);
      change.add(new BoardEvent.CapacitySet(now, units.capacity(), units.units()));
    } else if (wish instanceof Wish.Start start) {
      List<RunSpec> specs = new ArrayList<>();
      for (PlannedRun run : byHand(engine.definitions(), copy, start, Instant.ofEpochMilli(now))) {
        specs.add(new RunSpec(-1L - specs.size(), run, 0));
      }
      change.add(new BoardEvent.RunsPlanned(now, specs));
    }
    TypicalOutcomes typical =
        new TypicalOutcomes(
            history.durations(), arrivals.times(engine.definitions()), history.values());
    return WhatIf.of(copy, typical, change, now + AHEAD.toMillis());
  }

  private StartKeyRow keyRow(String key, List<Long> ids) {
    StartKeyRow row = new StartKeyRow();
    row.startKey = key;
    row.runs = ids.stream().map(String::valueOf).collect(Collectors.joining(","));
    row.at = clock.instant();
    return row;
  }

  /** What a start by hand made, so that the same request makes it once. */
  @Entity
  @Table(name = "start_key")
  static class StartKeyRow {
    @Id String startKey;

    @org.hibernate.annotations.JdbcTypeCode(org.hibernate.type.SqlTypes.LONGVARCHAR)
    @jakarta.persistence.Column(columnDefinition = "mediumtext")
    String runs;

    Instant at;
  }
}
