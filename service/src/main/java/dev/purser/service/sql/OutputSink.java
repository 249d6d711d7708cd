package dev.purser.service.sql;

import dev.purser.remote.sql.RowSink;
import dev.purser.service.result.Results;
import dev.purser.service.work.Attempt;
import dev.purser.service.work.Reports;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;

/** Keeps what statements give: rows as results, the first of them as a table in the output. */
final class OutputSink implements RowSink {
  private static final int SHOWN = 20;
  private static final int WIDEST = 40;

  private final Attempt attempt;
  private final Reports reports;
  private final Results results;
  private final List<List<String>> shown = new ArrayList<>();
  private Results.Writer writer;
  private int number;
  private boolean full;

  OutputSink(Attempt attempt, Reports reports, Results results) {
    this.attempt = attempt;
    this.reports = reports;
    this.results = results;
  }

  @Override
  public void say(String line) {
    reports.output(attempt, line + "\n");
  }

  @Override
  public void begin(int query, List<String> columns) {
    number = query;
    full = false;
    shown.clear();
    shown.add(columns);
    writer = results.begin(attempt.id(), attempt.number(), query, columns);
  }

  @Override
  public void row(List<Object> values) {
    full |= !writer.add(values);
    if (shown.size() <= SHOWN) {
      shown.add(values.stream().map(OutputSink::cell).toList());
    }
  }

  private static String cell(Object value) {
    String text = value == null ? "" : value.toString().replaceAll("\\s+", " ");
    return text.length() > WIDEST ? text.substring(0, WIDEST - 1) + "…" : text;
  }

  @Override
  public void end(long rows, boolean whole) {
    writer.end(rows);
    StringBuilder text = new StringBuilder();
    shown.forEach(row -> text.append("  ").append(line(row)).append('\n'));
    if (rows > SHOWN) {
      text.append("  … of ").append(rows).append(" rows: purser results RUN --number ");
      text.append(number).append('\n');
    }
    if (!whole || full) {
      text.append("  not all of them are kept\n");
    }
    reports.output(attempt, text.toString());
  }

  private String line(List<String> cells) {
    List<String> padded = new ArrayList<>();
    for (int i = 0; i < cells.size(); i++) {
      int column = i;
      int width = shown.stream().mapToInt(row -> row.get(column).length()).max().orElse(0);
      padded.add(cells.get(i) + " ".repeat(width - cells.get(i).length()));
    }
    return padded.stream().collect(Collectors.joining("  ")).stripTrailing();
  }
}
