package dev.purser.service.board;

/** What somebody asks of the engine; it is carried out on the engine's thread. */
public interface Task<T> {
  /**
   * Does it.
   *
   * @throws RuntimeException to refuse: nothing of this task may have been applied by then
   */
  T carryOut(Turn turn);
}
