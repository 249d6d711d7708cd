package dev.purser.service.api;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Job;
import dev.purser.core.parameter.Parameters;
import dev.purser.core.problem.Nearest;
import dev.purser.core.schedule.Schedule;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.api.view.GraphViews;
import dev.purser.service.api.view.RunViews;
import dev.purser.service.board.Engine;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.service.run.RunRecords;
import dev.purser.service.run.RunRow;
import dev.purser.wire.api.ActionViews;
import dev.purser.wire.api.Limits;
import dev.purser.wire.api.RunView;
import jakarta.validation.constraints.Size;
import java.time.Clock;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** A stream as a picture, what a start by hand asks for, and what a few letters find. */
@RestController
@RequestMapping(path = "/api/v1", produces = MediaType.APPLICATION_JSON_VALUE)
class PictureController {
  private static final int MOST_FOUND = 12;

  private final Engine engine;
  private final RunRecords records;
  private final RunViews views;
  private final PlanKeeper plan;
  private final Clock clock;

  PictureController(
      Engine engine, RunRecords records, RunViews views, PlanKeeper plan, Clock clock) {
    this.engine = engine;
    this.records = records;
    this.views = views;
    this.plan = plan;
    this.clock = clock;
  }

  /**
   * A stream, or a stream that a step runs, with the runs of one start.
   *
   * @param number which start of the date; 0 for its last one that is due
   */
  @GetMapping("/graph")
  ActionViews.GraphView graph(
      @RequestParam @Size(max = Limits.NAME) String stream,
      @RequestParam(required = false) LocalDate date,
      @RequestParam(defaultValue = "0") int number) {
    Definitions definitions = engine.definitions();
    Stream found =
        definitions
            .streamAt(stream)
            .orElseThrow(
                () ->
                    new Problems.NotFound(
                        "there is no stream \""
                            + stream
                            + "\""
                            + Nearest.hint(
                                stream,
                                definitions.streams().stream().map(Stream::path).toList())));
    LocalDate wanted = date == null ? plan.today() : date;
    String top = definitions.topOf(stream).orElseThrow().path();
    List<RunRow> all =
        records.ofStream(stream, wanted, wanted).stream()
            .filter(
                row -> definitions.topOf(row.stream).filter(s -> s.path().equals(top)).isPresent())
            .toList();
    List<Integer> numbers =
        all.stream()
            .filter(row -> row.stream.equals(stream))
            .map(row -> row.number)
            .distinct()
            .sorted()
            .toList();
    int shown =
        number > 0
            ? number
            : all.stream()
                .filter(row -> row.stream.equals(stream) && !row.due.isAfter(clock.instant()))
                .map(row -> row.number)
                .max(Comparator.naturalOrder())
                .orElse(numbers.isEmpty() ? 0 : numbers.get(0));
    List<RunView> runs = views.views(all.stream().filter(row -> row.number == shown).toList());
    return GraphViews.of(definitions, found, wanted, shown, numbers, runs);
  }

  /** What a start by hand of a stream may give a value to, and what it has otherwise. */
  @GetMapping("/starts/parameters")
  ActionViews.StartParameters parameters(@RequestParam @Size(max = Limits.NAME) String stream) {
    Definitions definitions = engine.definitions();
    Stream found =
        definitions.stream(stream)
            .orElseThrow(() -> new Problems.NotFound("there is no stream \"" + stream + "\""));
    Parameters values =
        definitions
            .levels(found.department())
            .with(Parameters.Origin.STREAM, found.parameters())
            .with(
                Parameters.Origin.SCHEDULE,
                found.schedule().stream()
                    .findFirst()
                    .map(Schedule::parameters)
                    .orElse(java.util.Map.of()));
    List<ActionViews.ParameterView> all = new ArrayList<>();
    values
        .names()
        .forEach(
            name -> {
              Parameters.Effective one = values.of(name).orElseThrow();
              all.add(new ActionViews.ParameterView(name, one.value(), one.origin().word()));
            });
    return new ActionViews.StartParameters(found.asksFor(), all);
  }

  /**
   * Streams, jobs, runs of today, hosts, calendars and capacities whose names or titles have the
   * letters in this order; the best first.
   */
  @GetMapping("/find")
  List<ActionViews.FoundView> find(@RequestParam @Size(max = Limits.NAME) String text) {
    String wanted = text.strip().toLowerCase(Locale.ROOT);
    if (wanted.isEmpty()) {
      return List.of();
    }
    Definitions definitions = engine.definitions();
    List<Scored> found = new ArrayList<>();
    for (Stream stream : definitions.streams()) {
      score(found, wanted, "stream", stream.path(), stream.title());
      for (Job job : stream.jobs()) {
        score(found, wanted, "job", stream.pathOf(job), job.title());
      }
    }
    for (Kind kind :
        List.of(
            Kind.HOST,
            Kind.CAPACITY,
            Kind.BUSINESS_CALENDAR,
            Kind.HOLIDAY_CALENDAR,
            Kind.FILE_WATCH)) {
      for (String name : definitions.names(kind)) {
        score(found, wanted, kind.word(), name, "");
      }
    }
    List<ActionViews.FoundView> best = new ArrayList<>();
    found.stream()
        .sorted(Comparator.comparingInt(Scored::score).thenComparing(one -> one.view().name()))
        .limit(MOST_FOUND)
        .forEach(one -> best.add(one.view()));
    records
        .list(
            new RunRecords.Filter(
                plan.today(), plan.today(), "", "", List.of(), "", "", "", wanted),
            "",
            6)
        .forEach(
            row ->
                best.add(
                    new ActionViews.FoundView(
                        "run", row.reference(), row.title, row.state, row.id)));
    return best;
  }

  /** Something found; the lower the score, the better. */
  private record Scored(int score, ActionViews.FoundView view) {}

  private static void score(
      List<Scored> found, String wanted, String kind, String name, String title) {
    int score = Math.min(score(name, wanted), score(title, wanted) + 1);
    if (score < Integer.MAX_VALUE / 2) {
      found.add(new Scored(score, new ActionViews.FoundView(kind, name, title, "", 0)));
    }
  }

  /** 0 for the beginning of the last part, more for a part, most for letters with gaps. */
  private static int score(String given, String wanted) {
    String text = given.toLowerCase(Locale.ROOT);
    String last = text.substring(text.lastIndexOf('/') + 1);
    if (text.isEmpty()) {
      return Integer.MAX_VALUE / 2;
    }
    if (last.startsWith(wanted)) {
      return last.length();
    }
    int at = text.indexOf(wanted);
    if (at >= 0) {
      return 100 + at + text.length();
    }
    int from = 0;
    int first = -1;
    for (int i = 0; i < wanted.length(); i++) {
      from = text.indexOf(wanted.charAt(i), from);
      if (from < 0) {
        return Integer.MAX_VALUE / 2;
      }
      first = first < 0 ? from : first;
      from++;
    }
    int gaps = from - first - wanted.length();
    return gaps > 12 ? Integer.MAX_VALUE / 2 : 1_000 + gaps * 10 + text.length();
  }
}
