package dev.purser.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;

/**
 * What each command of the command line takes from its start to its end, beside an empty Java
 * program that is started in turn with it: the median of 20 of each.
 */
final class CommandTimes {
  private static final int ROUNDS = 20;

  private CommandTimes() {}

  /**
   * Prints the figures.
   *
   * @param args the command line's program; how the empty program is started, as one argument; a
   *     file with a command a line
   */
  public static void main(String[] args) throws IOException, InterruptedException {
    List<String> empty = List.of(args[1].split(" "));
    System.out.printf("%-52s %8s %8s %6s%n", "command", "median", "empty", "times");
    for (String line : Files.readAllLines(Path.of(args[2]))) {
      List<String> command = new ArrayList<>(List.of(args[0]));
      command.addAll(Arrays.asList(line.split(" ")));
      double[] own = new double[ROUNDS];
      double[] beside = new double[ROUNDS];
      run(command);
      for (int i = 0; i < ROUNDS; i++) {
        beside[i] = run(empty);
        own[i] = run(command);
      }
      System.out.printf(
          Locale.ROOT,
          "%-52s %6.3f s %6.3f s %6.1f%n",
          line,
          median(own),
          median(beside),
          median(own) / median(beside));
    }
  }

  private static double run(List<String> command) throws IOException, InterruptedException {
    long begin = System.nanoTime();
    Process process =
        new ProcessBuilder(command)
            .redirectOutput(ProcessBuilder.Redirect.DISCARD)
            .redirectError(ProcessBuilder.Redirect.DISCARD)
            .start();
    process.waitFor();
    return (System.nanoTime() - begin) / 1e9;
  }

  private static double median(double[] all) {
    double[] sorted = all.clone();
    Arrays.sort(sorted);
    return sorted[sorted.length / 2];
  }
}
