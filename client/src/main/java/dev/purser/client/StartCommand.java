package dev.purser.client;

import dev.purser.wire.api.ActionViews;
import dev.purser.wire.api.RunView;
import dev.purser.wire.api.Views;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** {@code purser start}. */
@CommandLine.Command(
    addMethodSubcommands = false,
    name = "start",
    mixinStandardHelpOptions = true,
    description = "Starts a stream by hand, or one job of it without waiting for prerequisites.",
    footer = {
      "",
      "Example: purser start fuel/stock-count --reason \"counted again\"",
      "Example: purser start passenger/night-manifest --from build-manifest --what-if",
      "Example: purser start harbour/port-call -p port=skerry"
    })
final class StartCommand implements Callable<Integer> {
  @CommandLine.Mixin private Output output;

  @CommandLine.Parameters(paramLabel = "STREAM", description = "The stream's full path.")
  private String stream;

  @CommandLine.Option(
      names = "--job",
      defaultValue = "",
      description = "Start only this job, without its prerequisites.")
  private String job;

  @CommandLine.Option(
      names = "--from",
      defaultValue = "",
      description = "Start this job and all that follow it; those before it count as done.")
  private String from;

  @CommandLine.Option(names = "--date", description = "The business date; today by default.")
  private LocalDate date;

  @CommandLine.Option(
      names = {"-p", "--parameter"},
      description = "A value for a parameter: name=value; stronger than all others.")
  private Map<String, String> parameters = new HashMap<>();

  @CommandLine.Option(
      names = "--ignoring",
      split = ",",
      description = {
        "What of the jobs' own conditions does not count: not-before, only-on.",
        "Days of jobs never count for a start by hand."
      })
  private List<String> ignoring = new ArrayList<>();

  @CommandLine.Mixin private ReasonOption reason;

  @CommandLine.Option(
      names = "--what-if",
      description = "Only say what it would do; nothing is done.")
  private boolean whatIf;

  @CommandLine.Option(
      names = "--key",
      description = "The same key starts the same runs only once, however often it is sent.")
  private String key;

  @Override
  public Integer call() {
    if (!job.isEmpty() && !from.isEmpty()) {
      throw new Service.Refusal(2, "either --job or --from, not both");
    }
    Views.StartRequest request =
        new Views.StartRequest(
            stream,
            from.isEmpty() ? job : from,
            !from.isEmpty(),
            date,
            parameters,
            ignoring,
            reason.text());
    Service service = Service.loggedIn();
    if (whatIf) {
      return ActionCommand.printEffect(
          service,
          output,
          new ActionViews.ChangeRequest(
              null, null, null, null, reason.text(), request, null, null, null));
    }
    String once = key == null ? UUID.randomUUID().toString() : key;
    Views.Started started =
        service.post(Views.Started.class, "/starts", request, Map.of("Idempotency-Key", once));
    output.byTheClockOf(started.runs().stream().map(RunView::zone).toList());
    output.list(RunView.class, started.runs(), RunCommands.columns(), "nothing was started");
    return 0;
  }
}
