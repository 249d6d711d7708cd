package dev.purser.client;

import dev.purser.wire.api.Views;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** {@code purser alerts}. */
@CommandLine.Command(
    name = "alerts",
    mixinStandardHelpOptions = true,
    description = "Alerts, newest first.",
    footer = {
      "",
      "Example: purser alerts",
      "Example: purser alerts show 12",
      "Example: purser alerts rules passenger/night-manifest/file-manifest",
      "Example: purser alerts acknowledge 12"
    })
final class AlertCommands implements Callable<Integer> {
  @CommandLine.Mixin private Output output;

  @CommandLine.Option(names = "--closed", description = "Show closed alerts too.")
  private boolean closed;

  @CommandLine.Option(
      names = "--limit",
      defaultValue = "200",
      description = "The most rows to show; 200 by default.")
  private int limit;

  @Override
  public Integer call() {
    output.list(
        Views.AlertView.class,
        Service.loggedIn()
            .list(Views.AlertView.class, "/alerts", Map.of("closed", closed, "limit", limit)),
        List.of(
            new Output.Column<>("id", Views.AlertView::id),
            new Output.Column<>("kind", Views.AlertView::kind),
            new Output.Column<>("urgency", Views.AlertView::urgency),
            new Output.Column<>("state", Views.AlertView::state),
            new Output.Column<>("opened", Views.AlertView::opened),
            new Output.Column<>("about", Views.AlertView::reference),
            new Output.Column<>("told", AlertCommands::told),
            new Output.Column<>("what", Views.AlertView::text)),
        "no alert is open");
    return 0;
  }

  private static String told(Views.AlertView alert) {
    long reached = alert.deliveries().stream().filter(d -> d.state().equals("delivered")).count();
    return reached + "/" + alert.deliveries().size();
  }

  @CommandLine.Command(
      name = "show",
      mixinStandardHelpOptions = true,
      description = "One alert: what it says, what has become of it, and whom it has reached.")
  Integer show(
      @CommandLine.Parameters(paramLabel = "ID", description = "The alert's id.") long id) {
    Views.AlertView alert =
        Service.loggedIn().get(Views.AlertView.class, "/alerts/" + id, Map.of());
    output.one(alert, () -> print(alert));
    return 0;
  }

  @CommandLine.Command(
      name = "rules",
      mixinStandardHelpOptions = true,
      description = "Which rules of alerts hold for a job, a stream, a commitment, or the site.")
  Integer rules(
      @CommandLine.Parameters(
              paramLabel = "OF",
              arity = "0..1",
              defaultValue = "",
              description = "A job's or stream's full name, or a commitment's; without, the site.")
          String of) {
    output.list(
        Views.AlertRuleView.class,
        Service.loggedIn().list(Views.AlertRuleView.class, "/alert-rules", Map.of("of", of)),
        List.of(
            new Output.Column<>("kind", Views.AlertRuleView::kind),
            new Output.Column<>("alerts", rule -> rule.none() ? "none" : rule.urgency()),
            new Output.Column<>("asks", Views.AlertRuleView::condition),
            new Output.Column<>("tells", rule -> String.join(", ", rule.tell())),
            new Output.Column<>("says", Views.AlertRuleView::say),
            new Output.Column<>("from", Views.AlertRuleView::origin)),
        "there is no kind of alert");
    return 0;
  }

  private void print(Views.AlertView alert) {
    output.line(alert.title() + " (" + alert.reference() + ")");
    output.line(alert.kindTitle() + ": " + alert.text());
    output.line("urgency: " + alert.urgency() + "; rule: " + alert.rule());
    output.line("");
    for (Views.AlertStepView step : alert.record()) {
      String who = step.who().isEmpty() ? "" : " by " + step.who();
      String kind = step.what().matches("opened|changed") ? " as " + step.kind() : "";
      String text = step.text().isEmpty() ? "" : ": " + step.text();
      output.line("  " + output.at(step.at()) + "  " + step.what() + kind + who + text);
    }
    for (Views.DeliveryView one : alert.deliveries()) {
      String when =
          one.delivered() == null
              ? "not told yet after " + one.tries() + " tries: " + one.lastError()
              : "told at " + output.at(one.delivered());
      output.line(
          "  " + one.recipient() + " by " + one.channel() + " " + one.address() + ", " + when);
    }
  }

  @CommandLine.Command(
      name = "acknowledge",
      mixinStandardHelpOptions = true,
      description = "Says that you are taking care of an alert.")
  Integer acknowledge(
      @CommandLine.Parameters(paramLabel = "ID", description = "The alert's id.") long id) {
    return act(id, "acknowledge", "", null);
  }

  @CommandLine.Command(
      name = "close",
      mixinStandardHelpOptions = true,
      description = "Closes an alert by hand.")
  Integer close(
      @CommandLine.Parameters(paramLabel = "ID", description = "The alert's id.") long id,
      @CommandLine.Option(
              names = "--reason",
              defaultValue = "",
              description = "The reason, for the audit trail.")
          String reason) {
    return act(id, "close", reason, null);
  }

  @CommandLine.Command(
      name = "put-off",
      mixinStandardHelpOptions = true,
      description = "Says that nobody need look at an alert before a time.")
  Integer putOff(
      @CommandLine.Parameters(paramLabel = "ID", description = "The alert's id.") long id,
      @CommandLine.Option(
              names = "--until",
              required = true,
              description = "A time: 06:00 is the next one; or 2027-03-04T06:00.")
          String until,
      @CommandLine.Option(
              names = "--reason",
              required = true,
              description = "Why; whoever comes next reads it.")
          String reason) {
    return act(id, "put-off", reason, ActionCommand.time(until));
  }

  @CommandLine.Command(
      name = "comment",
      mixinStandardHelpOptions = true,
      description = "Adds a remark to the record of an alert.")
  Integer comment(
      @CommandLine.Parameters(index = "0", paramLabel = "ID", description = "The alert's id.")
          long id,
      @CommandLine.Parameters(index = "1", paramLabel = "TEXT", description = "The remark.")
          String text) {
    return act(id, "comment", text, null);
  }

  private int act(long id, String action, String reason, Instant until) {
    Views.AlertView alert =
        Service.loggedIn()
            .post(
                Views.AlertView.class,
                "/alerts/" + id + "/actions",
                new Views.AlertActionRequest(action, reason, until));
    output.one(
        alert,
        () ->
            output.line(
                "alert "
                    + alert.id()
                    + " on "
                    + alert.reference()
                    + " is "
                    + alert.state()
                    + (alert.state().equals("put off")
                        ? " until " + output.at(alert.putOffUntil())
                        : "")));
    return 0;
  }
}
