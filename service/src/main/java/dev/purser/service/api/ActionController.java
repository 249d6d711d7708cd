package dev.purser.service.api;

import dev.purser.core.board.BoardView;
import dev.purser.core.definition.Capacity;
import dev.purser.core.definition.HostDefinition;
import dev.purser.core.forecast.WhatIf;
import dev.purser.core.plan.StartCondition;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.run.Action;
import dev.purser.core.run.HoldScope;
import dev.purser.core.run.RunSpec;
import dev.purser.service.action.Actions;
import dev.purser.service.action.Hold;
import dev.purser.service.action.OnRuns;
import dev.purser.service.action.Release;
import dev.purser.service.action.Start;
import dev.purser.service.action.Units;
import dev.purser.service.action.Wish;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.api.view.RunViews;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.CapacityChangeRow;
import dev.purser.service.board.Engine;
import dev.purser.service.board.StandingHoldRow;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.service.run.RunRecords;
import dev.purser.wire.api.ActionViews;
import dev.purser.wire.api.Views;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.springframework.http.MediaType;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** What people do to many runs at once, to streams and to capacities, and what it would do. */
@RestController
@RequestMapping(path = "/api/v1", produces = MediaType.APPLICATION_JSON_VALUE)
class ActionController {
  private static final int MOST_RUNS = 20_000;
  private static final int MOST_MOVED = 500;

  private final Actions actions;
  private final Engine engine;
  private final RunRecords records;
  private final PlanKeeper plan;
  private final Clock clock;

  ActionController(
      Actions actions, Engine engine, RunRecords records, PlanKeeper plan, Clock clock) {
    this.actions = actions;
    this.engine = engine;
    this.records = records;
    this.plan = plan;
    this.clock = clock;
  }

  /** Acts on runs, each for itself; what makes no sense for one is done to the others. */
  @PostMapping("/actions")
  List<ActionViews.ActionResult> act(
      @Valid @RequestBody ActionViews.ChangeRequest request,
      Authentication who,
      HttpServletRequest http) {
    return actions
        .act(onRuns(request), Asking.actor(who, http), Asking.reason(request.reason()))
        .stream()
        .map(
            one ->
                new ActionViews.ActionResult(
                    one.run(), one.reference(), one.refusal().isEmpty(), one.refusal()))
        .toList();
  }

  private static OnRuns onRuns(ActionViews.ChangeRequest request) {
    Action action = action(request.action());
    List<Long> runs = request.runs() == null ? List.of() : request.runs();
    if (runs.isEmpty() || runs.size() > MOST_RUNS) {
      throw new NotUnderstood(
          "1 to " + MOST_RUNS + " runs can be acted on at once, not " + runs.size());
    }
    return new OnRuns(runs, action, argument(action, request.priority(), request.startAt()));
  }

  private static Action action(String given) {
    String word = given == null ? "" : given;
    return Action.of(word)
        .orElseThrow(
            () ->
                new NotUnderstood(
                    "unknown action \"" + word + "\"" + Nearest.hint(word, Action.words())));
  }

  /** The argument of an action as the board takes it. */
  static long argument(Action action, Integer priority, Instant startAt) {
    if (action == Action.PRIORITY) {
      if (priority == null || priority < 0 || priority > 100) {
        throw new NotUnderstood("action priority needs a priority from 0 to 100");
      }
      return priority;
    }
    if (action == Action.START_AT) {
      if (startAt == null) {
        throw new NotUnderstood(
            "action start-at needs a start time such as 2027-03-04T21:30:00+01:00");
      }
      return startAt.toEpochMilli();
    }
    return 0;
  }

  /** A start as it is asked for. */
  static Start start(Views.StartRequest request, LocalDate today) {
    boolean following = Boolean.TRUE.equals(request.andFollowing());
    Optional<String> job = Optional.ofNullable(request.job()).filter(name -> !name.isBlank());
    if (following && job.isEmpty()) {
      throw new NotUnderstood("which job is the start to go on from?");
    }
    return new Start(
        request.stream(),
        job,
        following,
        request.date() == null ? today : request.date(),
        request.parameters() == null ? Map.of() : request.parameters(),
        ignoring(request.ignoring()));
  }

  private static Set<StartCondition> ignoring(List<String> words) {
    Set<StartCondition> all = EnumSet.noneOf(StartCondition.class);
    for (String word : words == null ? List.<String>of() : words) {
      all.add(
          StartCondition.of(word)
              .orElseThrow(
                  () ->
                      new NotUnderstood(
                          "a start cannot ignore \""
                              + word
                              + "\""
                              + Nearest.hint(word, StartCondition.words()))));
    }
    return all;
  }

  /** What something would do, found by rehearsal from the present board; nothing is done. */
  @PostMapping("/what-if")
  ActionViews.EffectView whatIf(
      @Valid @RequestBody ActionViews.ChangeRequest request,
      Authentication who,
      HttpServletRequest http) {
    AuditTrail.Actor actor = Asking.actor(who, http);
    boolean starts = request.start() != null && request.start().stream() != null;
    return view(
        starts
            ? actions.whatIf(start(request.start(), plan.today()), actor)
            : actions.whatIf(wish(request), actor));
  }

  private Wish wish(ActionViews.ChangeRequest request) {
    if (request.scope() != null) {
      HoldScope scope = scope(request.scope());
      return switch (request.action() == null ? "" : request.action()) {
        case "hold" -> new Hold(scope);
        case "release" -> new Release(scope);
        default -> throw new NotUnderstood("a " + scope + " can be held and released only");
      };
    }
    if (request.host() != null) {
      List<String> hosts = engine.definitions().hosts().stream().map(HostDefinition::name).toList();
      if (!hosts.contains(request.host())) {
        throw new Problems.NotFound(
            "there is no host \"" + request.host() + "\"" + Nearest.hint(request.host(), hosts));
      }
      return HostController.wish(request.action(), request.host());
    }
    return request.capacity() != null ? units(request.capacity()) : onRuns(request);
  }

