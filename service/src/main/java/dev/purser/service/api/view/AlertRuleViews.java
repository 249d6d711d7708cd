package dev.purser.service.api.view;

import dev.purser.core.alert.AlertAct;
import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.AlertRule;
import dev.purser.core.definition.AlertRules;
import dev.purser.core.definition.Commitment;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.schedule.Durations;
import dev.purser.service.api.answer.Problems;
import dev.purser.wire.api.AlertViews;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/** Makes views of rules of alerts. */
public final class AlertRuleViews {
  private AlertRuleViews() {}

  /**
   * Which rules hold for something, in the order of how much the kinds press.
   *
   * @param of a job's or a stream's full path, or the name of a commitment, a file watch or a host;
   *     empty for the site
   */
  public static List<AlertViews.AlertRuleView> of(Definitions definitions, String of) {
    List<AlertViews.AlertRuleView> all = new ArrayList<>();
    effective(definitions, of)
        .forEach((kind, found) -> found.rules().forEach(rule -> all.add(view(rule, found))));
    return all;
  }

  private static Map<AlertKind, AlertRules.Effective> effective(
      Definitions definitions, String of) {
    AlertRules rules = definitions.alertRules();
    if (of.isEmpty()) {
      return rules.ofSite();
    }
    Optional<Commitment> commitment = definitions.commitment(of);
    if (commitment.isPresent()) {
      return rules.of(commitment.get());
    }
    if (definitions.job(of).isPresent()) {
      return rules.ofJob(of);
    }
    if (definitions.streamAt(of).isPresent()) {
      return rules.ofStream(of);
    }
    Optional<FileWatch> watch = definitions.fileWatch(of);
    if (watch.isPresent()) {
      return rules.of(watch.get());
    }
    if (definitions.hosts().stream().anyMatch(host -> host.name().equals(of))) {
      return rules.ofHost(of);
    }
    throw new Problems.NotFound(
        "there is no job, stream, commitment, file watch or host "
            + of
            + "; a job's full name is STREAM/JOB");
  }

  private static AlertViews.AlertRuleView view(AlertRule rule, AlertRules.Effective found) {
    return new AlertViews.AlertRuleView(
        rule.kind().word(),
        rule.kind().title(),
        found.origin(),
        rule.condition(),
        rule.none(),
        rule.isUrgent().word(),
        rule.tell(),
        rule.say(),
        rule.escalation().stream()
            .map(
                step ->
                    "after "
                        + Durations.print(step.after())
                        + ": "
                        + String.join(", ", step.tell()))
            .toList(),
        rule.remindEvery().isZero() ? "" : Durations.print(rule.remindEvery()),
        rule.act().map(AlertAct::inWords).orElse(""));
  }
}
