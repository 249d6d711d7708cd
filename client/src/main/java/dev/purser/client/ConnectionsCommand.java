package dev.purser.client;

import dev.purser.wire.api.RemoteViews;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** {@code purser connections}. */
@CommandLine.Command(
    addMethodSubcommands = false,
    name = "connections",
    mixinStandardHelpOptions = true,
    description = "Addresses of outside systems, how each signs in, and what uses it.",
    footer = {
      "",
      "Example: purser connections",
      "Example: purser connections try harbour-office --path /filings"
    })
final class ConnectionsCommand implements Callable<Integer> {
  @CommandLine.Mixin private Output output;

  @Override
  public Integer call() {
    output.list(
        RemoteViews.ConnectionView.class,
        Service.loggedIn().list(RemoteViews.ConnectionView.class, "/connections", Map.of()),
        List.of(
            new Output.Column<>("name", RemoteViews.ConnectionView::name),
            new Output.Column<>("kind", RemoteViews.ConnectionView::kind),
            new Output.Column<>("address", RemoteViews.ConnectionView::address),
            new Output.Column<>("through", RemoteViews.ConnectionView::through),
            new Output.Column<>("signs in", ConnectionsCommand::signsIn),
            new Output.Column<>("used by", one -> String.join(", ", one.usedBy())),
            new Output.Column<>("in the way", RemoteViews.ConnectionView::refused)),
        "no connection is defined");
    return 0;
  }

  private static String signsIn(RemoteViews.ConnectionView one) {
    String who = one.user().isEmpty() ? "" : " as " + one.user();
    return one.signIn().equals("none") && who.isEmpty() ? "nobody" : one.signIn() + who;
  }

  @CommandLine.Command(
      name = "try",
      mixinStandardHelpOptions = true,
      description =
          "Signs in, looks, and says what came back; changes nothing there. Ends with 1 where it was"
              + " not let in.")
  Integer attempt(
      @CommandLine.Parameters(paramLabel = "NAME", description = "The connection.") String name,
      @CommandLine.Option(
              names = "--path",
              defaultValue = "",
              description = "What is looked at there; the address itself if not said.")
          String path) {
    RemoteViews.ReachedView trial =
        Service.loggedIn()
            .post(
                RemoteViews.ReachedView.class,
                "/connections/" + Service.encode(name) + "/trial",
                new RemoteViews.ReachRequest(path));
    output.one(
        trial,
        () -> {
          trial.steps().forEach(output::line);
          output.line(trial.good() ? name + " is reached" : name + " cannot be used as it is now");
        });
    return trial.good() ? 0 : 1;
  }
}
