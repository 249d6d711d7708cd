package dev.purser.core.alerting;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.AlertRule;
import dev.purser.core.alert.Unusual;
import dev.purser.core.definition.AlertRules;
import dev.purser.core.job.Approval;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import dev.purser.core.schedule.Durations;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;

/**
 * Which alerts rules ask for of what has happened to a run: those kinds that there are only where
 * somebody asks for them.
 */
public final class RunJudge {
  private final Map<AlertKind, AlertRules.Effective> rules;
  private final RunSpec run;
  private final RunStatus status;
  private final List<Asked> asked = new ArrayList<>();

  /**
   * An alert that is asked for.
   *
   * @param text what it says without words of the rule's own
   */
  public record Asked(AlertKind kind, AlertRule rule, String origin, String text) {}

  private RunJudge(Map<AlertKind, AlertRules.Effective> rules, RunSpec run, RunStatus status) {
    this.rules = rules;
    this.run = run;
    this.status = status;
  }

  /**
   * What is asked for when an attempt is sent to its host.
   *
   * @param rules what holds for the run's job
   */
  public static List<Asked> started(
      Map<AlertKind, AlertRules.Effective> rules, RunSpec run, RunStatus status) {
    RunJudge judge = new RunJudge(rules, run, status);
    if (status.attempts() <= 1) {
      judge.ask(AlertKind.STARTED, "has started on " + status.where().word());
    } else {
      judge.ask(AlertKind.RETRIED, "is tried again: attempt " + status.attempts());
    }
    return judge.asked;
  }

  /**
   * What is asked for when a run comes to an end.
   *
   * @param rules what holds for the run's job
   * @param usualMillis how long the job usually takes; 0 where too little is known
   * @param before asked where a rule wants to know: what a value was in earlier runs, by its name
   */
  public static List<Asked> ended(
      Map<AlertKind, AlertRules.Effective> rules,
      RunSpec run,
      RunStatus status,
      long usualMillis,
      Function<String, List<String>> before) {
    RunJudge judge = new RunJudge(rules, run, status);
    String note = status.note().isEmpty() ? "" : ": " + status.note();
    if (status.state() == RunState.SUCCEEDED) {
      judge.ask(AlertKind.SUCCEEDED, "has succeeded" + note);
      judge.tooQuick(usualMillis);
      judge.values();
      judge.unusual(before);
    } else if (status.state() == RunState.FAILED) {
      judge.values();
    } else if (status.state() == RunState.CANCELLED) {
      judge.ask(AlertKind.CANCELLED, "was cancelled" + note);
    } else if (status.state() == RunState.SKIPPED) {
      judge.ask(AlertKind.SKIPPED, "was skipped" + note);
    }
    return judge.asked;
  }

  private void ask(AlertKind kind, String text) {
    AlertRules.Effective effective = rules.get(kind);
    if (!effective.isOff()) {
      asked.add(new Asked(kind, effective.rule(), effective.origin(), text));
    }
  }

  /** A run of some work that ended by itself. */
  private void tooQuick(long usualMillis) {
    boolean works = !run.run().job().isStep() && !(run.run().job().work() instanceof Approval);
    if (!works || usualMillis <= 0 || status.started() == 0) {
      return;
    }
    long took = status.ended() - status.started();
    int below = rules.get(AlertKind.TOO_QUICK).rule().below();
    if (took * 100 < usualMillis * below) {
      ask(
          AlertKind.TOO_QUICK,
          "was done in "
              + Durations.print(Duration.ofMillis(took))
              + ", and usually takes "
              + Durations.print(Duration.ofMillis(usualMillis))
              + ": was there anything to do?");
    }
  }

  private void values() {
    AlertRules.Effective effective = rules.get(AlertKind.VALUE);
    for (AlertRule rule : effective.rules()) {
      Optional<AlertRule.ValueTest> test = rule.none() ? Optional.empty() : rule.when();
      Optional<String> value = test.map(one -> status.values().get(one.name()));
      if (value.isPresent() && test.get().holds(value.get())) {
        asked.add(
            new Asked(
                AlertKind.VALUE,
                rule,
                effective.origin(),
                "handed back "
                    + test.get().name()
                    + " = "
                    + value.get()
                    + "; people are told of "
                    + test.get()));
      }
    }
  }

  private void unusual(Function<String, List<String>> before) {
    AlertRules.Effective effective = rules.get(AlertKind.VALUE);
    for (AlertRule rule : effective.rules()) {
      Optional<Unusual> unusual = rule.none() ? Optional.empty() : rule.unusual();
      String value = unusual.map(one -> status.values().get(one.name())).orElse(null);
      if (value != null) {
        String name = unusual.get().name();
        unusual
            .get()
            .why(value, before.apply(name))
            .ifPresent(
                why ->
                    asked.add(
                        new Asked(
                            AlertKind.VALUE,
                            rule,
                            effective.origin(),
                            "handed back " + name + " = " + value + "; " + why)));
      }
    }
  }
}
