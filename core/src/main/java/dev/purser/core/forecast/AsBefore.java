package dev.purser.core.forecast;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.run.RunSpec;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import java.util.SplittableRandom;

/**
 * People answer, and have failures go on, as they did where enough of that is known, else not at
 * all; files come as they came.
 */
public abstract class AsBefore implements Outcomes {
  private final History history;

  /** Takes what is known. */
  protected AsBefore(History history) {
    this.history = history;
  }

  /** What is known. */
  protected History history() {
    return history;
  }

  @Override
  public List<BoardEvent> planned() {
    return history.planned();
  }

  @Override
  public FileOutcome file(String watch, LocalDate date, SplittableRandom random) {
    return history.file(watch, date, random.nextDouble());
  }

  @Override
  public Optional<Answer> approval(RunSpec run, long asked, SplittableRandom random) {
    return history
        .answer(run.run().reference().path(), asked, random)
        .map(millis -> new Answer(millis, true));
  }

  @Override
  public Optional<Long> recovery(RunSpec run, long failed, SplittableRandom random) {
    return history.recovery(run.run().reference().path(), failed, random);
  }
}
