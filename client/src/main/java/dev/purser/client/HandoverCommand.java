package dev.purser.client;

import dev.purser.wire.api.AlertViews;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** {@code purser handover}. */
@CommandLine.Command(
    addMethodSubcommands = false,
    name = "handover",
    mixinStandardHelpOptions = true,
    description = "What one shift tells the next: the last notes.",
    footer = {
      "",
      "Example: purser handover",
      "Example: purser handover write \"the depot counts by hand until the pump is mended\"",
      "Example: purser handover take 12"
    })
final class HandoverCommand implements Callable<Integer> {
  @CommandLine.Mixin private Output output;

  @CommandLine.Option(
      names = "--limit",
      defaultValue = "3",
      description = "How many notes; 3 by default.")
  private int limit;

  @Override
  public Integer call() {
    List<AlertViews.HandoverView> all =
        List.of(
            Service.loggedIn()
                .get(AlertViews.HandoverView[].class, "/handovers", Map.of("limit", limit)));
    output.byTheClockOf(all.stream().map(AlertViews.HandoverView::zone).toList());
    output.all(
        AlertViews.HandoverView.class,
        all,
        () -> {
          if (all.isEmpty()) {
            output.line("no shift has written anything yet");
          }
          all.forEach(this::print);
        });
    return 0;
  }

  private void print(AlertViews.HandoverView one) {
    output.line(
        "handover "
            + one.id()
            + " of "
            + output.at(one.written())
            + output.clockInWords()
            + " by "
            + one.who()
            + (one.takenBy().isEmpty()
                ? ", nobody has signed for it yet"
                : ", taken over by " + one.takenBy() + " at " + output.at(one.taken())));
    output.line("  then: " + one.standing());
    one.text().lines().forEach(line -> output.line("  " + line));
    output.line("");
  }

  @CommandLine.Command(
      name = "write",
      mixinStandardHelpOptions = true,
      description = "Writes a note for the next shift; how things stand now is added to it.")
  Integer write(
      @CommandLine.Parameters(paramLabel = "TEXT", description = "What they must know.")
          String text) {
    answer(
        Service.loggedIn()
            .post(
                AlertViews.HandoverView.class, "/handovers", new AlertViews.HandoverRequest(text)));
    return 0;
  }

  @CommandLine.Command(
      name = "take",
      mixinStandardHelpOptions = true,
      description = "Signs for a note: you have read it, and take over.")
  Integer take(@CommandLine.Parameters(paramLabel = "ID", description = "Its id.") long id) {
    answer(
        Service.loggedIn()
            .post(AlertViews.HandoverView.class, "/handovers/" + id + "/taken", Map.of()));
    return 0;
  }

  private void answer(AlertViews.HandoverView view) {
    output.byTheClockOf(List.of(view.zone()));
    output.one(view, () -> print(view));
  }
}
