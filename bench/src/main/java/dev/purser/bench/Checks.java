package dev.purser.bench;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import dev.purser.core.reading.SourceFile;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.function.IntFunction;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.snakeyaml.engine.v2.api.LoadSettings;
import org.snakeyaml.engine.v2.api.lowlevel.Compose;

/**
 * What a check takes beside the YAML parser alone on the same text, and whether it grows in step
 * with it: streams that wait for each other in a chain, streams for themselves, one stream of many
 * jobs. Each at half and at whole size; the first round is cold, as a command would meet it, the
 * last column is the median of the last rounds, when Java has settled.
 */
final class Checks {
  private static final LocalDate TODAY = LocalDate.of(2027, 3, 4);
  private static final int ROUNDS = 40;
  private static final int SETTLED = 15;
  private static final String HEAD =
      "department: Fleet\nowner: night-desk\ntitle: T\n"
          + "schedule: { days: every day, at: \"01:00\", zone: Europe/Oslo }\njobs:\n";
  private static final String SITE =
      "host: quay-north\n---\nrecipient: night-desk\nmail: night@desk.example\n";

  private Checks() {}

  /** Prints the figures. */
  public static void main(String[] args) {
    measure("streams in a chain", 4_000, Checks::chain);
    measure("streams of two jobs", 5_000, Checks::streams);
    measure("jobs in one stream", 20_000, Checks::jobs);
  }

  private static void measure(String what, int size, IntFunction<String> text) {
    for (int n : new int[] {size / 2, size}) {
      String yaml = text.apply(n);
      double parserCold = 0;
      double checkCold = 0;
      double[] parser = new double[SETTLED];
      double[] check = new double[SETTLED];
      for (int round = 0; round < ROUNDS; round++) {
        double parsed = seconds(() -> parse(yaml));
        double checked = seconds(() -> check(yaml));
        if (round == 0) {
          parserCold = parsed;
          checkCold = checked;
        } else if (round >= ROUNDS - SETTLED) {
          parser[ROUNDS - 1 - round] = parsed;
          check[ROUNDS - 1 - round] = checked;
        }
      }
      System.out.printf(
          Locale.ROOT,
          "%6d %-20s %5.1f MB  first %.2f s, parser alone %.2f s (%.1f times)   settled %.3f s,"
              + " parser alone %.3f s (%.1f times)%n",
          n,
          what,
          yaml.length() / 1e6,
          checkCold,
          parserCold,
          checkCold / parserCold,
          median(check),
          median(parser),
          median(check) / median(parser));
    }
  }

  private static double median(double[] all) {
    Arrays.sort(all);
    return all[all.length / 2];
  }

  private static double seconds(Runnable work) {
    long begin = System.nanoTime();
    work.run();
    return (System.nanoTime() - begin) / 1e9;
  }

  private static void parse(String yaml) {
    LoadSettings settings = LoadSettings.builder().setUseMarks(true).build();
    new Compose(settings).composeAllFromString(yaml).forEach(node -> {});
  }

  private static void check(String yaml) {
    DefinitionCheck.Result result =
        DefinitionCheck.check(Definitions.none(), List.of(new SourceFile("all", yaml)), TODAY);
    if (!result.isSound()) {
      throw new IllegalStateException(result.problems().get(0).toString());
    }
  }

  private static String chain(int n) {
    return SITE
        + each(
            n,
            i ->
                "---\nstream: line/s"
                    + i
                    + "\n"
                    + HEAD
                    + job("a", i == 0 ? "" : "line/s" + (i - 1) + "/a"));
  }

  private static String streams(int n) {
    return SITE
        + each(n, i -> "---\nstream: line/s" + i + "\n" + HEAD + job("a", "") + job("b", "a"));
  }

  private static String jobs(int n) {
    return SITE
        + "---\nstream: line/long\n"
        + HEAD
        + each(n, i -> job("j" + i, i == 0 ? "" : "j" + (i - 1)));
  }

  private static String each(int n, IntFunction<String> text) {
    return IntStream.range(0, n).mapToObj(text).collect(Collectors.joining());
  }

  private static String job(String name, String after) {
    return "  "
        + name
        + ": { title: T, host: quay-north, run: \"./work.sh\""
        + (after.isEmpty() ? "" : ", waits-for: " + after + " succeeded")
        + " }\n";
  }
}
