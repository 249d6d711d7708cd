package dev.purser.service.api.view;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Shape;
import dev.purser.core.job.SuccessRule;
import dev.purser.wire.api.RunView;
import java.util.List;

/** How a stream's start stands, told from its runs. */
public final class StreamStates {
  private static final List<String> ACTIVE = List.of("running", "starting");
  private static final List<String> OPEN = List.of("planned", "waiting", "starting", "running");

  private StreamStates() {}

  /**
   * The state of a start: while it goes on, the most pressing one of its runs; once all have ended,
   * its outcome by what must succeed for it.
   *
   * @param path of the stream
   * @param runs its runs, those below its steps among them
   */
  public static String state(String path, List<RunView> runs, Definitions definitions) {
    SuccessRule rule = definitions.streamAt(path).map(Stream::succeedsIf).orElse(SuccessRule.ALL);
    List<RunView> own = runs.stream().filter(run -> run.stream().equals(path)).toList();
    List<RunView> counting = own.stream().filter(run -> rule.counts(run.job())).toList();
    boolean failed = counting.stream().anyMatch(run -> run.state().equals("failed"));
    boolean enough =
        counting.stream().filter(run -> run.state().equals("succeeded")).count() >= rule.least();
    boolean allEnded = runs.stream().noneMatch(run -> OPEN.contains(run.state()));
    if (failed && !(rule.isByNumber() && (enough || !allEnded))) {
      return "failed";
    }
    for (String state : List.of("running", "starting", "waiting", "planned")) {
      if (runs.stream().anyMatch(run -> run.state().equals(state))) {
        return state;
      }
    }
    if (rule.isByNumber() && enough) {
      return "succeeded";
    }
    for (String state : List.of("cancelled", "succeeded")) {
      if (counting.stream().anyMatch(run -> run.state().equals(state))) {
        return state;
      }
    }
    return "skipped";
  }

  /** Whether nothing in it can move without a person. */
  public static boolean isStalled(List<RunView> runs) {
    boolean waits = false;
    for (RunView run : runs) {
      boolean step = run.shape().equals(Shape.RUNS.word());
      if ((ACTIVE.contains(run.state()) && !step) || run.state().equals("planned")) {
        return false;
      }
      if (run.state().equals("waiting")) {
        if (!run.hangsOnPerson()) {
          return false;
        }
        waits = true;
      }
    }
    return waits;
  }
}
