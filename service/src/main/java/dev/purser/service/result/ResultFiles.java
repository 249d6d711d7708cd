package dev.purser.service.result;

import java.io.IOException;
import java.io.Writer;
import java.math.BigDecimal;
import java.util.ArrayList;
import java.util.List;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;
import tools.jackson.core.JsonGenerator;
import tools.jackson.databind.json.JsonMapper;

/** Results written as files, row by row. */
public final class ResultFiles {
  private static final JsonMapper JSON = JsonMapper.builder().build();

  private ResultFiles() {}

  /** As CSV (RFC 4180), a header row first. */
  public static void csv(Results results, long run, Results.Result result, Writer out)
      throws IOException {
    CSVPrinter printer = new CSVPrinter(out, CSVFormat.RFC4180);
    printer.printRecord(result.columns());
    results.read(run, result, Long.MAX_VALUE, row -> printer.printRecord(texts(row)));
    printer.flush();
  }

  /** As JSON: an array of objects. */
  public static void json(Results results, long run, Results.Result result, Writer out)
      throws IOException {
    try (JsonGenerator json = JSON.createGenerator(out)) {
      json.writeStartArray();
      results.read(
          run,
          result,
          Long.MAX_VALUE,
          row -> {
            json.writeStartObject();
            for (int i = 0; i < row.size(); i++) {
              json.writePOJOProperty(result.columns().get(i), row.get(i));
            }
            json.writeEndObject();
          });
      json.writeEndArray();
    }
  }

  /** The cells of a row as text; null where there is nothing. */
  public static List<String> texts(List<Object> row) {
    List<String> texts = new ArrayList<>(row.size());
    row.forEach(value -> texts.add(value == null ? null : text(value)));
    return texts;
  }

  private static String text(Object value) {
    return value instanceof BigDecimal number ? number.toPlainString() : value.toString();
  }
}
