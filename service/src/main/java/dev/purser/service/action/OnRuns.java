package dev.purser.service.action;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.run.Action;
import java.time.Instant;
import java.util.List;

/**
 * An action on runs, each for itself: what makes no sense for one is done to the others all the
 * same.
 *
 * @param argument a priority or a start time, as {@link BoardEvent.PersonActed} takes it; else 0
 */
public record OnRuns(List<Long> runs, Action what, long argument) implements Wish {
  @Override
  public String action() {
    String more =
        switch (what) {
          case PRIORITY -> " " + argument;
          case START_AT -> " " + Instant.ofEpochMilli(argument);
          default -> "";
        };
    return what.word() + more;
  }

  @Override
  public String about() {
    return runs.size() + " runs";
  }

  @Override
  public void check(Asked asked) {
    // The board knows of each run what can be done to it.
  }

  @Override
  public List<BoardEvent> events(Asked asked) {
    return runs.stream()
        .<BoardEvent>map(
            run ->
                new BoardEvent.PersonActed(
                    asked.now(), run, what, asked.actor().name(), asked.reason(), argument))
        .toList();
  }
}
