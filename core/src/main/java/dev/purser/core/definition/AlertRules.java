package dev.purser.core.definition;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.AlertLevel;
import dev.purser.core.alert.AlertRule;
import dev.purser.core.job.Job;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Stream;

/**
 * Which rules of alerts hold: all that the nearest level says of a kind, and nothing of the farther
 * ones; where nobody says anything, the kind is as it is without rules. What holds for a stream,
 * and for a job with rules of its own, is worked out once.
 */
public final class AlertRules {
  private static final Map<AlertKind, Effective> USUAL = new EnumMap<>(AlertKind.class);

  static {
    for (AlertKind kind : AlertKind.values()) {
      USUAL.put(kind, new Effective(List.of(AlertRule.usual(kind)), "built in"));
    }
  }

  /** A try of a draft tells nobody anything. */
  private static final Map<AlertKind, Effective> OF_TRIALS = new EnumMap<>(AlertKind.class);

  static {
    for (AlertKind kind : AlertKind.values()) {
      OF_TRIALS.put(kind, new Effective(List.of(AlertRule.off(kind)), "a try of a draft"));
    }
  }

  private final Definitions definitions;
  private final boolean anyByRuleOnly;
  private final boolean anyOfWaiting;
  private final Map<String, Map<AlertKind, Effective>> ofJobs = new ConcurrentHashMap<>();
  private final Map<String, Map<AlertKind, Effective>> ofStreams = new ConcurrentHashMap<>();

  AlertRules(Definitions definitions) {
    this.definitions = definitions;
    List<AlertRule> asked =
        definitions.documents().stream()
            .flatMap(AlertRules::rulesIn)
            .filter(rule -> rule.kind().isOnlyAskedFor() && !rule.none())
            .toList();
    this.anyByRuleOnly = asked.stream().anyMatch(rule -> !rule.kind().isOfWaiting());
    this.anyOfWaiting = asked.stream().anyMatch(rule -> rule.kind().isOfWaiting());
  }

  private static Stream<AlertRule> rulesIn(Document document) {
    if (document.value() instanceof AlertLevel level) {
      return level.rules().stream();
    }
    return document.value() instanceof dev.purser.core.definition.Stream stream
        ? Stream.concat(
            stream.alerts().stream(), stream.jobs().stream().flatMap(job -> job.alerts().stream()))
        : Stream.empty();
  }

  /**
   * The rules of a kind that hold for something.
   *
   * @param rules at least one
   * @param origin where they stand, for people
   */
  public record Effective(List<AlertRule> rules, String origin) {
    /** Whether the kind is switched off. */
    public boolean isOff() {
      return rules.stream().allMatch(AlertRule::none);
    }

    /** What is said of it, where it has no condition: there is one rule of it then. */
    public AlertRule rule() {
      return rules.get(0);
    }
  }

  private record Stand(List<AlertRule> rules, String origin) {}

  /** Whether anybody asks for alerts that there are only where somebody does. */
  public boolean isAnyByRuleOnly() {
    return anyByRuleOnly;
  }

  /** Whether anybody asks for alerts of runs that wait. */
  public boolean isAnyOfWaiting() {
    return anyOfWaiting;
  }

  /** What holds for a job, by its full path, whose stream may be a step of another. */
  public Map<AlertKind, Effective> ofJob(String path) {
    if (dev.purser.core.definition.Stream.isTrial(path)) {
      return OF_TRIALS;
    }
    String stream = Definitions.streamOf(path);
    String name = path.substring(path.lastIndexOf('/') + 1);
    List<AlertRule> own =
        definitions
            .streamAt(stream)
            .flatMap(one -> one.job(name))
            .map(Job::alerts)
            .orElse(List.of());
    return own.isEmpty()
        ? ofStream(stream)
        : ofJobs.computeIfAbsent(
            path, any -> within(stream, List.of(new Stand(own, "job " + path))));
  }

  /** What holds for the jobs of a stream that say nothing of their own. */
  public Map<AlertKind, Effective> ofStream(String path) {
    return dev.purser.core.definition.Stream.isTrial(path)
        ? OF_TRIALS
        : ofStreams.computeIfAbsent(path, any -> within(path, List.of()));
  }

  private Map<AlertKind, Effective> within(String stream, List<Stand> own) {
    List<Stand> near = new ArrayList<>(own);
    String department = "";
    int top = definitions.topOf(stream).map(one -> one.path().length()).orElse(0);
    String at = stream;
    while (!at.isEmpty() && at.length() >= top) {
      Optional<dev.purser.core.definition.Stream> found = definitions.streamAt(at);
      if (found.isPresent()) {
        near.add(new Stand(found.get().alerts(), "stream " + at));
        department = department.isEmpty() ? found.get().department() : department;
      }
      at = at.contains("/") ? Definitions.streamOf(at) : "";
    }
    return effective(near, department);
  }

  /** What holds for a commitment. */
  public Map<AlertKind, Effective> of(Commitment commitment) {
    Stand own = new Stand(commitment.alerts(), "commitment " + commitment.name());
    return effective(List.of(own), commitment.department());
  }

  /** What holds for files of a watch. */
  public Map<AlertKind, Effective> of(FileWatch watch) {
    return effective(List.of(new Stand(watch.alerts(), "file watch " + watch.name())), "");
  }

  /**
   * What holds for a host: what the groups say that it is in; where several do, the first by name.
   */
  public Map<AlertKind, Effective> ofHost(String host) {
    List<String> labels =
        definitions.hosts().stream()
            .filter(one -> one.name().equals(host))
            .flatMap(one -> one.labels().stream())
            .toList();
    List<Stand> near =
        definitions.hostGroups().stream()
            .filter(group -> group.contains(host, labels))
            .sorted(Comparator.comparing(HostGroup::name))
            .map(group -> new Stand(group.alerts(), "host group " + group.name()))
            .toList();
    return effective(near, "");
  }

  /** What holds for what belongs to no stream. */
  public Map<AlertKind, Effective> ofSite() {
    return effective(List.of(), "");
  }

  private Map<AlertKind, Effective> effective(List<Stand> near, String department) {
    List<Stand> levels = new ArrayList<>(near);
    if (!department.isEmpty()) {
      levels.addAll(level(Level.department(department)));
    }
    levels.addAll(level(Level.SITE));
    Map<AlertKind, Effective> all = new EnumMap<>(AlertKind.class);
    for (AlertKind kind : AlertKind.values()) {
      all.put(kind, nearest(levels, kind));
    }
    return all;
  }

  private static Effective nearest(List<Stand> levels, AlertKind kind) {
    for (Stand level : levels) {
      List<AlertRule> rules = level.rules().stream().filter(one -> one.kind() == kind).toList();
      if (!rules.isEmpty()) {
        return new Effective(rules, level.origin());
      }
    }
    return USUAL.get(kind);
  }

  private List<Stand> level(String of) {
    return definitions.document(Kind.ALERTS, of).stream()
        .map(document -> (AlertLevel) document.value())
        .map(level -> new Stand(level.rules(), of))
        .toList();
  }
}
