package dev.purser.core.arrival;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.definition.FileWatch;
import java.time.Duration;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.concurrent.atomic.AtomicLong;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class LedgerTest {
  private static final FileWatch FEED = FileWatch.of("feed", "quay-north", "/in/*.csv");
  private static final FileWatch DATED =
      FileWatch.of("dated", "quay-north", "/in/${date | yyyyMMdd}.csv");
  private static final LocalDate THURSDAY = LocalDate.of(2027, 3, 4);
  private static final Optional<LocalDate> ANY = Optional.empty();

  private final AtomicLong ids = new AtomicLong();
  private final Ledger ledger = new Ledger(ids::incrementAndGet);

  private static Finding finding(String name, Finding.State state, long modified) {
    return new Finding("feed", "/in", "*.csv", name, 5, modified, "k" + modified, state, "", "sum");
  }

  private Ledger.Outcome found(String name, Finding.State state, long modified, long now) {
    return ledger.found(
        FEED, "quay-north", finding(name, state, modified), ANY, Ledger.Known.NOTHING, now);
  }

  private List<String> taken(boolean byName, long run) {
    return ledger.take(FEED, ANY, byName, run, 100).stream()
        .flatMap(outcome -> outcome.changed().stream())
        .map(Arrival::name)
        .toList();
  }

  @Test
  void filesAreGivenInTheOrderOfTheirArrivalOrOfTheirNames() {
    found("c.csv", Finding.State.READY, 1, 10);
    found("a.csv", Finding.State.READY, 2, 20);
    found("b.csv", Finding.State.READY, 3, 30);
    assertThat(taken(false, 1)).containsExactly("c.csv");
    assertThat(taken(true, 2)).containsExactly("a.csv");
    assertThat(taken(false, 3)).containsExactly("b.csv");
    assertThat(taken(false, 4)).isEmpty();
    assertThat(ledger.taken("feed")).isEqualTo(3);
  }

  @Test
  void aDatedFileIsForItsDateOnly() {
    Finding finding = finding("20270304.csv", Finding.State.READY, 1);
    ledger.found(DATED, "quay-north", finding, Optional.of(THURSDAY), Ledger.Known.NOTHING, 10);
    assertThat(ledger.take(DATED, Optional.of(THURSDAY.plusDays(1)), false, 1, 20)).isEmpty();
    assertThat(ledger.take(DATED, Optional.of(THURSDAY), false, 1, 20)).isPresent();
  }

  @Test
  void aFileWithoutADateThatNobodyWantedInTimeIsNotTakenForTodays() {
    found("a.csv", Finding.State.READY, 1, 10);
    long later = 10 + Duration.ofDays(1).toMillis() + 1;
    Optional<Ledger.Outcome> outcome = ledger.take(FEED, Optional.of(THURSDAY), false, 1, later);
    assertThat(outcome.orElseThrow().done()).isFalse();
    assertThat(outcome.get().changed())
        .extracting(one -> one.state() + " " + one.note())
        .containsExactly("UNPROCESSED nobody wanted it within 1d");
  }

  @Test
  void whatARunHasFollowsItsFate() {
    found("a.csv", Finding.State.READY, 1, 10);
    ledger.take(FEED, Optional.of(THURSDAY), false, 7, 20);
    assertThat(ledger.of(7)).extracting(Arrival::date).containsExactly(Optional.of(THURSDAY));
    ledger.move(7, ArrivalState.UNPROCESSED, "exit code 3", 30);
    assertThat(ledger.hasUnprocessed("feed")).isTrue();
    assertThat(ledger.taken("feed")).isZero();
    ledger.move(7, ArrivalState.TAKEN, "", 40);
    assertThat(ledger.move(7, ArrivalState.USED, "", 50)).hasSize(1);
    assertThat(ledger.size()).isZero();
    assertThat(ledger.of(7)).isEmpty();
  }

  @Test
  void aMonthlyPathStandsForAllDatesOfTheMonth() {
    FileWatch monthly = FileWatch.of("m", "h", "/in/dues-${date | yyyy-MM}.csv");
    assertThat(monthly.keyDate(THURSDAY)).isEqualTo(LocalDate.of(2027, 3, 1));
    assertThat(DATED.keyDate(THURSDAY)).isEqualTo(THURSDAY);
    assertThat(FEED.keyDate(THURSDAY)).isEqualTo(THURSDAY);
  }

  /**
   * Whatever comes in whatever order, and told again after cuts and restarts: no content of a file
   * is given twice, and nothing that came is forgotten.
   */
  @ParameterizedTest
  @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8, 9, 10})
  void noFileIsGivenTwiceAndNoneIsForgotten(long seed) {
    Random random = new Random(seed);
    Ledger now = ledger;
    Map<Long, Arrival> records = new HashMap<>();
    Map<String, Long> looks = new HashMap<>();
    Map<String, Finding.State> told = new HashMap<>();
    Set<String> given = new HashSet<>();
    List<Long> runs = new ArrayList<>();
    for (int step = 1; step < 4_000; step++) {
      String name = "f" + random.nextInt(8) + ".csv";
      List<Arrival> changed = new ArrayList<>();
      switch (random.nextInt(6)) {
        case 0 -> looks.put(name, (long) step); // new content
        case 1, 2 -> {
          if (looks.containsKey(name)) {
            Finding.State state =
                random.nextBoolean() ? Finding.State.READY : Finding.State.SETTLING;
            long modified = looks.get(name);
            if (told.get(name + modified) == Finding.State.READY) {
              state = Finding.State.READY; // what is whole stays so until it changes
            }
            told.put(name + modified, state);
            changed.addAll(again(now, records, name, state, modified, step));
          }
        }
        case 3 -> {
          long run = step;
          now.take(FEED, ANY, random.nextBoolean(), run, step)
              .ifPresent(outcome -> changed.addAll(outcome.changed()));
          for (Arrival one : now.of(run)) {
            assertThat(given.add(one.name() + one.modified())).as("given once").isTrue();
            runs.add(run);
          }
        }
        case 4 -> {
          if (!runs.isEmpty()) {
            long run = runs.get(random.nextInt(runs.size()));
            ArrivalState state =
                List.of(ArrivalState.USED, ArrivalState.UNPROCESSED, ArrivalState.TAKEN)
                    .get(random.nextInt(3));
            changed.addAll(now.move(run, state, "", step));
          }
        }
        default -> { // the service is killed and takes up its records
          now = new Ledger(ids::incrementAndGet);
          records.values().stream().filter(one -> !one.state().isOver()).forEach(now::restore);
        }
      }
      changed.forEach(one -> records.put(one.id(), one));
    }
    assertThat(now.all())
        .containsExactlyInAnyOrderElementsOf(
            records.values().stream().filter(one -> !one.state().isOver()).toList());
    for (Map.Entry<String, Finding.State> one : told.entrySet()) {
      boolean ready = one.getValue() == Finding.State.READY;
      assertThat(
              !ready
                  || records.values().stream()
                      .anyMatch(
                          arrival -> (arrival.name() + arrival.modified()).equals(one.getKey())))
          .as(one.getKey())
          .isTrue();
    }
  }

  /** Says it as the service does, which looks up in the records what the ledger has let go. */
  private static List<Arrival> again(
      Ledger ledger,
      Map<Long, Arrival> records,
      String name,
      Finding.State state,
      long modified,
      long now) {
    Optional<Arrival> same =
        records.values().stream()
            .filter(one -> one.name().equals(name) && one.modified() == modified)
            .max(java.util.Comparator.comparingLong(Arrival::id));
    Ledger.Known known = new Ledger.Known(same, Optional.empty(), Optional.empty());
    return ledger
        .found(FEED, "quay-north", finding(name, state, modified), ANY, known, now)
        .changed();
  }
}
