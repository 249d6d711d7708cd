package dev.purser.core.course;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.TreeSet;
import org.junit.jupiter.api.Test;

/** What the course is made of does what the JDK's own collections do, held against them. */
class CollectionsTest {
  @Test
  void aLineIsASortedSet() {
    SplittableRandom random = new SplittableRandom(5);
    Runs runs = new Runs();
    for (int i = 0; i < 60; i++) {
      int run = runs.add();
      runs.due.set(run, random.nextInt(5) * 60_000L);
      runs.priorities.set(run, random.nextInt(4));
    }
    Order order = new Order(runs);
    Comparator<Integer> byOrder =
        (a, b) -> order.isBefore(a, b) ? -1 : order.isBefore(b, a) ? 1 : 0;
    TreeSet<Integer> expected = new TreeSet<>(byOrder);
    Line line = new Line();
    for (int step = 0; step < 5_000; step++) {
      int run = random.nextInt(60);
      if (random.nextInt(5) == 0) {
        line = new Line(line);
      }
      if (random.nextBoolean()) {
        assertThat(line.add(run, order)).isEqualTo(expected.add(run));
      } else {
        assertThat(line.remove(run, order)).isEqualTo(expected.remove(run));
      }
      int other = random.nextInt(60);
      Integer behind = expected.higher(other);
      assertThat(line.behind(other, order)).isEqualTo(behind == null ? -1 : behind);
      assertThat(line.contains(other, order)).isEqualTo(expected.contains(other));
    }
    assertThat(line.toArray()).containsExactly(expected.stream().mapToInt(i -> i).toArray());
  }

  @Test
  void theOrderIsByRankThenByDueTimeThenAsPlanned() {
    Runs runs = new Runs();
    for (long[] one : new long[][] {{10, 50}, {20, 60}, {10, 50}, {0, 40}}) {
      int run = runs.add();
      runs.due.set(run, one[0] * 60_000);
      runs.priorities.set(run, (int) one[1]);
    }
    Order order = new Order(runs);
    List<Integer> all = new ArrayList<>(List.of(1, 2, 0, 3));
    all.sort((a, b) -> order.isBefore(a, b) ? -1 : 1);
    assertThat(all).containsExactly(3, 0, 2, 1);
  }

  @Test
  void aQueueGivesEachOnceInTheOrderInWhichTheyCame() {
    SplittableRandom random = new SplittableRandom(7);
    IndexQueue queue = new IndexQueue();
    LinkedHashSet<Integer> expected = new LinkedHashSet<>();
    for (int step = 0; step < 20_000; step++) {
      if (random.nextInt(3) > 0) {
        int index = random.nextInt(300);
        queue.add(index);
        expected.add(index);
      } else if (!expected.isEmpty()) {
        int first = expected.iterator().next();
        expected.remove(first);
        assertThat(queue.take()).isEqualTo(first);
      }
      if (random.nextInt(50) == 0) {
        queue = new IndexQueue(queue);
      }
      assertThat(queue.isEmpty()).isEqualTo(expected.isEmpty());
    }
  }

  @Test
  void idsAreFoundWhateverTheyAre() {
    SplittableRandom random = new SplittableRandom(9);
    RunIds ids = new RunIds();
    Map<Long, Integer> expected = new HashMap<>();
    RunIds before = ids;
    Map<Long, Integer> expectedBefore = Map.of();
    for (int i = 0; i < 2_000; i++) {
      long id = random.nextInt(4) == 0 ? -1 - i : random.nextLong();
      ids.add(id, i);
      expected.put(id, i);
      if (i == 1_000) {
        before = ids;
        expectedBefore = Map.copyOf(expected);
        ids = ids.copy();
      }
    }
    for (Map.Entry<Long, Integer> one : expected.entrySet()) {
      assertThat(ids.find(one.getKey())).isEqualTo(one.getValue());
      assertThat(before.find(one.getKey()))
          .isEqualTo(expectedBefore.getOrDefault(one.getKey(), -1));
    }
    assertThat(ids.find(0)).isEqualTo(-1);
  }

  @Test
  void aSetOfBitsIsEmptiedAsAWholeAndSaysWhatWasInIt() {
    SplittableRandom random = new SplittableRandom(13);
    Bits bits = new Bits();
    TreeSet<Integer> expected = new TreeSet<>();
    for (int step = 0; step < 2_000; step++) {
      int index = random.nextInt(2_000);
      bits.set(index, true);
      expected.add(index);
      if (random.nextInt(40) == 0) {
        List<Integer> found = new ArrayList<>();
        bits.drain(found::add);
        assertThat(found).containsExactlyElementsOf(expected);
        assertThat(bits.isEmpty()).isTrue();
        expected.clear();
      }
    }
  }
}
