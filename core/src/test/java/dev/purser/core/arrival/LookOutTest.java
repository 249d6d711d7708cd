package dev.purser.core.arrival;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class LookOutTest {
  private static final long REST = 10_000;
  private static final long BEGUN = 1_000_000_000;

  private long time = BEGUN;

  private static LookFor what(String companion, String lastLine, boolean takeExisting, long since) {
    return new LookFor(
        "feed", "/in", "*.csv", true, 1, REST, companion, "", lastLine, 0, takeExisting, since, 0);
  }

  private static LookOut plain() {
    return new LookOut(what("", "", true, 0));
  }

  private LookOut.Now now() {
    return new LookOut.Now(time, time);
  }

  private FileFacts facts(String name, long size, long modified) {
    return new FileFacts(name, size, modified, modified, "k", FileFacts.Oddity.NONE, true, false);
  }

  private static List<String> told(LookOut lookOut) {
    return lookOut.news().stream()
        .map(
            one ->
                one.name()
                    + " "
                    + one.state().word()
                    + (one.note().isEmpty() ? "" : ": " + one.note()))
        .toList();
  }

  /** Reads whatever is asked for, as somebody who looks does. */
  private void read(LookOut lookOut, FileFacts facts, String lastLine) {
    for (String name : lookOut.toRead()) {
      if (name.equals(facts.name())) {
        lookOut.read(facts, new Content("sum", lastLine, "", ""), now());
      }
    }
  }

  @Test
  void aFileIsReadyOnceItHasRestedAndItsContentIsKnown() {
    LookOut lookOut = plain();
    FileFacts file = facts("a.csv", 5, 1);
    lookOut.see(file, now());
    assertThat(told(lookOut)).isEmpty(); // what is whole within a second is told once
    time += 1_000;
    lookOut.see(file, now());
    assertThat(told(lookOut)).containsExactly("a.csv settling");
    time += REST / 2;
    lookOut.see(file, now());
    read(lookOut, file, "");
    assertThat(told(lookOut)).isEmpty();
    assertThat(lookOut.nextDue()).isPresent();
    time += REST;
    assertThat(lookOut.due(time)).containsExactly("a.csv");
    lookOut.see(file, now());
    assertThat(told(lookOut)).containsExactly("a.csv ready");
    lookOut.see(file, now());
    assertThat(told(lookOut)).isEmpty();
  }

  @Test
  void everyChangeBeginsTheRestAnewAndAReadingOfWhatWasDoesNotCount() {
    LookOut lookOut = plain();
    for (int size = 1; size < 20; size++) {
      FileFacts file = facts("a.csv", size, size);
      lookOut.see(file, now());
      time += REST - 1;
      lookOut.see(file, now());
      FileFacts before = facts("a.csv", size - 1, size - 1);
      lookOut.toRead().forEach(any -> lookOut.read(before, new Content("old", "", "", ""), now()));
    }
    assertThat(told(lookOut)).noneMatch(one -> one.contains("ready"));
  }

  @Test
  void ofAForeignClockOnlyWhatWasWatchedCounts() {
    LookOut lookOut = plain();
    FileFacts old = facts("a.csv", 5, BEGUN - 86_400_000);
    lookOut.see(old, now());
    assertThat(lookOut.toRead()).isEmpty();
    FileFacts own =
        new FileFacts(
            "b.csv",
            5,
            BEGUN - 86_400_000,
            BEGUN - 86_400_000,
            "k",
            FileFacts.Oddity.NONE,
            true,
            true);
    lookOut.see(own, now());
    read(lookOut, own, "");
    assertThat(told(lookOut)).containsExactly("b.csv ready");
  }

  @Test
  void aCompanionIsNoArrivalAndItsNewsConcernsItsFile() {
    LookOut lookOut = new LookOut(what("${file.stem}.ok.csv", "", true, 0));
    lookOut.see(facts("a.ok.csv", 0, 1), now());
    FileFacts file = new FileFacts("a.csv", 5, 1, 1, "k", FileFacts.Oddity.NONE, false, true);
    lookOut.see(file, now());
    assertThat(told(lookOut)).containsExactly("a.csv seen: waits for a.ok.csv");
    assertThat(lookOut.concerned("a.ok.csv")).contains("a.csv");
    assertThat(lookOut.concerned("other.ok.csv")).isEmpty();
    assertThat(lookOut.concerned("b.txt")).isEmpty();
  }

  @Test
  void whatIsThereBeforeTheWatchIsIgnoredWhereItSaysSo() {
    LookOut lookOut = new LookOut(what("", "", false, BEGUN));
    lookOut.see(facts("old.csv", 5, BEGUN - 1), now());
    FileFacts moved =
        new FileFacts("moved.csv", 5, 1, BEGUN + 1, "k", FileFacts.Oddity.NONE, true, true);
    lookOut.see(moved, now());
    assertThat(told(lookOut)).containsExactly("old.csv ignored: was there before the watch began");
    assertThat(lookOut.size()).isEqualTo(2);
  }

  @Test
  void theLastLineMustSayThatItIsComplete() {
    LookOut lookOut = new LookOut(what("", "END*", true, 0));
    FileFacts file = new FileFacts("a.csv", 5, 1, 1, "k", FileFacts.Oddity.NONE, true, true);
    lookOut.see(file, now());
    read(lookOut, file, "berth 4");
    assertThat(told(lookOut)).containsExactly("a.csv seen: its last line is not \"END*\"");
    FileFacts longer = new FileFacts("a.csv", 9, 2, 2, "k", FileFacts.Oddity.NONE, true, true);
    lookOut.see(longer, now());
    read(lookOut, longer, "END 1");
    assertThat(told(lookOut)).containsExactly("a.csv settling", "a.csv ready");
  }

  @Test
  void whatIsDoneWithIsKnownByItsFingerprintForAsLongAsItIsThere() {
    LookOut lookOut = plain();
    FileFacts file = new FileFacts("a.csv", 5, 1, 1, "k", FileFacts.Oddity.NONE, true, true);
    lookOut.finished("a.csv", 5, 1, "k");
    for (int i = 0; i < 3; i++) {
      lookOut.beginListing();
      lookOut.see(file, now());
      lookOut.endListing();
    }
    assertThat(lookOut.size()).isZero();
    assertThat(lookOut.finished()).isEqualTo(1);
    lookOut.beginListing();
    lookOut.endListing();
    assertThat(lookOut.finished()).isZero();
    lookOut.see(facts("a.csv", 6, 2), now());
    assertThat(lookOut.size()).isEqualTo(1); // new content under the old name
  }

  @Test
  void aHugeDirectoryIsLookedAfterInParts() {
    LookOut lookOut =
        new LookOut(new LookFor("feed", "/in", "*", true, 1, 0, "", "", "", 0, true, 0, 0));
    int all = LookOut.MOST_OPEN * 2;
    int rounds = 0;
    while (lookOut.finished() < all) {
      lookOut.beginListing();
      for (int i = 0; i < all; i++) {
        lookOut.see(facts("f" + i, 5, 1), now());
      }
      lookOut.endListing();
      assertThat(lookOut.size()).isLessThanOrEqualTo(LookOut.MOST_OPEN);
      for (int i = 0; i < all && lookOut.size() > 0; i++) {
        lookOut.finished("f" + i, 5, 1, "k");
      }
      assertThat(++rounds).isLessThan(4);
    }
    assertThat(rounds).isEqualTo(2);
  }

  /**
   * Whatever happens in a directory, in whatever order it is seen: a file is told as ready only in
   * a form in which it has rested, every such form is told in the end, and none twice.
   */
  @ParameterizedTest
  @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8})
  void randomDirectoriesAreToldTruly(long seed) {
    Random random = new Random(seed);
    LookOut lookOut = plain();
    Map<String, FileFacts> there = new HashMap<>();
    Map<String, Long> since = new HashMap<>();
    List<String> ready = new ArrayList<>();
    for (int step = 0; step < 3_000; step++) {
      time += random.nextInt(2_000);
      String name = "f" + random.nextInt(6) + ".csv";
      int what = step > 2_900 ? 9 : random.nextInt(10);
      if (what < 2) {
        there.put(name, facts(name, 1 + random.nextInt(3), time));
        since.put(name, time);
      } else if (what == 2) {
        there.remove(name);
      }
      if (what < 8 && there.containsKey(name)) {
        lookOut.see(there.get(name), now());
      } else if (what < 8) {
        lookOut.gone(name);
      } else {
        lookOut.beginListing();
        there.values().forEach(one -> lookOut.see(one, now()));
        lookOut.endListing();
      }
      for (String read : lookOut.toRead()) {
        if (there.containsKey(read)) {
          lookOut.read(there.get(read), new Content("s", "", "", ""), now());
        }
      }
      for (String again : lookOut.due(time)) {
        if (there.containsKey(again)) {
          lookOut.see(there.get(again), now());
        } else {
          lookOut.gone(again);
        }
      }
      for (Finding one : lookOut.news()) {
        if (one.state() == Finding.State.READY) {
          FileFacts now = there.get(one.name());
          assertThat(now.size()).isEqualTo(one.size());
          assertThat(time - since.get(one.name())).isGreaterThanOrEqualTo(REST);
          String form = one.name() + one.modified();
          assertThat(ready).doesNotContain(form);
          ready.add(form);
        }
      }
    }
    there.values().forEach(one -> assertThat(ready).contains(one.name() + one.modified()));
  }
}
