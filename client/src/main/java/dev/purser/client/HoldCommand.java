package dev.purser.client;

import dev.purser.wire.api.ActionViews;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** An action on runs, or on a whole job, stream or department until further notice. */
class HoldCommand extends ActionCommand {
  private final String action;

  HoldCommand(String action) {
    this.action = action;
  }

  @Override
  String action() {
    return action;
  }

  @CommandLine.Option(
      names = "--whole-stream",
      description = "A stream, with all its runs to come, until it is released.")
  private String stream;

  @CommandLine.Option(
      names = "--whole-job",
      description = "A job by its full path, with all its runs to come.")
  private String job;

  @CommandLine.Option(
      names = "--whole-department",
      description = "All streams of a department, with all their runs to come.")
  private String department;

  @Override
  public Integer call() {
    Map<String, String> scopes = new HashMap<>();
    scopes.put("stream", stream);
    scopes.put("job", job);
    scopes.put("department", department);
    scopes.values().removeIf(name -> name == null);
    if (scopes.isEmpty()) {
      return super.call();
    }
    if (scopes.size() > 1 || !references.isEmpty()) {
      throw new Service.Refusal(2, "one at a time: runs, a stream, a job or a department");
    }
    Map.Entry<String, String> one = scopes.entrySet().iterator().next();
    ActionViews.ChangeRequest request =
        new ActionViews.ChangeRequest(
            action(),
            null,
            null,
            null,
            reason,
            null,
            new ActionViews.Scope(one.getKey(), one.getValue()),
            null,
            null);
    Service service = Service.loggedIn();
    if (whatIf) {
      return printEffect(service, output, request);
    }
    printHolds(output, service.postForList(ActionViews.HoldView.class, "/holds", request));
    return 0;
  }

  private static void printHolds(Output output, List<ActionViews.HoldView> holds) {
    output.list(
        ActionViews.HoldView.class,
        holds,
        List.of(
            new Output.Column<>("what", ActionViews.HoldView::kind),
            new Output.Column<>("name", ActionViews.HoldView::name),
            new Output.Column<>("since", ActionViews.HoldView::since),
            new Output.Column<>("note", ActionViews.HoldView::note)),
        "no stream, job or department is held");
  }

  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "holds",
      mixinStandardHelpOptions = true,
      description = "Streams, jobs and departments that are held until they are released.",
      footer = {"", "Example: purser holds"})
  static final class Holds implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @Override
    public Integer call() {
      printHolds(output, Service.loggedIn().list(ActionViews.HoldView.class, "/holds", Map.of()));
      return 0;
    }
  }
}
