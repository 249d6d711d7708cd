package dev.purser.core.board;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.definition.Definitions;
import dev.purser.core.forecast.Outlook;
import dev.purser.core.run.RunSpec;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Whether what was played apart had enough together. Times are minutes: "a 0-5, b 5-9". */
class TogetherTest {
  private static final String JOBS =
      """
      stream: night
      schedule: { days: every day, at: "21:30", zone: Europe/Oslo }
      jobs:
        a: { host: any of quays, run: x }
        b: { host: any of quays, run: x }
        c: { host: any of quays, run: x }
        d: { host: any of quays, run: x }
        n: { host: quay-north, run: x }
        m: { host: quay-north, run: x }
        p: { host: quay-south, run: x }
        one: { host: quay-free, run: x, takes: { slots: 1 } }
        two: { host: quay-free, run: x, takes: { slots: 2 } }
        three: { host: quay-free, run: x, takes: { slots: 3 } }
        stopped: { host: quay-free, run: x, takes: { slots: 3 }, stop-after: 10m }
      """;

  private static final String PARTS =
      """
      stream: night
      schedule: { days: every day, at: "21:30", zone: Europe/Oslo }
      jobs:
        many: { host: 2 of quays, run: x }
      """;

  private static Board board(int north, int south) {
    return board(north, south, JOBS);
  }

  private static Board board(int north, int south, String jobs) {
    Definitions definitions =
        Pier.read(
            host("quay-north", "quay", north),
            host("quay-south", "quay", south),
            host("quay-free", "free", 0),
            "host-group: quays\nlabels: [quay]\n",
            "capacity: slots\nunits: 4\n",
            jobs);
    return Outlook.boardOf(
        definitions, Pier.specs(definitions, Pier.DATE, 1), Instant.ofEpochMilli(Pier.DUE - 1));
  }

  private static String host(String name, String label, int atMost) {
    return "host: %s\nlabels: [%s]\n%s"
        .formatted(name, label, atMost == 0 ? "" : "at-most: " + atMost + "\n");
  }

  private static boolean isEnough(Enough together, Board board, String given) {
    Map<Integer, long[]> times = new HashMap<>();
    for (String one : given.isEmpty() ? List.<String>of() : List.of(given.split(", "))) {
      String job = one.substring(0, one.indexOf(' '));
      String[] words = one.substring(one.indexOf(' ') + 1).split("-");
      for (RunSpec run : board.runs()) {
        if (run.run().reference().job().equals(job)) {
          long start = Pier.minute(Integer.parseInt(words[0]));
          long end = Pier.minute(Integer.parseInt(words[1]));
          times.put(board.indexOf(run.id()), new long[] {start, end});
        }
      }
    }
    long[] never = new long[2];
    return together.in(
        run -> times.getOrDefault(run, never)[0], run -> times.getOrDefault(run, never)[1]);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "''                                  | true  | nobody takes anything",
        "one 0-5, three 1-2                  | true  | all four are taken",
        "two 0-5, three 4-9                  | false | five for a minute",
        "two 0-5, three 5-9                  | true  | one begins when the other ends",
        "two 5-9, three 0-5                  | true  | the same the other way round",
        "two 5-9, stopped 0-5                | false | what is stopped ends after others begin",
        "two 6-9, stopped 0-5                | true  | but not a minute after",
        "three 3-3, two 3-3                  | false | both at once, though for no time",
        "three 0-5, two 0-1, one 4-9         | false | the least of them is one too many",
        "three 0-1, two 2-3, stopped 4-5     | true  | each gives back all that it has taken",
      })
  void unitsAreCountedAtEachMoment(String given, boolean enough, String why) {
    Board board = board(0, 0);
    Enough together = board.enough(new Scarcity(), Set.of(), 80);
    assertThat(isEnough(together, board, given)).as(why).isEqualTo(enough);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "a 0-5, b 0-5, c 0-5                 | 2 | 2 | true  | three of four",
        "a 0-5, b 0-5, c 0-5, d 0-5          | 2 | 2 | true  | four of four",
        "a 0-5, b 0-5, c 0-5, d 0-5          | 2 | 1 | false | four of three",
        "a 0-5, b 0-5, c 0-5, d 0-5          | 2 | 0 | true  | one host takes any number",
        "n 0-5, a 0-5, b 0-5, c 0-5         | 3 | 3 | true  | at most two of three beside n",
        "n 0-5, a 0-5, b 0-5, c 0-5         | 2 | 2 | false | which are not shown to have room",
        "n 0-5, m 0-5, a 0-5                 | 2 | 2 | false | a may have gone to north first",
        "n 0-5, m 0-5, a 0-5                 | 3 | 0 | true  | even then there is room",
        "n 0-5, m 0-5, a 0-5, b 0-5, c 0-5   | 3 | 0 | false | two of them may be there as well",
        "n 0-5, p 0-5, a 0-5                 | 1 | 1 | false | three of two",
        "n 0-5, m 5-9, p 0-9                 | 1 | 1 | true  | one after the other",
      })
  void roomIsCountedAsTheLeastLoadedHostIsChosen(
      String given, int north, int south, boolean enough, String why) {
    Board board = board(north, south);
    Enough together = board.enough(new Scarcity(), Set.of(), 80);
    assertThat(isEnough(together, board, given)).as(why).isEqualTo(enough);
  }

  @ParameterizedTest
  @CsvSource({"'', true", "quay-north, false", "quay-free, true"})
  void aHostThatMayCloseHasNoRoom(String closing, boolean enough) {
    Board board = board(2, 2);
    Enough together = board.enough(new Scarcity(), Set.of(closing), 80);
    assertThat(isEnough(together, board, "a 0-5, b 0-5, c 0-5")).isEqualTo(enough);
  }

  /** Nobody asks for south alone, which has room for one: the others all go to north. */
  @ParameterizedTest
  @CsvSource({"3, false", "4, true"})
  void whereOneHostIsFullTheOtherFills(int north, boolean enough) {
    Board board = board(north, 1, JOBS.replaceAll(" *p: .*\n", ""));
    Enough together = board.enough(new Scarcity(), Set.of(), 80);
    assertThat(isEnough(together, board, "n 0-5, a 0-5, b 0-5, c 0-5")).isEqualTo(enough);
  }

  /** The second part must not be where the first is, so that the other host must have room. */
  @Test
  void partsThatKeepApartNeedRoomOnTheLeastHost() {
    Board board = board(1, 4, PARTS);
    Enough together = board.enough(new Scarcity(), Set.of(), 80);
    assertThat(isEnough(together, board, "part-1 0-5")).isTrue();
    assertThat(isEnough(together, board, "part-1 0-5, part-2 0-5")).isFalse();
  }

  @Test
  void whatIsNearlyShortIsScarceFromThenOn() {
    Board board = board(4, 4);
    Scarcity scarcity = new Scarcity();
    Enough together = board.enough(scarcity, Set.of(), 80);
    assertThat(isEnough(together, board, "three 0-5, n 0-5, p 0-5")).isTrue();
    assertThat(scarcity).as("a fifth is left").isEqualTo(new Scarcity());
    assertThat(isEnough(together, board, "three 0-5, one 4-9")).isTrue();
    assertThat(scarcity).as("nothing is left").isNotEqualTo(new Scarcity());
    Enough after = board.enough(scarcity, Set.of(), 80);
    assertThat(isEnough(after, board, "three 0-5, two 0-5"))
        .as("whose takers are all played together need not be judged")
        .isTrue();
  }
}
