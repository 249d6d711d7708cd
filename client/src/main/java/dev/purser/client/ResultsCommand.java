package dev.purser.client;

import dev.purser.wire.api.ResultViews;
import dev.purser.wire.api.RunView;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** {@code purser results}. */
@CommandLine.Command(
    addMethodSubcommands = false,
    name = "results",
    mixinStandardHelpOptions = true,
    description =
        "Rows that the queries of a run gave: which there are, the first of them, or a file.",
    footer = {
      "",
      "Example: purser results accounts/orders/count-orders@2027-03-04",
      "Example: purser results accounts/orders/count-orders@2027-03-04 --to orders.csv"
    })
final class ResultsCommand implements Callable<Integer> {
  private static final int SHOWN = 50;

  @CommandLine.Mixin private Output output;

  @CommandLine.Parameters(paramLabel = "RUN", description = "A reference, a tail of one, or an id.")
  private String reference;

  @CommandLine.Option(
      names = "--number",
      defaultValue = "0",
      description = "Which query's; the last one's if not said.")
  private int number;

  @CommandLine.Option(
      names = "--to",
      description = "Puts all rows into this file: CSV, or JSON where its name ends with .json.")
  private Path to;

  @Override
  public Integer call() throws IOException {
    Service service = Service.loggedIn();
    RunView run = RunCommands.find(service, reference);
    String path = "/runs/" + run.id() + "/results";
    List<ResultViews.ResultView> all = service.list(ResultViews.ResultView.class, path, Map.of());
    if (all.isEmpty()) {
      throw new Service.Refusal(1, run.reference() + " has no results: no query of it gave rows");
    }
    int which = number == 0 ? all.get(all.size() - 1).number() : number;
    return to == null ? print(service, path + "/" + which, all) : save(service, path + "/" + which);
  }

  private int print(Service service, String path, List<ResultViews.ResultView> all) {
    ResultViews.ResultRowsView rows =
        service.get(ResultViews.ResultRowsView.class, path, Map.of("limit", SHOWN));
    output.one(rows, () -> inWords(rows, all));
    return 0;
  }

  private void inWords(ResultViews.ResultRowsView rows, List<ResultViews.ResultView> all) {
    ResultViews.ResultView result = rows.result();
    List<List<String>> cells = new ArrayList<>();
    cells.add(result.columns());
    rows.rows().forEach(row -> cells.add(row.stream().map(one -> one == null ? "" : one).toList()));
    int[] widths = new int[result.columns().size()];
    cells.forEach(
        row -> {
          for (int i = 0; i < row.size(); i++) {
            widths[i] = Math.max(widths[i], Math.min(60, row.get(i).length()));
          }
        });
    for (List<String> row : cells) {
      StringBuilder line = new StringBuilder();
      for (int i = 0; i < row.size(); i++) {
        String text = row.get(i).replaceAll("\\s", " ");
        String cut = text.length() > 60 ? text.substring(0, 59) + "…" : text;
        line.append(cut).append(" ".repeat(widths[i] - cut.length() + 2));
      }
      output.line(line.toString().stripTrailing());
    }
    if (result.found() > rows.rows().size()) {
      output.line(
          rows.rows().size()
              + " of "
              + result.found()
              + " rows"
              + (result.kept() < result.found() ? ", of which " + result.kept() + " are kept" : "")
              + "; all that are kept with --to FILE.csv");
    }
    if (all.size() > 1) {
      output.line("result " + result.number() + " of " + all.size() + "; others with --number N");
    }
  }

  /** Beside the file first, so that half of one is never taken for it. */
  private int save(Service service, String path) throws IOException {
    String format = to.toString().endsWith(".json") ? "json" : "csv";
    Path part = to.resolveSibling(to.getFileName() + ".part");
    try {
      try (OutputStream out = Files.newOutputStream(part)) {
        service.save(path + "/file", Map.of("format", format), out);
      }
      Files.move(part, to, java.nio.file.StandardCopyOption.REPLACE_EXISTING);
    } finally {
      Files.deleteIfExists(part);
    }
    output.line("the rows are in " + to);
    return 0;
  }
}
