package dev.purser.service.board;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.job.Job;
import dev.purser.core.job.Where;
import dev.purser.core.parameter.Given;
import dev.purser.core.parameter.Parameters;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.plan.RunReference;
import dev.purser.core.problem.Shorten;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import dev.purser.core.schedule.IfMissed;
import dev.purser.core.schedule.StartTimes;
import dev.purser.core.schedule.Window;
import dev.purser.service.run.RunRow;
import java.time.Instant;
import java.time.ZoneId;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** How a run's row says what the board knows of a run, and back. */
final class RunRows {
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final TypeReference<List<RunStatus.FileState>> FILES = new TypeReference<>() {};
  private static final TypeReference<Map<String, String>> TEXTS = new TypeReference<>() {};
  private static final int NOTE = 2_000;

  private static final String CHANGE =
      "update run set state=?, hold=?, since=?, attempts=?, budget=?, host=?, started=?, ended=?,"
          + " retry_at=?, exit_code=?, note=?, stopping=?, not_needed=?, files=?,"
          + " moved_due=?, priority=?, start_now=?, asked=?, handed_back=?, moves=? where id=?";

  private static final String REDEFINED =
      "update run set revision=?, stream_title=?, title=?, department=?, kind=?, due=?, shift=?,"
          + " start_by=?, finish_by=?, zone=?, waived=?, long_after=?, parameters=?, assumed=?,"
          + " tags=?, left_out=?, if_missed=?, start_limit=?, window_start=?, window_end=?,"
          + " window_after=? where id=?";

  private RunRows() {}

  /**
   * The run of a row, by the definitions of its time.
   *
   * @param name what its stream was called then
   */
  static BoardEvent.Restored restore(RunRow row, String name, Definitions then) {
    PlannedRun run =
        new Planner(then)
            .again(
                new RunReference(name, row.job, row.businessDate, row.number),
                new Planner.Kept(
                    row.due,
                    start(row),
                    Optional.ofNullable(row.startBy),
                    Optional.ofNullable(row.finishBy),
                    ZoneId.of(row.zone),
                    row.waived,
                    row.leftOut,
                    Optional.ofNullable(row.parameters).map(RunRows::parameters),
                    row.assumed == null || row.assumed.isEmpty()
                        ? Set.of()
                        : Set.of(row.assumed.split(","))))
            .ofStream(row.stream);
    RunStatus status =
        new RunStatus(
            RunState.of(row.state).orElseThrow(),
            row.hold,
            row.since.toEpochMilli(),
            row.attempts,
            row.budget,
            Where.of(row.host),
            millis(row.started),
            millis(row.ended),
            millis(row.retryAt),
            row.exitCode == null ? -1 : row.exitCode,
            row.note,
            RunStatus.Stopping.valueOf(row.stopping),
            row.notNeeded,
            row.alerts().stream().flatMap(word -> AlertKind.of(word).stream()).toList(),
            JSON.readValue(row.files, FILES),
            millis(row.movedDue),
            row.priority,
            row.startNow,
            millis(row.asked),
            row.handedBack == null ? Map.of() : JSON.readValue(row.handedBack, TEXTS),
            row.moves);
    return new BoardEvent.Restored(new RunSpec(row.id, run, row.longAfter), status);
  }

  /**
   * Each value with its level, and "shell" where it is shell text; a value without a level comes
   * from the schedule.
   */
  private static Parameters parameters(String text) {
    Parameters all = Parameters.NONE;
    JsonNode tree = JSON.readTree(text);
    for (Map.Entry<String, JsonNode> one : tree.properties()) {
      boolean plain = one.getValue().isString();
      Parameters.Origin origin =
          plain
              ? Parameters.Origin.SCHEDULE
              : Parameters.Origin.of(one.getValue().get(1).asString()).orElseThrow();
      String value = plain ? one.getValue().asString() : one.getValue().get(0).asString();
      boolean shell = !plain && one.getValue().size() > 2;
      all = all.with(origin, Given.NONE.and(one.getKey(), value, shell));
    }
    return all;
  }

  private static String text(Parameters parameters) {
    Map<String, List<String>> all = new TreeMap<>();
    parameters
        .all()
        .forEach(
            (name, one) ->
                all.put(
                    name,
                    one.shell()
                        ? List.of(one.value(), one.origin().word(), "shell")
                        : List.of(one.value(), one.origin().word())));
    return JSON.writeValueAsString(all);
  }

  private static PlannedRun.Start start(RunRow row) {
    List<Optional<Window.Place>> order =
        Arrays.stream(row.windowAfter.split(" ", -1)).map(Window.Place::parse).toList();
    Optional<Window> window =
        Optional.ofNullable(row.windowStart)
            .map(
                start ->
                    new Window(
                        start,
                        row.windowEnd,
                        order.get(0),
                        order.size() > 1 ? order.get(1) : Optional.empty()));
    return new PlannedRun.Start(
        row.shift.isEmpty()
            ? StartTimes.Shift.NONE
            : StartTimes.Shift.valueOf(row.shift.toUpperCase(Locale.ROOT)),
        IfMissed.of(row.ifMissed).orElse(IfMissed.RUN),
        Optional.ofNullable(row.startLimit),
        window);
  }

  private static String order(Window window) {
    return window.after().map(Window.Place::toString).orElse("")
        + window.previous().map(place -> " " + place).orElse("");
  }

