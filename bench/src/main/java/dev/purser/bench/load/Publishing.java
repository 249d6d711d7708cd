package dev.purser.bench.load;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import dev.purser.core.reading.SourceFile;
import java.io.IOException;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;

/**
 * What publishing takes on a large site: all of it at once, beside reading and checking the same
 * text in this process and nothing else; and one change, beside a request that looks at one stream.
 * Arguments: the service's address, a token, how many streams.
 */
public final class Publishing {
  private static final int ROUNDS = 9;

  private Publishing() {}

  /** Runs it. */
  public static void main(String[] args) throws IOException, InterruptedException {
    Service service = new Service(args[0], args[1]);
    int streams = Integer.parseInt(args[2]);
    for (String command : List.of("./a", "./b")) {
      String all = "host: publishing\n---\n" + world(streams, command);
      double bare = seconds(() -> check(all));
      double taken = seconds(() -> service.post("/api/v1/definitions", Service.file(all)));
      System.out.printf(
          Locale.ROOT,
          "%d streams %s: %.1f s, reading and checking alone %.1f s: %.1f times%n",
          streams,
          command.equals("./a") ? "published anew" : "changed at once",
          taken,
          bare,
          taken / bare);
    }
    List<Double> one = new ArrayList<>();
    List<Double> beside = new ArrayList<>();
    for (int i = 0; i < ROUNDS; i++) {
      int number = i;
      beside.add(seconds(() -> service.get("/api/v1/streams/one?stream=publishing/s" + number)));
      String text = stream(number, "./other");
      one.add(seconds(() -> service.post("/api/v1/definitions", Service.file(text))));
    }
    System.out.printf(
        Locale.ROOT,
        "one change among %d streams: median %.2f s; a look at one stream %.3f s%n",
        streams,
        median(one),
        median(beside));
  }

  private static void check(String text) {
    DefinitionCheck.Result result =
        DefinitionCheck.check(
            Definitions.none(),
            List.of(new SourceFile("all.yaml", text)),
            LocalDate.of(2027, 3, 4));
    if (!result.isSound()) {
      throw new IllegalStateException(result.problems().get(0).toString());
    }
  }

  private static String world(int streams, String command) {
    StringBuilder all = new StringBuilder();
    for (int i = 0; i < streams; i++) {
      all.append(i == 0 ? "" : "---\n").append(stream(i, command));
    }
    return all.toString();
  }

  private static String stream(int number, String command) {
    return String.format(
        Locale.ROOT,
        "stream: publishing/s%d%npaused: no%nschedule: { days: business days, at: \"%02d:%02d\","
            + " zone: Europe/Oslo }%njobs:%n  a: { host: publishing, run: \"%s %d\" }%n"
            + "  b: { host: publishing, run: ./after, waits-for: a succeeded }%n",
        number,
        number % 24,
        number % 60,
        command,
        number);
  }

  /** Something that takes time. */
  private interface Work {
    void run() throws IOException, InterruptedException;
  }

  private static double seconds(Work work) throws IOException, InterruptedException {
    long begin = System.nanoTime();
    work.run();
    return (System.nanoTime() - begin) / 1e9;
  }

  private static double median(List<Double> all) {
    double[] sorted = all.stream().mapToDouble(one -> one).toArray();
    Arrays.sort(sorted);
    return sorted[sorted.length / 2];
  }
}
