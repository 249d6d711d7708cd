package dev.purser.service.telling;

import dev.purser.core.alert.AlertAct;
import dev.purser.core.alert.AlertKind;
import dev.purser.core.board.BoardView;
import dev.purser.core.plan.RunReference;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.problem.Shorten;
import dev.purser.core.run.Action;
import dev.purser.core.run.RunSpec;
import dev.purser.service.action.Actions;
import dev.purser.service.action.OnRuns;
import dev.purser.service.action.Refused;
import dev.purser.service.action.Start;
import dev.purser.service.active.Active;
import dev.purser.service.alert.AlertActRow;
import dev.purser.service.alert.AlertRow;
import dev.purser.service.alert.AlertStepRow;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.live.Live;
import dev.purser.service.plan.PlanKeeper;
import jakarta.persistence.EntityManager;
import jakarta.persistence.LockModeType;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletionException;
import java.util.function.Function;
import org.hibernate.StatelessSession;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Does what rules of alerts ask for, each with its entry in the audit trail. What is done and that
 * it is done are one transaction: a crash does nothing twice, and counts nothing too little.
 */
@Component
public class RuleActs {
  private static final Logger LOG = LoggerFactory.getLogger(RuleActs.class);
  private static final int MOST = 50;
  private static final Duration AGAIN_AFTER = Duration.ofSeconds(30);

  private final EntityManager rows;
  private final TransactionTemplate transactions;
  private final Engine engine;
  private final PlanKeeper plan;
  private final Actions actions;
  private final Active service;
  private final Live live;
  private final Clock clock;

  RuleActs(
      EntityManager rows,
      TransactionTemplate transactions,
      Engine engine,
      PlanKeeper plan,
      Actions actions,
      Active service,
      Live live,
      Clock clock) {
    this.rows = rows;
    this.transactions = transactions;
    this.engine = engine;
    this.plan = plan;
    this.actions = actions;
    this.service = service;
    this.live = live;
    this.clock = clock;
  }

  /** An act that is not done, with its reason. */
  private static final class Not extends RuntimeException {
    private static final long serialVersionUID = 1L;

    Not(String why) {
      super(why);
    }
  }

  /** Does what is due; one at a time, whoever asks. */
  @Scheduled(fixedDelay = 1_000, initialDelay = 3_000)
  public synchronized void look() {
    if (!service.isActive()) {
      return;
    }
    List<AlertActRow> due =
        transactions.execute(
            any ->
                rows.createQuery(
                        "from AlertActRow a where a.state = 'due' and a.due <= :now order by a.id",
                        AlertActRow.class)
                    .setParameter("now", clock.instant())
                    .setMaxResults(MOST)
                    .getResultList());
    for (AlertActRow row : due) {
      if (service.isSure()) {
        carryOut(row);
      }
    }
    if (!due.isEmpty()) {
      live.alertsChanged();
    }
  }

  private void carryOut(AlertActRow row) {
    AlertAct act = row.act();
    AlertRow alert = transactions.execute(any -> rows.find(AlertRow.class, row.alert));
    try {
      if (alert == null) {
        throw new Not("the alert is not on record any more");
      }
      allow(row, act, alert);
      carryOut(row, act, alert);
    } catch (Not | Refused | NotUnderstood e) {
      refuse(row, alert, e.getMessage());
    } catch (CompletionException e) {
      if (e.getCause() instanceof Refused || e.getCause() instanceof NotUnderstood) {
        refuse(row, alert, e.getCause().getMessage());
      } else {
        later(row, e);
      }
    } catch (RuntimeException e) {
      later(row, e);
    }
  }

  /** What went wrong is not the rule's fault: the engine is slow, or the database away. */
  private void later(AlertActRow row, RuntimeException why) {
    LOG.warn("cannot do what a rule of {} asks for, and try again: {}", row.rule, why.toString());
    transactions.executeWithoutResult(
        any -> rows.find(AlertActRow.class, row.id).due = clock.instant().plus(AGAIN_AFTER));
  }

  private void allow(AlertActRow row, AlertAct act, AlertRow alert) {
    boolean toldOnly = AlertKind.of(alert.kind).filter(AlertKind::isToldOnly).isPresent();
    if (alert.closed != null && !toldOnly) {
      throw new Not("the alert was closed before");
    }
    long before =
        done("a.run = :run and a.rule = :rule and a.what = :what", row, Duration.ofDays(400));
    if (row.run != 0 && before >= act.most()) {
      throw new Not(
          "it was done "
              + (before == 1 ? "once" : before + " times")
              + " for this run: no more is allowed");
    }
    long hour = done("a.rule = :rule and a.what = :what and :run = :run", row, Duration.ofHours(1));
    if (hour >= AlertAct.MOST_AN_HOUR) {
      throw new Not(
          "this rule has done it " + hour + " times within an hour: a person should look");
    }
  }

  private long done(String which, AlertActRow row, Duration within) {
    return transactions.execute(
        any ->
            rows.createQuery(
                    "select count(a) from AlertActRow a where a.state = 'done' and a.done > :since"
                        + " and "
                        + which,
                    Long.class)
                .setParameter("since", clock.instant().minus(within))
                .setParameter("run", row.run)
                .setParameter("rule", row.rule)
                .setParameter("what", row.what)
                .getSingleResult());
  }

