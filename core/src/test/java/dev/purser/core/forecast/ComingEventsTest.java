package dev.purser.core.forecast;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertSame;

import dev.purser.core.event.BoardEvent;
import java.util.Comparator;
import java.util.PriorityQueue;
import java.util.SplittableRandom;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Events come in the order of time, and of those at one time in the order they were put in. */
class ComingEventsTest {
  private record Put(long at, long number, BoardEvent event) {}

  /** Beside a queue that sorts: as a day goes by, with much that happens at once. */
  @ParameterizedTest
  @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8})
  void comeInOrder(long seed) {
    SplittableRandom random = new SplittableRandom(seed);
    ComingEvents coming = new ComingEvents();
    PriorityQueue<Put> right =
        new PriorityQueue<>(Comparator.comparingLong(Put::at).thenComparingLong(Put::number));
    long now = 0;
    for (int step = 0; step < 20_000; step++) {
      assertEquals(right.isEmpty() ? Long.MAX_VALUE : right.peek().at(), coming.nextAt());
      boolean grows = random.nextInt(20_000) > step;
      if (right.isEmpty() || random.nextInt(100) < (grows ? 60 : 40)) {
        // now and soon are most common; sometimes before all that is there
        long at =
            now + (random.nextBoolean() ? 0 : random.nextInt(random.nextInt(4) == 0 ? 500 : 3));
        BoardEvent event = new BoardEvent.TimeReached(at);
        right.add(new Put(at, coming.count(), event));
        coming.add(at, event);
      } else {
        Put next = right.poll();
        assertEquals(next.number(), coming.nextNumber());
        assertSame(next.event(), coming.take());
        now = random.nextInt(50) == 0 ? Math.max(0, next.at() - 2) : next.at();
      }
    }
    while (!right.isEmpty()) {
      assertSame(right.poll().event(), coming.take());
    }
    assertEquals(Long.MAX_VALUE, coming.nextAt());
  }
}
