package dev.purser.client;

import dev.purser.wire.api.Views;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** {@code purser needs}. */
@CommandLine.Command(
    addMethodSubcommands = false,
    name = "needs",
    mixinStandardHelpOptions = true,
    description = "What needs a person now, the most urgent first.",
    footer = {"", "Example: purser needs"})
final class NeedsCommand implements Callable<Integer> {
  @CommandLine.Mixin private Output output;

  @Override
  public Integer call() {
    List<Views.NeedView> needs = Service.loggedIn().list(Views.NeedView.class, "/needs", Map.of());
    output.byTheClockOf(needs.stream().map(Views.NeedView::zone).toList());
    output.list(
        Views.NeedView.class,
        needs,
        List.of(
            new Output.Column<>("", need -> need.urgent() ? "!" : ""),
            new Output.Column<>("what", Views.NeedView::kindTitle),
            new Output.Column<>("about", NeedsCommand::about),
            new Output.Column<>("since", Views.NeedView::since),
            new Output.Column<>("text", Views.NeedView::text)),
        "nothing needs a person now");
    return 0;
  }

  private static String about(Views.NeedView need) {
    return need.reference().isEmpty() ? need.title() : need.reference();
  }
}
