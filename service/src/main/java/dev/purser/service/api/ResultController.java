package dev.purser.service.api;

import dev.purser.core.problem.NotUnderstood;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.result.ResultFiles;
import dev.purser.service.result.Results;
import dev.purser.service.run.RunRecords;
import dev.purser.service.run.RunRow;
import dev.purser.wire.api.Limits;
import dev.purser.wire.api.ResultViews;
import jakarta.servlet.http.HttpServletResponse;
import jakarta.validation.constraints.Max;
import jakarta.validation.constraints.Min;
import jakarta.validation.constraints.Size;
import java.io.BufferedWriter;
import java.io.IOException;
import java.io.OutputStreamWriter;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Rows that queries of runs gave. */
@RestController
@RequestMapping(path = "/api/v1/runs/{id}/results")
class ResultController {
  private static final int MOST_SHOWN = 1_000;

  private final Results results;
  private final RunRecords runs;

  ResultController(Results results, RunRecords runs) {
    this.results = results;
    this.runs = runs;
  }

  /** The results of a run, by attempt and number; none where it has asked for no rows. */
  @GetMapping(produces = MediaType.APPLICATION_JSON_VALUE)
  @Paged(by = "number")
  List<ResultViews.ResultView> list(@PathVariable long id) {
    return results.of(row(id).id).stream().map(ResultController::view).toList();
  }

  private static ResultViews.ResultView view(Results.Result one) {
    return new ResultViews.ResultView(
        one.attempt(), one.number(), one.columns(), one.found(), one.kept(), one.complete());
  }

  /**
   * The first rows of a result.
   *
   * @param attempt 0 for the last one that has it
   */
  @GetMapping(path = "/{number}", produces = MediaType.APPLICATION_JSON_VALUE)
  ResultViews.ResultRowsView rows(
      @PathVariable long id,
      @PathVariable int number,
      @RequestParam(defaultValue = "0") @Min(0) int attempt,
      @RequestParam(defaultValue = "200") @Min(0) @Max(MOST_SHOWN) int limit)
      throws IOException {
    Results.Result result = result(id, attempt, number);
    List<List<String>> rows = new ArrayList<>();
    results.read(id, result, limit, row -> rows.add(ResultFiles.texts(row)));
    return new ResultViews.ResultRowsView(view(result), rows);
  }

  /**
   * All kept rows of a result as a file, as they are read.
   *
   * @param format {@code csv} (RFC 4180, a header row first) or {@code json} (an array of objects)
   */
  @GetMapping("/{number}/file")
  void file(
      @PathVariable long id,
      @PathVariable int number,
      @RequestParam(defaultValue = "0") @Min(0) int attempt,
      @RequestParam(defaultValue = "csv") @Size(max = Limits.NAME) String format,
      HttpServletResponse answer)
      throws IOException {
    Results.Result result = result(id, attempt, number);
    boolean csv = format.equals("csv");
    if (!csv && !format.equals("json")) {
      throw new NotUnderstood("\"" + format + "\" is not a format; expected csv or json");
    }
    answer.setContentType(csv ? "text/csv; charset=utf-8" : MediaType.APPLICATION_JSON_VALUE);
    answer.setHeader(
        "Content-Disposition",
        "attachment; filename=\"result-" + id + "-" + number + "." + format + "\"");
    Writer out =
        new BufferedWriter(
            new OutputStreamWriter(answer.getOutputStream(), StandardCharsets.UTF_8), 64 * 1024);
    if (csv) {
      ResultFiles.csv(results, id, result, out);
    } else {
      ResultFiles.json(results, id, result, out);
    }
    out.flush();
  }

  private Results.Result result(long id, int attempt, int number) {
    RunRow run = row(id);
    return results
        .of(run.id, attempt, number)
        .orElseThrow(
            () ->
                new Problems.NotFound(
                    run.reference()
                        + " has no result "
                        + number
                        + (attempt == 0 ? "" : " of attempt " + attempt)));
  }

  private RunRow row(long id) {
    return runs.byId(id).orElseThrow(() -> new Problems.NotFound("there is no run " + id));
  }
}
