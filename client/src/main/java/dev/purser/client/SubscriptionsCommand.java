package dev.purser.client;

import dev.purser.wire.api.EventViews;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** {@code purser subscriptions}. */
@CommandLine.Command(
    addMethodSubcommands = false,
    name = "subscriptions",
    mixinStandardHelpOptions = true,
    description = "Programs that are told of what happens, by HTTP POST of CloudEvents.",
    footer = {
      "",
      "Example: purser subscriptions add --topic runs --stream fuel/bunkering --kind failed --to"
          + " https://tickets.example/purser",
      "Example: purser subscriptions end 3"
    })
final class SubscriptionsCommand implements Callable<Integer> {
  @CommandLine.Mixin private Output output;

  @Override
  public Integer call() {
    print(Service.loggedIn().list(EventViews.SubscriptionView.class, "/subscriptions", Map.of()));
    return 0;
  }

  private void print(List<EventViews.SubscriptionView> all) {
    output.byTheClockOf(all.stream().map(EventViews.SubscriptionView::zone).toList());
    output.list(
        EventViews.SubscriptionView.class,
        all,
        List.of(
            new Output.Column<>("id", EventViews.SubscriptionView::id),
            new Output.Column<>("owner", EventViews.SubscriptionView::owner),
            new Output.Column<>("topics", one -> String.join(", ", one.topics())),
            new Output.Column<>("only", SubscriptionsCommand::only),
            new Output.Column<>("to", EventViews.SubscriptionView::address),
            new Output.Column<>("state", EventViews.SubscriptionView::state),
            new Output.Column<>("stands", SubscriptionsCommand::stands)),
        "nobody has subscribed to anything");
  }

  private static String only(EventViews.SubscriptionView one) {
    List<String> parts =
        java.util.stream.Stream.of(
                one.department().isEmpty() ? "" : "department " + one.department(),
                one.stream().isEmpty() ? "" : "stream " + one.stream(),
                one.kind())
            .filter(part -> !part.isEmpty())
            .toList();
    return String.join(", ", parts);
  }

  private static String stands(EventViews.SubscriptionView one) {
    if (!one.note().isEmpty()) {
      return one.note();
    }
    return String.join(
        "; ",
        one.places().stream()
            .map(
                place ->
                    place.topic()
                        + " at "
                        + place.number()
                        + (place.lastError().isEmpty()
                            ? ""
                            : ", tried " + place.tries() + " times: " + place.lastError()))
            .toList());
  }

  @CommandLine.Command(
      name = "add",
      mixinStandardHelpOptions = true,
      description =
          "Begins one: an address is told of all that happens from now on. It ends where you may"
              + " not sign in any more.")
  Integer add(
      @CommandLine.Option(
              names = "--topic",
              required = true,
              split = ",",
              description = "alerts, commitments, files or runs; more than one with commas.")
          List<String> topics,
      @CommandLine.Option(
              names = "--to",
              required = true,
              description = "The address that takes CloudEvents by HTTP POST.")
          String to,
      @CommandLine.Option(
              names = "--department",
              defaultValue = "",
              description = "Only of this department.")
          String department,
      @CommandLine.Option(
              names = "--stream",
              defaultValue = "",
              description = "Only of this stream and those below it.")
          String stream,
      @CommandLine.Option(
              names = "--kind",
              defaultValue = "",
              description = "Only of this kind of alert, or state of a run or file.")
          String kind,
      @CommandLine.Option(
              names = "--mode",
              defaultValue = "structured",
              description = "structured (one JSON document) or binary.")
          String mode,
      @CommandLine.Option(
              names = "--signed-by",
              defaultValue = "",
              description = "Name of the secret that each event is signed with.")
          String signedBy,
      @CommandLine.Option(names = "--asks-first", description = "The receiver must consent first.")
          boolean asksFirst) {
    print(
        List.of(
            Service.loggedIn()
                .post(
                    EventViews.SubscriptionView.class,
                    "/subscriptions",
                    new EventViews.SubscriptionRequest(
                        topics, department, stream, kind, to, mode, signedBy, asksFirst))));
    return 0;
  }

  @CommandLine.Command(
      name = "end",
      mixinStandardHelpOptions = true,
      description = "Ends one; other people's only an administrator.")
  Integer end(@CommandLine.Parameters(paramLabel = "ID", description = "Its id.") long id) {
    Service.loggedIn().delete("/subscriptions/" + id, Map.of());
    output.line("subscription " + id + " is over");
    return 0;
  }
}
