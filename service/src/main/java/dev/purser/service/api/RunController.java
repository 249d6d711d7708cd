package dev.purser.service.api;

import dev.purser.core.job.Shape;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.run.Action;
import dev.purser.core.run.RunState;
import dev.purser.service.action.Actions;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.api.view.RunViews;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.output.OutputStore;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.service.run.RunRecords;
import dev.purser.service.run.RunRow;
import dev.purser.wire.api.ActionViews;
import dev.purser.wire.api.Limits;
import dev.purser.wire.api.RunView;
import dev.purser.wire.api.Views;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import jakarta.validation.constraints.Max;
import jakarta.validation.constraints.Min;
import jakarta.validation.constraints.Size;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Runs: lists, one run, its output, and what people do to it. */
@RestController
@RequestMapping(path = "/api/v1", produces = MediaType.APPLICATION_JSON_VALUE)
class RunController {
  private static final int MOST = 1_000;
  private static final int OUTPUT_PIECE = 256 * 1024;

  private static final String OLDEST = "oldest";
  private static final String NEWEST = "newest";

  private final RunRecords runs;
  private final RunViews views;
  private final OutputStore outputs;
  private final Actions actions;
  private final PlanKeeper plan;
  private final AuditTrail audit;
  private final Clock clock;

  RunController(
      RunRecords runs,
      RunViews views,
      OutputStore outputs,
      Actions actions,
      PlanKeeper plan,
      AuditTrail audit,
      Clock clock) {
    this.clock = clock;
    this.audit = audit;
    this.runs = runs;
    this.views = views;
    this.outputs = outputs;
    this.actions = actions;
    this.plan = plan;
  }

  /**
   * Runs, filtered, a page at a time.
   *
   * @param order {@code oldest} or {@code newest} first; the newest are those that are due by now
   *     where neither dates nor states are asked for
   */
  @GetMapping("/runs")
  Views.RunPage list(
      @RequestParam(required = false) LocalDate date,
      @RequestParam(required = false) LocalDate from,
      @RequestParam(required = false) LocalDate to,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String stream,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String job,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String state,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String host,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String department,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String tag,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String text,
      @RequestParam(defaultValue = OLDEST) @Size(max = Limits.NAME) String order,
      @RequestParam(defaultValue = "") @Size(max = Limits.REASON) String cursor,
      @RequestParam(defaultValue = "200") @Min(1) @Max(MOST) int limit) {
    boolean newest = isNewest(order);
    List<String> states = Arrays.stream(state.split(",")).filter(s -> !s.isBlank()).toList();
    for (String one : states) {
      if (RunState.of(one).isEmpty()) {
        throw new NotUnderstood(
            "unknown state \"" + one + "\"" + Nearest.hint(one, RunState.words()));
      }
    }
    boolean upToNow = newest && date == null && from == null && to == null && states.isEmpty();
    RunRecords.Filter filter =
        new RunRecords.Filter(
            date == null ? from : date,
            date != null ? date : upToNow ? plan.today() : to,
            stream,
            job,
            states,
            host,
            department,
            tag,
            text);
    String begin = upToNow && cursor.isEmpty() ? now() : cursor;
    List<RunRow> found = runs.list(filter, begin, limit, newest);
    String next = found.size() < limit ? "" : RunRecords.cursorAfter(found.get(found.size() - 1));
    long total = cursor.isEmpty() ? runs.count(filter) : -1;
    return new Views.RunPage(views.views(found), next, total);
  }

  private static boolean isNewest(String order) {
    if (!List.of(OLDEST, NEWEST).contains(order)) {
      throw new NotUnderstood("\"" + order + "\" is not an order; expected oldest or newest");
    }
    return order.equals(NEWEST);
  }

  /** What is due later today is not the newest that there is. */
  private String now() {
    return plan.today() + "," + clock.instant() + "," + Long.MAX_VALUE;
  }

  /**
   * The run that a reference, any unambiguous tail of one, or an id means. Without a number it is
   * the only one of its date, else the one that is open, else the last; the header {@code
   * Purser-Meant} says which of how many.
   */
  @GetMapping("/runs/find")
  ResponseEntity<RunView> find(@RequestParam @Size(max = Limits.NAME) String reference) {
    RunRecords.Meant meant =
        runs.byReference(reference)
            .orElseThrow(() -> new Problems.NotFound("there is no run " + reference));
    ResponseEntity.BodyBuilder answer = ResponseEntity.ok();
    if (!meant.which().isEmpty()) {
      answer.header(Views.MEANT_HEADER, meant.which());
    }
    return answer.body(views.view(meant.run()));
  }

