package dev.purser.service.board;

import dev.purser.core.board.Board;
import dev.purser.core.board.BoardView;
import dev.purser.core.definition.Definitions;
import dev.purser.service.active.NotNow;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.ReentrantLock;
import java.util.function.Function;

/**
 * The board and the definitions that hold now. The engine changes them while it holds them;
 * everybody else only looks, and waits for nothing but that.
 */
final class InForce {
  private final ReentrantLock lock = new ReentrantLock();
  private volatile Board board = new Board();
  private volatile Definitions definitions = Definitions.none();
  private volatile long revision;

  /** The board; only the engine's thread may change it, and only while it holds it. */
  Board board() {
    return board;
  }

  /** The definitions. */
  Definitions definitions() {
    return definitions;
  }

  /** The revision of the definitions. */
  long revision() {
    return revision;
  }

  /** Nobody looks until {@link #letGo}. */
  void hold() {
    lock.lock();
  }

  /** Others may look again. */
  void letGo() {
    lock.unlock();
  }

  /** Another board and other definitions hold from now on. */
  void replace(Board fresh, Definitions others, long ofRevision) {
    lock.lock();
    try {
      board = fresh;
      define(others, ofRevision);
    } finally {
      lock.unlock();
    }
  }

  /** Other definitions hold from now on; it is held by whoever says so. */
  void define(Definitions others, long ofRevision) {
    definitions = others;
    revision = ofRevision;
  }

  /**
   * Looks at the board; the answer must not keep it.
   *
   * @throws NotNow where it is held for too long
   */
  <T> T look(Function<BoardView, T> question) {
    try {
      if (!lock.tryLock(Asked.LONGEST_ANSWER_MILLIS, TimeUnit.MILLISECONDS)) {
        throw new NotNow("the service has too much to do to look at the board");
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new NotNow("interrupted while waiting for the board");
    }
    try {
      return question.apply(board);
    } finally {
      lock.unlock();
    }
  }
}
