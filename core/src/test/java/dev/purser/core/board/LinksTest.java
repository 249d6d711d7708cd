package dev.purser.core.board;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.run.RunSpec;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.TreeMap;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Runs that come one after the other are tied as if all had come at once. */
class LinksTest {
  private static final String SCHEDULE =
      "schedule: { days: every day, at: [\"08:00\", \"21:30\"], zone: Europe/Oslo }\n";
  private static final Definitions WORLD =
      Pier.read(
          Pier.SITE,
          "stream: first\n"
              + SCHEDULE
              + "jobs:\n"
              + "  a: { host: quay-north, run: x }\n"
              + "  b: { host: quay-north, run: x, waits-for: a succeeded or a failed }\n"
              + "  c: { host: each of quays, run: x, waits-for: b succeeded and a ended }\n"
              + "  d: { stream: other, waits-for: c succeeded }\n",
          "stream: other\njobs:\n"
              + "  e: { host: quay-south, run: x }\n"
              + "  f: { host: quay-south, run: x, waits-for: e succeeded }\n",
          "stream: second\n"
              + SCHEDULE
              + "jobs:\n"
              + "  g: { host: quay-north, run: x, waits-for: first/b succeeded }\n"
              + "  h: { host: quay-north, run: x, waits-for: g succeeded and not first/a running }\n"
              + "  i: { host: quay-north, run: x, waits-for: first/c succeeded within 30h }\n"
              + "  j: { host: quay-north, run: x, waits-for: first/a succeeded on the previous business date }\n"
              + "  k: { host: quay-north, run: x, waits-for: first succeeded }\n");

  private final List<List<RunSpec>> pieces = new ArrayList<>();
  private long nextId = 1;

  private void add(List<PlannedRun> runs) {
    List<RunSpec> specs = new ArrayList<>();
    runs.forEach(run -> specs.add(new RunSpec(nextId++, run, 0)));
    pieces.add(specs);
  }

  private static String ties(Board board, long id) {
    return "looks at "
        + board.looksAt(id).stream().sorted().toList()
        + ", followed by "
        + board.followers(id)
        + ", above it "
        + board.above(id)
        + ", below it "
        + board.below(id);
  }

  @ParameterizedTest
  @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12})
  void inWhateverOrderTheyCome(long seed) {
    Random dice = new Random(seed);
    Planner planner = new Planner(WORLD);
    ZoneId zone = ZoneId.of("Europe/Oslo");
    for (Stream stream : WORLD.streams()) {
      for (LocalDate date : List.of(Pier.DATE.minusDays(1), Pier.DATE)) {
        add(planner.plan(stream, date));
        for (int number = 3; number < 3 + dice.nextInt(3); number++) {
          Instant at = Instant.ofEpochMilli(Pier.DUE).minusSeconds(dice.nextInt(100_000));
          add(planner.byHand(stream, Planner.ByHand.of(Optional.empty(), date, number, at, zone)));
        }
      }
    }
    Collections.shuffle(pieces, dice);
    long now = Pier.DUE - 200_000_000;
    Board slowly = new Board();
    List<RunSpec> all = new ArrayList<>();
    for (List<RunSpec> piece : pieces) {
      slowly.turn(new BoardEvent.RunsPlanned(now, piece));
      all.addAll(piece);
      if (dice.nextInt(4) == 0) {
        slowly = new Board(slowly);
      }
    }
    Board atOnce = new Board();
    atOnce.turn(new BoardEvent.RunsPlanned(now, all));
    TreeMap<Long, String> found = new TreeMap<>();
    TreeMap<Long, String> expected = new TreeMap<>();
    for (RunSpec run : all) {
      found.put(run.id(), ties(slowly, run.id()));
      expected.put(run.id(), ties(atOnce, run.id()));
    }
    assertThat(found).hasSizeGreaterThan(20).isEqualTo(expected);
  }
}
