package dev.purser.service.action;

import dev.purser.core.board.Board;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.forecast.WhatIf;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.run.Action;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunStatus;
import dev.purser.service.alert.AlertWriter;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.board.Turn;
import dev.purser.service.masking.SecretMask;
import dev.purser.service.outlook.OutlookKeeper;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.BiConsumer;
import org.springframework.stereotype.Component;

/** What people do, each with its entry in the audit trail, and what it would do. */
@Component
public class Actions {
  private static final Duration AHEAD = Duration.ofDays(3);

  /** As whom rules of alerts act. */
  public static final String RULE = "rule";

  private final Engine engine;
  private final AuditTrail audit;
  private final Starts starts;
  private final SecretMask mask;
  private final OutlookKeeper outlooks;
  private final AlertWriter alerts;
  private final Clock clock;

  Actions(
      Engine engine,
      AuditTrail audit,
      Starts starts,
      OutlookKeeper outlooks,
      AlertWriter alerts,
      SecretMask mask,
      Clock clock) {
    this.mask = mask;
    this.alerts = alerts;
    this.engine = engine;
    this.audit = audit;
    this.starts = starts;
    this.outlooks = outlooks;
    this.clock = clock;
  }

  /**
   * What became of one run.
   *
   * @param refusal why nothing was done to it; empty where it was done
   */
  public record Result(long run, String reference, String refusal) {}

  /**
   * Does something.
   *
   * @throws dev.purser.core.problem.NotUnderstood where it names what is not there
   * @throws Refused where it makes no sense now
   */
  public void act(Wish wish, AuditTrail.Actor actor, String reason) {
    engine
        .ask(
            turn -> {
              Asked asked = asked(turn, actor, reason);
              wish.check(asked);
              wish.carryOut(asked, turn);
              note(turn, asked, wish.action(), wish.about());
              return true;
            })
        .join();
  }

  private Asked asked(Turn turn, AuditTrail.Actor actor, String reason) {
    return new Asked(turn.board(), turn.definitions(), turn.now(), actor, mask.of(reason));
  }

  private void note(Turn turn, Asked asked, String action, String about) {
    turn.also(session -> session.insert(audit.entry(asked.actor(), action, about, asked.reason())));
  }

  /**
   * Acts on runs, each for itself, and says what became of each, in the same order. One that is
   * refused keeps back no other. All are acted on in one turn of the engine.
   *
   * @param reason for people and the audit trail; may be empty
   */
  public List<Result> act(OnRuns wish, AuditTrail.Actor actor, String reason) {
    return act(wish, actor, reason, (turn, done) -> {});
  }

  /**
   * The same, and with it, in one transaction, whatever must be on record if and only if it was
   * done.
   *
   * @param also is told those that were acted on, by their references; not where there are none
   */
  public List<Result> act(
      OnRuns wish, AuditTrail.Actor actor, String reason, BiConsumer<Turn, List<String>> also) {
    return engine
        .ask(
            turn -> {
              Asked asked = asked(turn, actor, reason);
              List<Result> results = new ArrayList<>();
              for (long run : wish.runs()) {
                OnRuns one = new OnRuns(List.of(run), wish.what(), wish.argument());
                results.add(actOnOne(run, one, asked, turn));
              }
              List<String> done =
                  results.stream()
                      .filter(result -> result.refusal().isEmpty())
                      .map(Result::reference)
                      .toList();
              if (!done.isEmpty()) {
                also.accept(turn, done);
              }
              return results;
            })
        .join();
  }

  private Result actOnOne(long run, OnRuns wish, Asked asked, Turn turn) {
    String reference =
        turn.board().run(run).map(spec -> spec.run().reference().toString()).orElse("run " + run);
    String refusal =
        wish.carryOut(asked, turn).stream()
            .filter(Instruction.Refused.class::isInstance)
            .map(refused -> ((Instruction.Refused) refused).reason())
            .findFirst()
            .orElse("");
    if (refusal.isEmpty()) {
      note(turn, asked, wish.action(), reference);
      tell(run, wish, asked, turn);
    }
    return new Result(run, reference, refusal);
  }

