package dev.purser.client;

import dev.purser.wire.api.EventViews;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** {@code purser events}. */
@CommandLine.Command(
    addMethodSubcommands = false,
    name = "events",
    mixinStandardHelpOptions = true,
    description = "What has happened, in order; with --follow as it happens.",
    footer = {
      "",
      "Example: purser events runs --after 0 --kind failed",
      "Example: purser events commitments --follow --output json"
    })
final class EventsCommand implements Callable<Integer> {
  private static final long LOOK_EVERY_MILLIS = 1_000;

  @CommandLine.Mixin private Output output;

  @CommandLine.Parameters(paramLabel = "TOPIC", description = "alerts, commitments, files or runs.")
  private String topic;

  @CommandLine.Option(
      names = "--after",
      defaultValue = "0",
      description = "Go on after this number; all there are by default, -1 for from now on.")
  private long after;

  @CommandLine.Mixin private EventFilter only;

  @CommandLine.Option(names = "--follow", description = "Go on with what happens from then on.")
  private boolean follow;

  @Override
  public Integer call() throws InterruptedException {
    Service service = Service.loggedIn();
    long cursor = after;
    while (true) {
      Map<String, Object> asked = only.after(cursor);
      asked.put("topic", topic);
      asked.put("limit", 500);
      EventViews.EventsView found = service.get(EventViews.EventsView.class, "/events", asked);
      boolean more = found.cursor() != cursor;
      cursor = found.cursor();
      found.events().forEach(this::print);
      if (!follow && !more) {
        return 0;
      }
      if (!more) {
        Thread.sleep(LOOK_EVERY_MILLIS);
      }
    }
  }

  private void print(EventViews.EventView event) {
    output.byTheClockOf(List.of(event.zone()));
    output.one(
        event,
        () ->
            output.line(
                event.number()
                    + "  "
                    + output.at(event.at())
                    + "  "
                    + event.type()
                    + "  "
                    + event.subject()
                    + note(event)));
  }

  private static String note(EventViews.EventView event) {
    Object text = event.data().getOrDefault("text", event.data().getOrDefault("note", ""));
    return text.toString().isEmpty() ? "" : "  " + text;
  }
}
