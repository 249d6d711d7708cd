package dev.purser.client;

import dev.purser.wire.api.RunView;
import dev.purser.wire.api.Views;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** {@code purser log}. */
@CommandLine.Command(
    addMethodSubcommands = false,
    name = "log",
    mixinStandardHelpOptions = true,
    description = "The output of a run.",
    footer = {"", "Example: purser log --follow night-manifest/build-manifest@2027-03-04"})
final class LogCommand implements Callable<Integer> {
  @CommandLine.Mixin private Output output;

  @CommandLine.Parameters(paramLabel = "RUN", description = "A reference, a tail of one, or an id.")
  private String reference;

  @CommandLine.Option(
      names = "--attempt",
      defaultValue = "0",
      description = "Which attempt; the last one by default.")
  private int attempt;

  @CommandLine.Option(
      names = "--follow",
      description = "Go on showing output until the run has ended.")
  private boolean follow;

  @CommandLine.Option(
      names = "--raw",
      description = "Print it exactly as it was written, control characters included.")
  private boolean raw;

  @CommandLine.Spec private CommandLine.Model.CommandSpec spec;

  @Override
  public Integer call() throws InterruptedException {
    Service service = Service.loggedIn();
    RunView run = RunCommands.find(service, reference);
    if (attempt > run.attempts()) {
      throw new Service.Refusal(
          1,
          run.reference()
              + " has no attempt "
              + attempt
              + (run.attempts() == 0
                  ? ": it has not begun"
                  : run.attempts() == 1 ? "; it has had one" : "; it has had " + run.attempts()));
    }
    long offset = 0;
    while (true) {
      Views.OutputView piece =
          service.get(
              Views.OutputView.class,
              "/runs/" + run.id() + "/output",
              Map.of("attempt", attempt, "offset", offset));
      spec.commandLine().getOut().print(raw ? piece.text() : Output.harmless(piece.text()));
      spec.commandLine().getOut().flush();
      boolean more = piece.next() > offset;
      offset = piece.next();
      if (piece.complete() || (!follow && !more)) {
        return end(piece, offset, service, run.id());
      }
      if (!more) {
        Thread.sleep(400);
      }
    }
  }

  private int end(Views.OutputView piece, long offset, Service service, long id) {
    if (piece.total() > piece.kept() && piece.complete()) {
      output.warn(
          "[the first "
              + piece.kept()
              + " of "
              + piece.total()
              + " bytes are kept; the rest is not]");
    }
    if (follow && offset > 0) {
      RunView now = service.get(RunView.class, "/runs/find", Map.of("reference", id));
      output.warn(now.reference() + ": " + Output.sentence(now.sentence()));
    }
    if (offset == 0) {
      output.warn(
          Output.sentence(
              service.get(Views.WhyView.class, "/runs/" + id + "/why", Map.of()).sentence()));
    }
    return 0;
  }
}
