package dev.purser.client;

import dev.purser.wire.api.AlertViews;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** {@code purser alerts follow}. */
@CommandLine.Command(
    addMethodSubcommands = false,
    name = "follow",
    mixinStandardHelpOptions = true,
    description = "Prints what becomes of alerts as it happens, until it is stopped.",
    footer = {"", "Example: purser alerts follow --department Depot"})
final class AlertFollow implements Callable<Integer> {
  private static final long LOOK_EVERY_MILLIS = 1_000;

  @CommandLine.Mixin private Output output;

  @CommandLine.Option(
      names = "--after",
      defaultValue = "-1",
      description = "The number of the last step that is known; by default, from now on.")
  private long after;

  @CommandLine.Mixin private EventFilter only;

  @CommandLine.Option(names = "--once", description = "Only what there is now; then it ends.")
  private boolean once;

  @Override
  public Integer call() throws InterruptedException {
    Service service = Service.loggedIn();
    long cursor = after;
    while (true) {
      AlertViews.StepsView found =
          service.get(AlertViews.StepsView.class, "/alert-steps", only.after(cursor));
      boolean more = found.cursor() != cursor;
      cursor = found.cursor();
      found.steps().forEach(this::print);
      if (once && !more) {
        return 0;
      }
      if (!more) {
        Thread.sleep(LOOK_EVERY_MILLIS);
      }
    }
  }

  private void print(AlertViews.StepEventView step) {
    output.byTheClockOf(List.of(step.zone()));
    String who = step.who().isEmpty() ? "" : " by " + step.who();
    output.one(
        step,
        () ->
            output.line(
                step.id()
                    + "  "
                    + output.at(step.at())
                    + "  "
                    + step.kind()
                    + "  alert "
                    + step.alert()
                    + " "
                    + step.what()
                    + who
                    + "  "
                    + step.title()
                    + ": "
                    + step.text()));
  }
}
