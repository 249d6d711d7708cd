package dev.purser.core.check;

import dev.purser.core.alert.AlertAct;
import dev.purser.core.alert.AlertLevel;
import dev.purser.core.alert.AlertRule;
import dev.purser.core.definition.AlertRules;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Job;
import dev.purser.core.problem.Problem;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;

/** Streams that alerts start, and that would start themselves in the end. */
final class AlertStartCheck {
  private final Definitions all;
  private final List<Problem> problems;

  AlertStartCheck(Definitions all, List<Problem> problems) {
    this.all = all;
    this.problems = problems;
  }

  void of(List<Document> documents) {
    if (documents.isEmpty() || all.documents().stream().noneMatch(AlertStartCheck::starts)) {
      return;
    }
    Map<String, Set<String>> next = new TreeMap<>();
    all.streams().forEach(stream -> next.put(stream.path(), startedBy(stream)));
    Set<String> done = new HashSet<>();
    for (String path : next.keySet()) {
      Optional<List<String>> circle =
          Circles.from(path, one -> next.getOrDefault(one, Set.of()), done);
      circle.ifPresent(
          found ->
              guilty(documents, found)
                  .ifPresent(
                      document ->
                          problems.add(
                              document.error(
                                  "alerts start streams in a circle: "
                                      + String.join(" → ", found)
                                      + "; switch the kind off for the stream that is started, as in"
                                      + " alerts: [ { kind: failed } ]"))));
    }
  }

  private static boolean starts(Document document) {
    Collection<AlertRule> rules = new java.util.ArrayList<>();
    if (document.value() instanceof AlertLevel level) {
      rules.addAll(level.rules());
    } else if (document.value() instanceof Stream stream) {
      rules.addAll(stream.alerts());
      stream.jobs().forEach(job -> rules.addAll(job.alerts()));
    }
    return rules.stream().anyMatch(AlertStartCheck::starts);
  }

  private static boolean starts(AlertRule rule) {
    return rule.act().filter(act -> act.what() == AlertAct.What.START).isPresent();
  }

  private Set<String> startedBy(Stream stream) {
    Set<String> started = new TreeSet<>();
    for (Job job : stream.jobs()) {
      for (AlertRules.Effective effective : all.alertRules().ofJob(stream.pathOf(job)).values()) {
        effective.rules().stream()
            .filter(rule -> !rule.none() && starts(rule))
            .forEach(rule -> started.add(rule.act().orElseThrow().argument()));
      }
    }
    return started;
  }

  /** One of the documents at hand that takes part: its own rule starts, or is of a level. */
  private static Optional<Document> guilty(List<Document> documents, List<String> circle) {
    return documents.stream()
        .filter(document -> starts(document) || circle.contains(document.name()))
        .findFirst();
  }
}
