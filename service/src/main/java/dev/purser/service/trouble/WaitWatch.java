package dev.purser.service.trouble;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.AlertRule;
import dev.purser.core.board.AlertCause;
import dev.purser.core.board.BoardView;
import dev.purser.core.definition.AlertRules;
import dev.purser.core.definition.Definitions;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import dev.purser.core.schedule.Durations;
import dev.purser.core.why.Why;
import dev.purser.service.alert.SiteTrouble;
import dev.purser.service.alert.SiteWatch;
import dev.purser.service.board.Engine;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;

/** Runs that wait for long, or for what is not planned, as far as rules ask for it. */
@Component
class WaitWatch implements SiteWatch {
  private static final Set<AlertKind> KINDS =
      EnumSet.of(AlertKind.WAITS_LONG, AlertKind.NOT_PLANNED);
  private static final Set<Why.What> LONG =
      EnumSet.of(Why.What.CAPACITY, Why.What.HOST, Why.What.FILE);

  private final Engine engine;
  private final Clock clock;

  WaitWatch(Engine engine, Clock clock) {
    this.engine = engine;
    this.clock = clock;
  }

  @Override
  public Set<AlertKind> kinds() {
    return KINDS;
  }

  @Override
  public Optional<List<SiteTrouble>> wrong() {
    Definitions definitions = engine.definitions();
    if (!definitions.alertRules().isAnyOfWaiting()) {
      return Optional.of(List.of());
    }
    return Optional.of(engine.look(board -> waiting(board, definitions)));
  }

  @Override
  public String because(String reference) {
    return "it waits for that no more";
  }

  private List<SiteTrouble> waiting(BoardView board, Definitions definitions) {
    List<SiteTrouble> all = new ArrayList<>();
    for (RunSpec run : board.runs()) {
      if (board.state(run.id()).filter(RunState.WAITING::equals).isPresent()) {
        Map<AlertKind, AlertRules.Effective> rules =
            definitions.alertRules().ofJob(run.run().reference().path());
        if (KINDS.stream().anyMatch(kind -> !rules.get(kind).isOff())) {
          wrong(run, rules, board, definitions).ifPresent(all::add);
        }
      }
    }
    return all;
  }

  /** What will not come by itself is told before what comes late. */
  private Optional<SiteTrouble> wrong(
      RunSpec run,
      Map<AlertKind, AlertRules.Effective> rules,
      BoardView board,
      Definitions definitions) {
    Why why = board.why(run.id());
    if (!rules.get(AlertKind.NOT_PLANNED).isOff()) {
      List<String> never =
          why.reasons().stream()
              .filter(one -> one.what() == Why.What.RUN && one.run() == 0)
              .map(Why.Reason::text)
              .toList();
      if (!never.isEmpty()) {
        return Optional.of(
            trouble(
                AlertKind.NOT_PLANNED,
                run,
                "waits for what will not come by itself: " + String.join("; ", never),
                "",
                definitions));
      }
    }
    AlertRules.Effective effective = rules.get(AlertKind.WAITS_LONG);
    RunStatus status = board.status(run.id()).orElseThrow();
    Optional<Duration> limit = Optional.of(effective.rule()).flatMap(AlertRule::longerThan);
    long waited = clock.millis() - status.since();
    List<Why.Reason> reasons =
        why.reasons().stream().filter(one -> LONG.contains(one.what())).toList();
    if (effective.isOff()
        || limit.isEmpty()
        || reasons.isEmpty()
        || waited < limit.get().toMillis()) {
      return Optional.empty();
    }
    String text =
        "has waited for longer than "
            + Durations.print(limit.get())
            + ": "
            + reasons.stream().map(Why.Reason::text).collect(Collectors.joining("; "));
    return Optional.of(
        trouble(AlertKind.WAITS_LONG, run, text, AlertCause.of(run.id(), why, board), definitions));
  }

  private static SiteTrouble trouble(
      AlertKind kind, RunSpec run, String text, String cause, Definitions definitions) {
    Set<String> recipients = new LinkedHashSet<>();
    definitions
        .streamAt(run.run().reference().stream())
        .ifPresent(
            stream -> {
              recipients.add(stream.owner());
              recipients.addAll(stream.alertsTo());
            });
    return SiteTrouble.ofWaiting(kind, run, text, recipients, cause);
  }
}