  private static HoldScope scope(ActionViews.Scope scope) {
    String kind = scope.kind() == null ? "" : scope.kind();
    return new HoldScope(
        HoldScope.Kind.of(kind)
            .orElseThrow(
                () ->
                    new NotUnderstood(
                        "unknown \"" + kind + "\"" + Nearest.hint(kind, HoldScope.Kind.words()))),
        scope.name() == null ? "" : scope.name());
  }

  private static Units units(ActionViews.Units units) {
    if (units.units() != null && units.units() < 0) {
      throw new NotUnderstood("a capacity has 0 units or more, not " + units.units());
    }
    return new Units(
        units.name() == null ? "" : units.name(), units.units() == null ? -1 : units.units());
  }

  private static ActionViews.EffectView view(WhatIf.Effect effect) {
    return new ActionViews.EffectView(
        effect.sentences(),
        effect.refusals(),
        effect.touched().stream()
            .map(
                one ->
                    new ActionViews.TouchedView(
                        one.run().run().reference().toString(),
                        one.before().word(),
                        one.after().word(),
                        one.stops(),
                        one.starts()))
            .toList(),
        effect.moved().stream()
            .limit(MOST_MOVED)
            .map(
                one ->
                    new ActionViews.MovedView(
                        one.run().run().reference().toString(),
                        one.turn().name().toLowerCase(java.util.Locale.ROOT),
                        one.stateBefore().word(),
                        one.stateAfter().word(),
                        RunViews.instant(one.endBefore()),
                        RunViews.instant(one.endAfter())))
            .toList(),
        effect.finishes().stream()
            .map(
                one ->
                    new ActionViews.FinishView(
                        one.date(),
                        RunViews.instant(one.before()),
                        RunViews.instant(one.after()),
                        one.openBefore(),
                        one.openAfter()))
            .toList(),
        names(effect.missed()),
        names(effect.saved()));
  }

  private static List<String> names(List<RunSpec> runs) {
    return runs.stream().map(run -> run.run().reference().toString()).toList();
  }

  // ---- holds

  /** What is held until it is released: jobs, streams and departments. */
  @GetMapping("/holds")
  @Paged(by = {"kind", "name"})
  List<ActionViews.HoldView> holds() {
    return records.all(StandingHoldRow.class).stream()
        .map(row -> new ActionViews.HoldView(row.kind, row.name, row.note, row.who, row.since))
        .toList();
  }

  /** Holds or releases a job, stream or department. */
  @PostMapping("/holds")
  List<ActionViews.HoldView> hold(
      @Valid @RequestBody ActionViews.ChangeRequest request,
      Authentication who,
      HttpServletRequest http) {
    if (request.scope() == null) {
      throw new NotUnderstood("which job, stream or department?");
    }
    String reason = Asking.reason(request.reason());
    Wish wish = wish(request);
    actions.act(wish, Asking.actor(who, http), reason);
    return holds();
  }

  // ---- capacities

  /** Capacities: how much there is, who holds it, who stands in line for it. */
  @GetMapping("/capacities")
  @Paged(by = "name")
  List<ActionViews.CapacityView> capacities() {
    Map<String, CapacityChangeRow> changes = new HashMap<>();
    records.all(CapacityChangeRow.class).forEach(row -> changes.put(row.capacity, row));
    return engine.look(
        board -> {
          List<ActionViews.CapacityView> found = new ArrayList<>();
          for (Capacity capacity : engine.definitions().capacities()) {
            found.add(view(capacity, board, changes.get(capacity.name())));
          }
          return found;
        });
  }

  private ActionViews.CapacityView view(
      Capacity capacity, BoardView board, CapacityChangeRow change) {
    BoardView.CapacityState state = board.capacity(capacity.name());
    return new ActionViews.CapacityView(
        capacity.name(),
        capacity.title(),
        state.units(),
        capacity.unitsAt(clock.instant()),
        state.set().orElse(null),
        change == null ? "" : change.who,
        change == null ? null : change.since,
        change == null ? "" : change.reason,
        state.taken(),
        state.holders().stream().map(run -> units(run, capacity, board)).toList(),
        state.line().stream().map(run -> units(run, capacity, board)).toList(),
        capacity.spans().stream()
            .map(
                span ->
                    span.units()
                        + " from "
                        + span.from()
                        + " to "
                        + span.to()
                        + " "
                        + capacity.zone().getId())
            .toList());
  }

  private static ActionViews.UnitsView units(long id, Capacity capacity, BoardView board) {
    RunSpec run = board.run(id).orElseThrow();
    var status = board.status(id).orElseThrow();
    return new ActionViews.UnitsView(
        id,
        run.run().reference().toString(),
        run.run().job().title(),
        run.run().job().takes().getOrDefault(capacity.name(), 0),
        status.priority(),
        Instant.ofEpochMilli(status.since()));
  }

  /** Changes how many units a capacity has, with effect at once. */
  @PostMapping("/capacities")
  List<ActionViews.CapacityView> change(
      @Valid @RequestBody ActionViews.ChangeRequest request,
      Authentication who,
      HttpServletRequest http) {
    if (request.capacity() == null) {
      throw new NotUnderstood("which capacity, and how many units?");
    }
    actions.act(
        units(request.capacity()), Asking.actor(who, http), Asking.reason(request.reason()));
    return capacities();
  }
}