  /** All about one run. */
  @GetMapping("/runs/{id}")
  Views.RunDetail show(@PathVariable long id) {
    RunRow run = row(id);
    RunViews.Doing doing = views.doing(run);
    return new Views.RunDetail(
        views.view(run),
        views.why(run),
        runs.attempts(id).stream()
            .map(
                a ->
                    new Views.AttemptView(
                        a.number,
                        a.host,
                        a.sent,
                        a.started,
                        a.ended,
                        a.exitCode,
                        a.note,
                        a.outputTotal,
                        a.outputKept))
            .toList(),
        runs.moments(id).stream()
            .map(moment -> new Views.MomentView(moment.at, moment.state, moment.note))
            .toList(),
        views.files(run),
        runs.earlier(run, 30).stream()
            .map(
                e ->
                    new Views.EarlierRun(
                        e.id, e.reference(), e.state, e.started, e.ended, e.exitCode))
            .toList(),
        doing.command(),
        views.whenItFails(run),
        doing.waitsFor(),
        doing.onlyIf(),
        doing.parameters(),
        runs.valueHistory(run, 300).stream().map(RunController::value).toList(),
        audit.list(run.reference(), Long.MAX_VALUE, 100).stream()
            .filter(entry -> entry.about.equals(run.reference()))
            .map(
                entry ->
                    new Views.AuditView(
                        entry.id,
                        entry.at,
                        entry.who,
                        entry.address,
                        entry.what,
                        entry.about,
                        entry.reason))
            .toList(),
        doing.above(),
        views.views(Shape.of(run.kind) == Shape.RUNS ? runs.below(run) : List.of()),
        views.actions(run));
  }

  private static ActionViews.ValueView value(Object[] row) {
    LocalDate date = (LocalDate) row[3];
    return new ActionViews.ValueView(
        (String) row[0],
        (String) row[1],
        (Long) row[2],
        date + "#" + row[4],
        date,
        (Instant) row[5]);
  }

  private RunRow row(long id) {
    return runs.byId(id).orElseThrow(() -> new Problems.NotFound("there is no run " + id));
  }

  /** Why a run is not running. */
  @GetMapping("/runs/{id}/why")
  Views.WhyView why(@PathVariable long id) {
    return views.why(row(id));
  }

  /**
   * Output of an attempt as text.
   *
   * @param attempt 0 for the last one
   * @param offset bytes to leave out at the beginning
   */
  @GetMapping("/runs/{id}/output")
  Views.OutputView output(
      @PathVariable long id,
      @RequestParam(defaultValue = "0") @Min(0) int attempt,
      @RequestParam(defaultValue = "0") @Min(0) long offset) {
    RunRow run = row(id);
    int number = attempt == 0 ? run.attempts : attempt;
    OutputStore.Piece piece = outputs.read(id, number, offset, OUTPUT_PIECE);
    int whole = wholeCharacters(piece.data());
    String text = new String(piece.data(), 0, whole, StandardCharsets.UTF_8);
    boolean ended = RunState.of(run.state).orElseThrow().isEnded();
    boolean complete = offset + whole >= piece.kept() && (piece.complete() || number == 0) && ended;
    return new Views.OutputView(
        text, offset, offset + whole, complete, piece.total(), piece.kept());
  }

  /** How many bytes end with a whole UTF-8 character; all of them where the bytes are not UTF-8. */
  private static int wholeCharacters(byte[] data) {
    for (int back = 1; back <= Math.min(3, data.length); back++) {
      int lead = data[data.length - back] & 0xff;
      if (lead >= 0xc0) {
        int needed = lead >= 0xf0 ? 4 : lead >= 0xe0 ? 3 : 2;
        return needed > back ? data.length - back : data.length;
      }
      if (lead < 0x80) {
        return data.length;
      }
    }
    return data.length;
  }

  /** Acts on a run. */
  @PostMapping("/runs/{id}/actions")
  RunView act(
      @PathVariable long id,
      @Valid @RequestBody Views.ActionRequest request,
      Authentication who,
      HttpServletRequest http) {
    String word = request.action() == null ? "" : request.action();
    Action action =
        Action.of(word)
            .orElseThrow(
                () ->
                    new NotUnderstood(
                        "unknown action \"" + word + "\"" + Nearest.hint(word, Action.words())));
    String reason = Asking.reason(request.reason());
    long argument = ActionController.argument(action, request.priority(), request.startAt());
    actions.act(row(id).id, action, argument, Asking.actor(who, http), reason);
    return views.view(row(id));
  }

  /** Starts a stream, or one job of it, by hand. */
  @PostMapping("/starts")
  ResponseEntity<Views.Started> start(
      @Valid @RequestBody Views.StartRequest request,
      @RequestHeader(name = "Idempotency-Key", required = false) String key,
      Authentication who,
      HttpServletRequest http) {
    if (request.stream() == null || request.stream().isBlank()) {
      throw new NotUnderstood("which stream is to be started?");
    }
    List<Long> ids =
        actions.start(
            ActionController.start(request, plan.today()),
            Optional.ofNullable(key).filter(k -> !k.isBlank() && k.length() < 90),
            Asking.actor(who, http),
            request.reason() == null ? "" : request.reason());
    List<RunRow> rows = runs.byIds(ids);
    return ResponseEntity.status(201).body(new Views.Started(views.views(rows)));
  }
}
