package dev.purser.bench;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Kind;
import dev.purser.core.preview.Preview;
import dev.purser.core.reading.SourceFile;
import java.time.LocalDate;
import java.util.List;
import java.util.Locale;
import java.util.function.Supplier;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.api.lowlevel.Compose;

/**
 * A stream for each of 2,000 rows of a table: checked, beside the YAML parser alone on the streams
 * written out; and what a change of their template changes over 60 days. Cold, as a command would
 * meet it, then the best of the other rounds.
 */
final class Tables {
  private static final LocalDate TODAY = LocalDate.of(2027, 3, 4);
  private static final int ROWS = 2_000;
  private static final int DAYS = 60;
  private static final int ROUNDS = 6;
  private static final String SITE =
      "host: quay-north\n---\nrecipient: night-desk\nmail: night@desk.example\n---\n";

  private Tables() {}

  /** Prints the figures. */
  public static void main(String[] args) {
    String rows =
        IntStream.range(0, ROWS)
            .mapToObj(
                n -> "ship-" + n + "," + String.format(Locale.ROOT, "%02d:%02d", n % 24, n % 60))
            .collect(Collectors.joining("\n", "ship,at\n", "\n"));
    List<SourceFile> files =
        List.of(
            new SourceFile("a.yaml", SITE + template("4m") + FOR_EACH),
            new SourceFile("t.csv", rows));
    Definitions before = time("check of " + ROWS + " rows", () -> check(Definitions.none(), files));
    String written =
        before.names(Kind.STREAM).stream()
            .map(name -> before.document(Kind.STREAM, name).orElseThrow().whole())
            .collect(Collectors.joining("---\n"));
    time(
        "the parser alone on the same streams, written out",
        () -> {
          LoadSettings settings = LoadSettings.builder().setUseMarks(true).build();
          new Compose(settings).composeAllFromString(written).forEach(node -> {});
          return written;
        });
    List<SourceFile> changed =
        List.of(new SourceFile("b.yaml", template("4m").replace("every day", "weekdays")));
    time(
        "preview of a change of its template over " + DAYS + " days",
        () -> Preview.of(before, check(before, changed), TODAY, DAYS));
  }

  private static final String FOR_EACH =
      "---\nfor-each: logs\nfrom-template: log\ntable-file: t.csv\n";

  private static String template(String usually) {
    return "template: log\nparameters: { ship: { type: name }, at: { type: time } }\nof-stream:\n"
        + "  stream: ships/$<ship>\n  title: Log of $<ship>\n  owner: night-desk\n"
        + "  schedule: { days: every day, at: \"$<at>\", zone: Europe/Oslo }\n  jobs:\n"
        + "    fetch: { run: ./fetch $<ship>, host: quay-north, usually: "
        + usually
        + " }\n    put: { run: ./put $<ship>, host: quay-north, waits-for: fetch succeeded }\n";
  }

  private static Definitions check(Definitions existing, List<SourceFile> files) {
    DefinitionCheck.Result result = DefinitionCheck.check(existing, files, TODAY);
    if (!result.isSound()) {
      throw new IllegalStateException(result.problems().get(0).toString());
    }
    return result.definitions();
  }

  private static <T> T time(String what, Supplier<T> work) {
    T found = null;
    double first = 0;
    double best = Double.MAX_VALUE;
    for (int round = 0; round < ROUNDS; round++) {
      long begin = System.nanoTime();
      found = work.get();
      double took = (System.nanoTime() - begin) / 1e9;
      first = round == 0 ? took : first;
      best = round == 0 ? best : Math.min(best, took);
    }
    System.out.printf(Locale.ROOT, "%-55s first %.2f s, best %.3f s%n", what, first, best);
    return found;
  }
}