  private void carryOut(AlertActRow row, AlertAct act, AlertRow alert) {
    switch (act.what()) {
      case RERUN -> onRuns(row, alert, List.of(row.run), Action.RERUN, any -> "it runs again");
      case CANCEL -> onRuns(row, alert, List.of(row.run), Action.CANCEL, any -> "it was cancelled");
      case MARK -> {
        Action mark = act.argument().equals("succeeded") ? Action.SUCCEED : Action.FAIL;
        onRuns(row, alert, List.of(row.run), mark, any -> "it was marked " + act.argument());
      }
      case HOLD -> {
        List<Long> followers =
            engine.look(
                board -> board.run(row.run).isPresent() ? board.followers(row.run) : List.of());
        if (followers.isEmpty()) {
          throw new Not("nothing follows it");
        }
        onRuns(row, alert, followers, Action.HOLD, done -> "held: " + String.join(", ", done));
      }
      case START -> start(row, act, alert);
    }
  }

  private static AuditTrail.Actor actor(AlertActRow row) {
    return new AuditTrail.Actor(Actions.RULE, row.rule);
  }

  private static String reason(AlertActRow row) {
    return Shorten.text("rule of " + row.rule + ", alert " + row.alert, 300);
  }

  /** Done to one is done; where it is done to none, the first refusal says why. */
  private void onRuns(
      AlertActRow row,
      AlertRow alert,
      List<Long> runs,
      Action action,
      Function<List<String>, String> words) {
    List<Actions.Result> results =
        actions.act(
            new OnRuns(runs, action, 0),
            actor(row),
            reason(row),
            (turn, done) ->
                turn.also(session -> note(session, row, alert, words.apply(done), "", 0)));
    if (results.stream().noneMatch(one -> one.refusal().isEmpty())) {
      throw new Not(results.get(0).refusal());
    }
  }

  private void start(AlertActRow row, AlertAct act, AlertRow alert) {
    int round = 1 + roundOf(alert);
    if (round > AlertAct.MOST_ROUNDS) {
      throw new Not(
          "it was started from alerts of what it has started itself "
              + AlertAct.MOST_ROUNDS
              + " times over: it goes in a circle");
    }
    LocalDate date =
        engine.look(
            board ->
                board
                    .run(alert.run)
                    .map(spec -> spec.run().reference().date())
                    .orElseGet(plan::today));
    actions.start(
        new Start(act.argument(), Optional.empty(), false, date, act.with()),
        Optional.of("alert-act-" + row.id),
        actor(row),
        reason(row),
        (turn, runs) -> {
          String started = startOf(runs, turn.board());
          turn.also(session -> note(session, row, alert, "started " + started, started, round));
        });
  }

  private String startOf(List<Long> runs, BoardView board) {
    return runs.stream()
        .flatMap(run -> board.run(run).stream())
        .map(RunSpec::run)
        .findFirst()
        .map(run -> startOf(run.reference()))
        .orElse("");
  }

  /** The start that a run is of: of the stream that is no step of another. */
  private String startOf(RunReference reference) {
    String top =
        engine
            .definitions()
            .topOf(reference.stream())
            .map(stream -> stream.path())
            .orElse(reference.stream());
    return top + "@" + reference.date() + "#" + reference.number();
  }

  /** How many starts of alerts lie behind the run of an alert. */
  private int roundOf(AlertRow alert) {
    if (alert.run == 0) {
      return 0;
    }
    String start =
        engine.look(
            board -> board.run(alert.run).map(spec -> startOf(spec.run().reference())).orElse(""));
    return transactions.execute(
        any ->
            rows
                .createQuery(
                    "select a.round from AlertActRow a where a.started = :start order by a.id desc",
                    Integer.class)
                .setParameter("start", start)
                .setMaxResults(1)
                .getResultList()
                .stream()
                .findFirst()
                .orElse(0));
  }

  /** That it is done, in the transaction in which it is. */
  private void note(
      StatelessSession session,
      AlertActRow row,
      AlertRow alert,
      String text,
      String started,
      int round) {
    Instant now = clock.instant();
    int mine =
        session
            .createMutationQuery(
                "update AlertActRow a set a.state = 'done', a.done = :now, a.note = :note, a.started"
                    + " = :started, a.round = :round where a.id = :id and a.state = 'due'")
            .setParameter("now", now)
            .setParameter("note", Shorten.text(text, 1_000))
            .setParameter("started", started)
            .setParameter("round", round)
            .setParameter("id", row.id)
            .executeUpdate();
    if (mine == 1) {
      session.insert(AlertStepRow.of(alert, "acted", "rule", Shorten.text(text, 1_000), now));
    }
  }

  private void refuse(AlertActRow row, AlertRow alert, String why) {
    transactions.executeWithoutResult(
        any -> {
          AlertActRow own = rows.find(AlertActRow.class, row.id, LockModeType.PESSIMISTIC_WRITE);
          if (!own.state.equals("due")) {
            return;
          }
          own.state = "refused";
          own.done = clock.instant();
          own.note = Shorten.text("not done: " + why, 1_000);
          if (alert != null) {
            rows.persist(AlertStepRow.of(alert, "acted", "rule", own.note, own.done));
          }
        });
  }
}
