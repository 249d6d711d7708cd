package dev.purser.bench;

import dev.purser.core.board.Board;
import dev.purser.core.definition.Definitions;
import dev.purser.core.forecast.Outlook;
import java.time.Instant;
import java.util.List;

/** Heap bytes a run on a board of 100,000 open runs, and the time to copy that board. */
public final class Memory {
  private Memory() {}

  /** Prints them. */
  public static void main(String[] args) throws InterruptedException {
    Definitions definitions = World.definitions(10_000);
    long before = used();
    Board board =
        Outlook.boardOf(
            definitions, World.specs(definitions), Instant.parse("2027-03-03T00:00:00Z"));
    long after = used();
    System.out.printf(
        "%,d runs on the board, %,d bytes of heap a run (promise: 1,024)%n",
        board.size(), (after - before) / board.size());
    long best = Long.MAX_VALUE;
    for (int i = 0; i < 30; i++) {
      long start = System.nanoTime();
      Board copy = new Board(board);
      best = Math.min(best, System.nanoTime() - start);
      if (copy.size() != board.size()) {
        throw new IllegalStateException();
      }
    }
    System.out.printf("a copy of it takes %.1f ms (best of 30)%n", best / 1e6);
    System.out.println(List.of(board).size() + " board kept alive");
  }

  private static long used() throws InterruptedException {
    for (int i = 0; i < 4; i++) {
      System.gc();
      Thread.sleep(100);
    }
    return Runtime.getRuntime().totalMemory() - Runtime.getRuntime().freeMemory();
  }
}
