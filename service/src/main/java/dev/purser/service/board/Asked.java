package dev.purser.service.board;

import dev.purser.service.active.NotNow;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.concurrent.atomic.AtomicBoolean;

/**
 * A task and who waits for its result.
 *
 * @param instead is done where the task can never be put on record
 * @param begun whether it is being done, or nobody waits for it any more
 */
record Asked<T>(
    Task<T> task, Optional<Task<T>> instead, CompletableFuture<T> answer, AtomicBoolean begun) {
  /** Whoever asks is answered within this time, if only that it is not known yet. */
  static final long LONGEST_ANSWER_MILLIS = 30_000;

  Asked(Task<T> task) {
    this(task, Optional.empty(), new CompletableFuture<>(), new AtomicBoolean());
  }

  /** With what is done instead where that can never be put on record. */
  Asked(Task<T> task, Task<T> instead) {
    this(task, Optional.of(instead), new CompletableFuture<>(), new AtomicBoolean());
  }

  /** The same, to be done once more: what was done of it is not on record. */
  Asked<T> again() {
    return new Asked<>(task, instead, answer, new AtomicBoolean());
  }

  /** What is done instead; empty where there is nothing. */
  Optional<Asked<T>> other() {
    return instead.map(other -> new Asked<>(other, Optional.empty(), answer, new AtomicBoolean()));
  }

  /** The answer, or that there is none in time; what has not begun by then is not done at all. */
  CompletableFuture<T> inTime() {
    return inTime(LONGEST_ANSWER_MILLIS);
  }

  /** The same within another time. */
  CompletableFuture<T> inTime(long millis) {
    return answer
        .copy()
        .orTimeout(millis, TimeUnit.MILLISECONDS)
        .handle((result, failure) -> failure == null ? result : late(failure));
  }

  private T late(Throwable failure) {
    if (failure instanceof TimeoutException) {
      throw new NotNow(
          begun.compareAndSet(false, true)
              ? "the service has too much to do, and has not begun with this; nothing was done"
              : "the service has not answered in time; look whether it was done before you ask again");
    }
    throw failure instanceof CompletionException e ? e : new CompletionException(failure);
  }

  /** Does it in a turn; what is given back tells who asked, once that is on record. */
  Runnable carryOut(Turn turn) {
    try {
      T result = task.carryOut(turn);
      return () -> answer.complete(result);
    } catch (RuntimeException e) {
      return () -> answer.completeExceptionally(e);
    }
  }
}
