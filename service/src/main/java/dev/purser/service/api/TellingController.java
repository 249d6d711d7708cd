package dev.purser.service.api;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.calendar.Calendars;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Duty;
import dev.purser.core.definition.Recipient;
import dev.purser.core.problem.Nearest;
import dev.purser.service.alert.AddressHealth;
import dev.purser.service.alert.AlertSums;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.telling.Allowance;
import dev.purser.service.telling.Trial;
import dev.purser.wire.api.AlertViews;
import dev.purser.wire.api.Limits;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import jakarta.validation.constraints.Max;
import jakarta.validation.constraints.Min;
import jakarta.validation.constraints.Size;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import org.springframework.http.MediaType;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Who is told of alerts, and whether they are reached. */
@RestController
@RequestMapping(path = "/api/v1", produces = MediaType.APPLICATION_JSON_VALUE)
class TellingController {
  private static final int LONGEST_LOOK = 400;

  private final AddressHealth health;
  private final AlertSums sums;
  private final Trial trial;
  private final Allowance allowance;
  private final Engine engine;
  private final AuditTrail audit;
  private final Clock clock;

  TellingController(
      AddressHealth health,
      AlertSums sums,
      Trial trial,
      Allowance allowance,
      Engine engine,
      AuditTrail audit,
      Clock clock) {
    this.sums = sums;
    this.health = health;
    this.trial = trial;
    this.allowance = allowance;
    this.engine = engine;
    this.audit = audit;
    this.clock = clock;
  }

  /** How much may be told, of the site, by each way and to recipients, and how much has been. */
  @GetMapping("/alert-limits")
  @Paged(by = {"of", "within"})
  List<AlertViews.LimitView> limits() {
    return allowance.all(engine.definitions()).stream()
        .map(
            one ->
                new AlertViews.LimitView(
                    one.of(),
                    one.within().toHours() == 1
                        ? "an hour"
                        : one.within().toDays() == 1 ? "a day" : "a week",
                    one.urgent(),
                    one.most(),
                    one.used(),
                    one.waiting()))
        .toList();
  }

  /** How the addresses fare to which alerts went in the last seven days, those in trouble first. */
  @GetMapping("/alert-addresses")
  @Paged(by = {"channel", "address"})
  List<AlertViews.AddressView> addresses() {
    return health.all().stream()
        .map(
            one ->
                new AlertViews.AddressView(
                    one.channel(),
                    one.address(),
                    one.recipients(),
                    one.state(),
                    one.pending(),
                    one.refused(),
                    one.oldest(),
                    one.nextTry(),
                    one.delivered(),
                    one.answer(),
                    one.lastError()))
        .toList();
  }

  /**
   * How many alerts there were, and what became of them, by rule.
   *
   * @param days how many dates, today's included
   */
  @GetMapping("/alert-sums")
  AlertViews.SumsView sums(@RequestParam(defaultValue = "30") @Min(1) @Max(LONGEST_LOOK) int days) {
    AlertSums.Sums found = sums.of(clock.instant(), days);
    List<AlertViews.DayCount> byDay = new ArrayList<>();
    found
        .days()
        .forEach(
            (date, kinds) ->
                kinds.forEach(
                    (kind, count) ->
                        byDay.add(new AlertViews.DayCount(date, kind, title(kind), count))));
    List<LocalDate> dates = List.copyOf(found.days().keySet());
    return new AlertViews.SumsView(
        dates.get(0),
        dates.get(dates.size() - 1),
        byDay,
        found.sums().stream()
            .limit(200)
            .map(
                one ->
                    new AlertViews.RuleSum(
                        one.kind(),
                        title(one.kind()),
                        one.rule(),
                        one.stream(),
                        one.count(),
                        one.takenOn(),
                        one.byPerson(),
                        one.byItself(),
                        one.ignored(),
                        one.parts()))
            .toList());
  }

  private static String title(String kind) {
    return AlertKind.of(kind).map(AlertKind::title).orElse(kind);
  }

  /** Sends a test, marked as one, by every way by which somebody is reached now. */
  @PostMapping("/alert-trials")
  List<AlertViews.TriedView> attempt(
      @Valid @RequestBody AlertViews.TryRequest request,
      Authentication who,
      HttpServletRequest http) {
    String to = request.to() == null ? "" : request.to();
    Definitions definitions = engine.definitions();
    if (!to.startsWith(Recipient.PERSON) && !definitions.isAddressee(to)) {
      Set<String> known = new TreeSet<>();
      definitions.recipients().forEach(one -> known.add(one.name()));
      definitions.duties().forEach(one -> known.add(one.name()));
      throw new Problems.NotFound(
          "there is no recipient or duty \"" + to + "\"" + Nearest.hint(to, known));
    }
    List<AlertViews.TriedView> all =
        trial.of(to, who.getName(), definitions).stream()
            .map(
                one ->
                    new AlertViews.TriedView(
                        one.recipient(), one.channel(), one.address(), one.arrived(), one.answer()))
            .toList();
    audit.write(Asking.actor(who, http), "try alerts", to, "");
    return all;
  }

  /** All duties, with who has each now and next. */
  @GetMapping("/duties")
  @Paged(by = "name")
  List<AlertViews.DutyView> duties() {
    Definitions definitions = engine.definitions();
    Instant now = clock.instant();
    return definitions.duties().stream()
        .map(
            duty -> {
              Instant end = now.plus(java.time.Duration.ofDays(62));
              List<Duty.Stretch> all = duty.between(now, end, definitions.calendarsOf(duty));
              boolean changes = all.size() > 1;
              return new AlertViews.DutyView(
                  duty.name(),
                  duty.title(),
                  duty.zone().getId(),
                  all.get(0).who(),
                  changes ? all.get(1).from() : null,
                  changes ? all.get(1).who() : List.of());
            })
        .toList();
  }

  /**
   * Who has a duty when.
   *
   * @param from the first date; today without
   * @param days how many dates
   */
  @GetMapping("/duties/{name}")
  List<AlertViews.StretchView> duty(
      @PathVariable @Size(max = Limits.NAME) String name,
      @RequestParam(required = false) LocalDate from,
      @RequestParam(defaultValue = "31") @Min(1) @Max(LONGEST_LOOK) int days) {
    Definitions definitions = engine.definitions();
    Duty duty =
        definitions
            .duty(name)
            .orElseThrow(() -> new Problems.NotFound("there is no duty \"" + name + "\""));
    LocalDate first = from == null ? clock.instant().atZone(duty.zone()).toLocalDate() : from;
    Calendars calendars = definitions.calendarsOf(duty);
    return duty
        .between(
            first.atStartOfDay(duty.zone()).toInstant(),
            first.plusDays(days).atStartOfDay(duty.zone()).toInstant(),
            calendars)
        .stream()
        .map(
            one -> new AlertViews.StretchView(one.from(), one.to(), one.who(), duty.zone().getId()))
        .toList();
  }
}
