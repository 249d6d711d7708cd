package dev.purser.client;

import dev.purser.wire.api.ActionViews;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** {@code purser capacity}. */
@CommandLine.Command(
    addMethodSubcommands = false,
    name = "capacity",
    mixinStandardHelpOptions = true,
    description = "Capacities: how much there is, who holds it, who stands in line; or a change.",
    footer = {
      "",
      "Example: purser capacity",
      "Example: purser capacity ledger-slots --units 1 --reason \"ledger is slow\"",
      "Example: purser capacity ledger-slots --as-defined"
    })
final class CapacityCommand implements Callable<Integer> {
  @CommandLine.Mixin private Output output;

  @CommandLine.Parameters(
      paramLabel = "NAME",
      arity = "0..1",
      description = "The capacity to look at, or to change.")
  private String name;

  @CommandLine.Option(names = "--units", description = "How many units it has from now on.")
  private Integer units;

  @CommandLine.Option(names = "--as-defined", description = "Give it as many units as are defined.")
  private boolean asDefined;

  @CommandLine.Mixin private ReasonOption reason;

  @CommandLine.Option(
      names = "--what-if",
      description = "Only say what it would do; nothing is done.")
  private boolean whatIf;

  @Override
  public Integer call() {
    Service service = Service.loggedIn();
    boolean change = units != null || asDefined;
    if (change && (name == null || (units != null && asDefined))) {
      throw new Service.Refusal(
          2, "expected: purser capacity NAME with either --units N or --as-defined");
    }
    if (!change) {
      print(service.list(ActionViews.CapacityView.class, "/capacities", Map.of()));
      return 0;
    }
    ActionViews.ChangeRequest request =
        new ActionViews.ChangeRequest(
            null,
            null,
            null,
            null,
            reason.text(),
            null,
            null,
            new ActionViews.Units(name, units),
            null);
    if (whatIf) {
      return ActionCommand.printEffect(service, output, request);
    }
    print(service.postForList(ActionViews.CapacityView.class, "/capacities", request));
    return 0;
  }

  private void print(List<ActionViews.CapacityView> all) {
    List<ActionViews.CapacityView> wanted =
        all.stream().filter(one -> name == null || one.name().equals(name)).toList();
    if (name != null && wanted.isEmpty()) {
      throw new Service.Refusal(1, "there is no capacity \"" + name + "\"");
    }
    output.list(
        ActionViews.CapacityView.class,
        wanted,
        List.of(
            new Output.Column<>("capacity", ActionViews.CapacityView::name),
            new Output.Column<>("taken", one -> one.taken() + " of " + one.units()),
            new Output.Column<>("changed", CapacityCommand::changed),
            new Output.Column<>("held by", one -> names(one.holders())),
            new Output.Column<>("in line", one -> names(one.line()))),
        "no capacity is defined");
  }

  private static String changed(ActionViews.CapacityView one) {
    return one.set() == null
        ? String.join(", ", one.spans())
        : "by " + one.setBy() + " from " + one.defined();
  }

  private static String names(List<ActionViews.UnitsView> runs) {
    return String.join(" ", runs.stream().map(run -> run.reference() + ":" + run.units()).toList());
  }
}