  /** Whoever asks for it is told, by rules of kind acted-on. */
  private void tell(long run, OnRuns wish, Asked asked, Turn turn) {
    Optional<RunSpec> spec = turn.board().run(run);
    Optional<RunStatus> status = turn.board().status(run);
    if (spec.isPresent()
        && status.isPresent()
        && !asked.actor().name().equals(RULE)
        && turn.definitions().alertRules().isAnyByRuleOnly()) {
      String reason = asked.reason().isEmpty() ? "" : ", because: " + asked.reason();
      String text = "acted on by " + asked.actor().name() + ": " + wish.action() + reason;
      turn.also(
          session ->
              alerts.actedOn(
                  spec.get(), status.get(), text, turn.definitions(), turn.now(), session));
    }
  }

  /**
   * Acts on one run.
   *
   * @throws Refused where the action makes no sense for the run as it is now
   */
  public void act(long run, Action action, long argument, AuditTrail.Actor actor, String reason) {
    Result result = act(new OnRuns(List.of(run), action, argument), actor, reason).get(0);
    if (!result.refusal().isEmpty()) {
      throw new Refused(result.refusal());
    }
  }

  /**
   * Starts a stream, or a part of it, by hand.
   *
   * @param key the same key starts the same runs only once
   * @return the ids of the runs
   * @throws dev.purser.core.problem.NotUnderstood where there is no such stream or job, or a
   *     parameter has no value
   */
  public List<Long> start(Start wish, Optional<String> key, AuditTrail.Actor actor, String reason) {
    return start(wish, key, actor, reason, (turn, runs) -> {});
  }

  /**
   * The same, and with it, in one transaction, whatever must be on record if and only if it was
   * started.
   *
   * @param also is told the ids of the runs
   */
  public List<Long> start(
      Start wish,
      Optional<String> key,
      AuditTrail.Actor actor,
      String reason,
      BiConsumer<Turn, List<Long>> also) {
    refuseSecrets(wish.parameters());
    return engine
        .ask(
            turn -> {
              List<Long> runs = starts.carryOut(wish, key, asked(turn, actor, reason), turn);
              also.accept(turn, runs);
              return runs;
            })
        .join();
  }

  /** A value that is kept with the run, and shown, must not be one that nobody may see. */
  private void refuseSecrets(Map<String, String> values) {
    values.forEach(
        (name, value) -> {
          if (!mask.of(value).equals(value)) {
            throw new NotUnderstood(
                "the value of "
                    + name
                    + " holds a secret that the service keeps, and would stand in the records; give"
                    + " it to the job as a secret instead");
          }
        });
  }

  // ---- looking ahead

  /**
   * What a wish would do, without doing it.
   *
   * @throws dev.purser.core.problem.NotUnderstood where it names what is not there
   * @throws Refused where it makes no sense now
   */
  public WhatIf.Effect whatIf(Wish wish, AuditTrail.Actor actor) {
    Board copy = outlooks.board();
    Asked asked = asked(copy, actor);
    wish.check(asked);
    return whatIf(copy, wish.events(asked), asked.now());
  }

  /**
   * What a start by hand would do, without doing it: the board is played on twice, with it and
   * without.
   */
  public WhatIf.Effect whatIf(Start wish, AuditTrail.Actor actor) {
    Board copy = outlooks.board();
    Asked asked = asked(copy, actor);
    return whatIf(copy, starts.events(wish, asked), asked.now());
  }

  private Asked asked(Board copy, AuditTrail.Actor actor) {
    long now = Math.max(copy.now(), clock.millis());
    return new Asked(copy, engine.definitions(), now, actor, "");
  }

  private WhatIf.Effect whatIf(Board copy, List<BoardEvent> change, long now) {
    return WhatIf.of(copy, outlooks.outcomes(copy).typical(), change, now + AHEAD.toMillis());
  }
}
