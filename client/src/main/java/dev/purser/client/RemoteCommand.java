package dev.purser.client;

import dev.purser.wire.api.RemoteViews;
import dev.purser.wire.api.RunView;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** {@code purser remote}: what runs at remote services, and what only a person can say of it. */
@CommandLine.Command(
    addMethodSubcommands = false,
    name = "remote",
    mixinStandardHelpOptions = true,
    description =
        "Remote services and what they can be asked for; with a run, its attempts there. Where nobody"
            + " knows whether one has begun, this is how a person says it.",
    footer = {
      "",
      "Example: purser remote",
      "Example: purser remote harbour/filings/file-manifest@2027-03-04",
      "Example: purser remote harbour/filings/file-manifest@2027-03-04 --runs-as 4711 --reason seen"
    })
final class RemoteCommand implements Callable<Integer> {
  @CommandLine.Mixin private Output output;

  @CommandLine.Parameters(
      paramLabel = "RUN",
      arity = "0..1",
      description = "A reference, a tail of one, or an id; by default, all remote services.")
  private String reference;

  /** What a person says: one of the two. */
  static final class Word {
    @CommandLine.Option(names = "--runs-as", description = "It runs there, by this id.")
    private String id;

    @CommandLine.Option(names = "--did-not-start", description = "It did not begin there.")
    private boolean not;
  }

  @CommandLine.ArgGroup(multiplicity = "0..1")
  private Word word;

  @CommandLine.Mixin private ReasonOption reason;

  @Override
  public Integer call() {
    Service service = Service.loggedIn();
    if (reference == null) {
      if (word != null) {
        throw new Service.Refusal(2, "say of which run: purser remote RUN --runs-as ID");
      }
      services(service.list(RemoteViews.ServiceView.class, "/remote-services", Map.of()));
      return 0;
    }
    RunView run = RunCommands.find(service, reference);
    String path = "/runs/" + run.id() + "/remote";
    if (word != null) {
      RemoteViews.CallView[] all =
          service.post(
              RemoteViews.CallView[].class,
              path,
              new RemoteViews.WordRequest(
                  word.not ? "did-not-start" : "runs-as", word.id, reason.text()));
      calls(run, List.of(all));
      return 0;
    }
    calls(run, service.list(RemoteViews.CallView.class, path, Map.of()));
    return 0;
  }

  /** A row for each operation. */
  private record Row(
      String service,
      String operation,
      String asksFor,
      String can,
      String knownAgain,
      String jobs) {}

  private void services(List<RemoteViews.ServiceView> all) {
    List<Row> rows = new ArrayList<>();
    for (RemoteViews.ServiceView service : all) {
      for (RemoteViews.OperationView one : service.operations()) {
        rows.add(
            new Row(
                service.name(),
                one.name(),
                String.join(", ", one.asksFor()),
                String.join(", ", one.can()),
                one.knownAgain(),
                String.join(", ", one.jobs())));
      }
    }
    output.list(
        Row.class,
        rows,
        List.of(
            new Output.Column<>("service", Row::service),
            new Output.Column<>("operation", Row::operation),
            new Output.Column<>("asks for", Row::asksFor),
            new Output.Column<>("can", Row::can),
            new Output.Column<>("known again", Row::knownAgain),
            new Output.Column<>("called by", Row::jobs)),
        "no remote service is defined");
  }

  private void calls(RunView run, List<RemoteViews.CallView> all) {
    output.byTheClockOf(List.of(run.zone()));
    output.list(
        RemoteViews.CallView.class,
        all,
        List.of(
            new Output.Column<>("attempt", RemoteViews.CallView::attempt),
            new Output.Column<>("service", RemoteViews.CallView::service),
            new Output.Column<>("id there", RemoteViews.CallView::id),
            new Output.Column<>("state there", RemoteViews.CallView::state),
            new Output.Column<>("how far", RemoteViews.CallView::progress),
            new Output.Column<>("begun", RemoteViews.CallView::begun),
            new Output.Column<>("stands", RemoteViews.CallView::sentence)),
        run.reference() + " has asked no remote service for anything");
  }
}