  private static long millis(Instant instant) {
    return instant == null ? 0 : instant.toEpochMilli();
  }

  private static Instant instant(long millis) {
    return millis == 0 ? null : Instant.ofEpochMilli(millis);
  }

  /** The row of a run that has none yet. */
  static RunRow row(RunSpec spec, RunStatus status, Turn turn) {
    PlannedRun run = spec.run();
    RunReference reference = run.reference();
    Optional<Stream> stream = turn.definitions().streamAt(reference.stream());
    RunRow row = new RunRow();
    row.id = spec.id();
    row.stream = reference.stream();
    row.job = reference.job();
    row.streamTitle = stream.map(Stream::title).orElse(reference.stream());
    row.title = run.job().title();
    row.department = stream.map(Stream::department).orElse("");
    row.kind = run.job().work().kind();
    row.businessDate = reference.date();
    row.number = reference.number();
    row.revision = turn.revision();
    row.due = run.due();
    row.shift =
        run.shift() == StartTimes.Shift.NONE ? "" : run.shift().name().toLowerCase(Locale.ROOT);
    row.startBy = run.startBy().orElse(null);
    row.finishBy = run.finishBy().orElse(null);
    row.zone = run.zone().getId();
    row.waived = run.waived();
    row.longAfter = spec.longAfter();
    stand(row, status);
    boolean usual =
        stream
            .flatMap(found -> found.job(reference.job()).map(job -> usual(turn, found, job)))
            .filter(run.parameters()::equals)
            .isPresent();
    row.parameters = usual ? null : text(run.parameters());
    row.assumed = String.join(",", new TreeSet<>(run.assumed()));
    row.movedDue = instant(status.due());
    row.priority = priority(spec, status);
    row.startNow = status.startNow();
    row.asked = instant(status.asked());
    row.handedBack = values(status);
    row.moves = status.moves();
    row.tags = tags(stream, run.job());
    row.leftOut = Shorten.text(run.leftOut(), 1_000);
    row.ifMissed = run.start().ifMissed().word();
    row.startLimit = run.start().limit().orElse(null);
    row.windowStart = run.start().window().map(Window::start).orElse(null);
    row.windowEnd = run.start().window().map(Window::end).orElse(null);
    row.windowAfter = run.start().window().map(RunRows::order).orElse("");
    return row;
  }

  private static void stand(RunRow row, RunStatus status) {
    row.state = status.state().word();
    row.hold = cut(status.hold());
    row.since = Instant.ofEpochMilli(status.since());
    row.attempts = status.attempts();
    row.budget = status.budget();
    row.host = status.where().word();
    row.started = instant(status.started());
    row.ended = instant(status.ended());
    row.retryAt = instant(status.retryAt());
    row.exitCode = status.exitCode() < 0 ? null : status.exitCode();
    row.note = cut(status.note());
    row.stopping = status.stopping().name();
    row.notNeeded = status.notNeeded();
    row.files = files(status);
  }

  private static Parameters usual(Turn turn, Stream stream, Job job) {
    return new Planner(turn.definitions()).usualValues(stream, job);
  }

  private static String tags(Optional<Stream> stream, Job job) {
    Set<String> tags = new TreeSet<>(job.tags());
    stream.ifPresent(found -> tags.addAll(found.tags()));
    String all = tags.isEmpty() ? "" : "," + String.join(",", tags) + ",";
    return all.length() <= 500 ? all : all.substring(0, all.lastIndexOf(',', 499) + 1);
  }

  static String cut(String text) {
    return Shorten.text(text, NOTE);
  }

  /** Adds what the board has changed of a run: what was planned stays as it is written. */
  static void change(Bulk bulk, RunSpec spec, RunStatus status) {
    bulk.add(
        CHANGE,
        status.state().word(),
        cut(status.hold()),
        Instant.ofEpochMilli(status.since()),
        status.attempts(),
        status.budget(),
        status.where().word(),
        instant(status.started()),
        instant(status.ended()),
        instant(status.retryAt()),
        status.exitCode() < 0 ? null : status.exitCode(),
        cut(status.note()),
        status.stopping().name(),
        status.notNeeded(),
        files(status),
        instant(status.due()),
        priority(spec, status),
        status.startNow(),
        instant(status.asked()),
        values(status),
        status.moves(),
        spec.id());
  }

  /** Adds what another version of its definition has changed of a run. */
  static void redefined(Bulk bulk, RunSpec spec, RunStatus status, Turn turn) {
    RunRow row = row(spec, status, turn);
    bulk.add(
        REDEFINED,
        row.revision,
        row.streamTitle,
        row.title,
        row.department,
        row.kind,
        row.due,
        row.shift,
        row.startBy,
        row.finishBy,
        row.zone,
        row.waived,
        row.longAfter,
        row.parameters,
        row.assumed,
        row.tags,
        row.leftOut,
        row.ifMissed,
        row.startLimit,
        row.windowStart,
        row.windowEnd,
        row.windowAfter,
        row.id);
  }

  private static String files(RunStatus status) {
    return status.files().isEmpty() ? "[]" : JSON.writeValueAsString(status.files());
  }

  private static int priority(RunSpec spec, RunStatus status) {
    return status.priority() == spec.run().job().priority() ? -1 : status.priority();
  }

  private static String values(RunStatus status) {
    return status.values().isEmpty() ? null : JSON.writeValueAsString(status.values());
  }
}
