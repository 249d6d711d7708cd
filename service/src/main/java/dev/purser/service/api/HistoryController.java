package dev.purser.service.api;

import dev.purser.core.history.HistoryRows;
import dev.purser.core.history.PastRun;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.run.RunState;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.history.PastRuns;
import dev.purser.service.run.Retention;
import dev.purser.service.run.RunRecords;
import dev.purser.wire.api.HistoryViews;
import dev.purser.wire.api.Views;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.springframework.http.MediaType;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/**
 * History: what forecasts rest on, and deleting it by hand, where first it says how much that is,
 * and then does as much and no more.
 */
@RestController
@RequestMapping(path = "/api/v1/history", produces = MediaType.APPLICATION_JSON_VALUE)
class HistoryController {
  private final Retention retention;
  private final PastRuns past;
  private final Clock clock;
  private final RunRecords runs;
  private final AuditTrail audit;

  HistoryController(
      Retention retention, PastRuns past, RunRecords runs, AuditTrail audit, Clock clock) {
    this.retention = retention;
    this.past = past;
    this.clock = clock;
    this.runs = runs;
    this.audit = audit;
  }

  /**
   * What is known of the runs of a business date that ended by themselves: forecasts rest on it.
   */
  @GetMapping("/runs")
  @Paged(by = {"job", "number", "start"})
  List<HistoryViews.PastRunView> runs(@RequestParam LocalDate date) {
    return past.of(date).stream().map(HistoryController::view).toList();
  }

  private static HistoryViews.PastRunView view(PastRun run) {
    return new HistoryViews.PastRunView(
        run.path(),
        run.date(),
        instant(run.start()),
        instant(run.end()),
        run.outcome().word(),
        run.number(),
        instant(run.due()),
        run.exitCode(),
        run.host(),
        run.attempts());
  }

  private static Instant instant(long millis) {
    return millis == 0 ? null : Instant.ofEpochMilli(millis);
  }

  /**
   * Takes in runs from elsewhere, for forecasts: they are never among the runs. Each is taken once,
   * however often it is sent; what is wrong is refused by itself.
   */
  @PostMapping("/runs")
  HistoryViews.ImportView take(
      @Valid @RequestBody HistoryViews.ImportRequest request,
      Authentication who,
      HttpServletRequest http) {
    List<PastRun> sound = new ArrayList<>();
    List<String> refused = new ArrayList<>();
    HistoryRows rows =
        new HistoryRows(
            "",
            Map.of(),
            clock.instant(),
            sound::add,
            problem -> refused.add(problem.line() + ": " + problem.message()));
    rows.header(HistoryRows.columns());
    int place = 0;
    for (HistoryViews.PastRunView run : request.runs()) {
      rows.row(++place, cells(run));
    }
    int taken = past.take(sound, request.tryOnly());
    if (!request.tryOnly() && taken > 0) {
      audit.write(Asking.actor(who, http), "import history", taken + " runs", "");
    }
    return new HistoryViews.ImportView(taken, sound.size() - taken, refused);
  }

  private static List<String> cells(HistoryViews.PastRunView run) {
    return Stream.of(
            run.job(),
            run.date(),
            run.start(),
            run.end(),
            run.outcome(),
            run.number() == 0 ? null : run.number(),
            run.due(),
            run.exitCode(),
            run.host(),
            run.attempts())
        .map(cell -> cell == null ? "" : cell.toString())
        .toList();
  }

  /** How much would go; nothing does. */
  @PostMapping("/amount")
  Views.HistoryAmount amount(@Valid @RequestBody Views.HistoryRequest request) {
    return view(retention.amount(retention.meant(filter(request), runs)));
  }

  /** Deletes, if it is as much as was said before. */
  @PostMapping("/deletion")
  Views.HistoryAmount delete(
      @Valid @RequestBody Views.HistoryRequest request,
      Authentication who,
      HttpServletRequest http) {
    String reason = Asking.reason(request.reason());
    Retention.Meant meant = retention.meant(filter(request), runs);
    if (request.runs() == null) {
      throw new NotUnderstood(
          "say how many runs are to go: \"runs\": "
              + meant.runs().size()
              + ", as /api/v1/history/amount has told");
    }
    if (request.runs() != meant.runs().size()) {
      throw new Problems.Conflict(
          "it would be "
              + meant.runs().size()
              + " runs now, not "
              + request.runs()
              + ": nothing was deleted; look again");
    }
    Retention.Amount amount = retention.amount(meant);
    audit.write(
        Asking.actor(who, http),
        "delete history",
        amount.runs() + " runs of " + describe(request),
        reason);
    retention.delete(meant);
    return view(amount);
  }

  private static String describe(Views.HistoryRequest request) {
    return (request.stream() == null ? "all streams" : request.stream())
        + (request.job() == null ? "" : "/" + request.job())
        + (request.from() == null ? "" : " from " + request.from())
        + (request.to() == null ? "" : " to " + request.to())
        + (request.state() == null ? "" : ", " + request.state());
  }

  private static RunRecords.Filter filter(Views.HistoryRequest request) {
    boolean nothing =
        text(request.stream()).isEmpty() && request.from() == null && request.to() == null;
    if (nothing) {
      throw new NotUnderstood("say which history: a stream, or dates from and to, or both");
    }
    List<String> states =
        Arrays.stream(text(request.state()).split(",")).filter(s -> !s.isBlank()).toList();
    for (String one : states) {
      if (RunState.of(one).isEmpty()) {
        throw new NotUnderstood(
            "unknown state \"" + one + "\"" + Nearest.hint(one, RunState.words()));
      }
    }
    LocalDate from = request.from();
    LocalDate to = request.to();
    if (from != null && to != null && to.isBefore(from)) {
      throw new NotUnderstood("\"to\" (" + to + ") is before \"from\" (" + from + ")");
    }
    return new RunRecords.Filter(
        from, to, text(request.stream()), text(request.job()), states, "", "", "", "");
  }

  private static String text(String given) {
    return given == null ? "" : given.strip();
  }

  private static Views.HistoryAmount view(Retention.Amount amount) {
    return new Views.HistoryAmount(
        amount.runs(),
        amount.children(),
        amount.attempts(),
        amount.moments(),
        amount.outputBytes());
  }
}
