package dev.purser.client;

import dev.purser.wire.api.AlertViews;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** {@code purser alerts}. */
@CommandLine.Command(
    addMethodSubcommands = false,
    name = "alerts",
    mixinStandardHelpOptions = true,
    description = "Alerts, newest first.",
    footer = {
      "",
      "Example: purser alerts",
      "Example: purser alerts --department Depot --urgency urgent --closed",
      "Example: purser alerts show 12",
      "Example: purser alerts try --to night-desk",
      "Example: purser alerts rehearse stores.yaml --days 30",
      "Example: purser alerts rules passenger/night-manifest/file-manifest",
      "Example: purser alerts acknowledge 12"
    },
    subcommands = {AlertFollow.class, AlertRehearse.class})
final class AlertCommands implements Callable<Integer> {
  @CommandLine.Mixin private Output output;

  @CommandLine.Option(names = "--closed", description = "Show closed alerts too.")
  private boolean closed;

  @CommandLine.Option(
      names = "--all",
      description = "Show those that are part of another by themselves, too.")
  private boolean all;

  @CommandLine.Option(names = "--of", description = "Show the parts of this alert, by its id.")
  private long of;

  @CommandLine.Option(names = "--kind", defaultValue = "", description = "Kinds, with commas.")
  private String kind;

  @CommandLine.Option(
      names = "--urgency",
      defaultValue = "",
      description = "note, warning, urgent, with commas.")
  private String urgency;

  @CommandLine.Option(
      names = "--department",
      defaultValue = "",
      description = "Only of this department's streams.")
  private String department;

  @CommandLine.Option(
      names = "--stream",
      defaultValue = "",
      description = "Only of this stream and those below it.")
  private String stream;

  @CommandLine.Option(
      names = "--text",
      defaultValue = "",
      description = "Only with this text in the title, the text or what it is about.")
  private String text;

  @CommandLine.Option(
      names = "--from",
      description = "Only opened then or later: 06:00 is the last one; or 2027-03-04T06:00.")
  private String from;

  @CommandLine.Option(names = "--mine", description = "Only those of which you were told.")
  private boolean mine;

  @CommandLine.Option(
      names = "--limit",
      defaultValue = "200",
      description = "The most rows to show; 200 by default.")
  private int limit;

  @Override
  public Integer call() {
    Map<String, Object> query = new LinkedHashMap<>();
    query.put("closed", closed || of > 0);
    query.put("heads", !all && of == 0);
    query.put("partOf", of);
    query.put("kind", kind);
    query.put("urgency", urgency);
    query.put("department", department);
    query.put("stream", stream);
    query.put("text", text);
    query.put("mine", mine);
    query.put("limit", limit);
    if (from != null) {
      query.put("from", ActionCommand.pastTime(from));
    }
    List<AlertViews.AlertView> alerts =
        Service.loggedIn().list(AlertViews.AlertView.class, "/alerts", query);
    output.byTheClockOf(alerts.stream().map(AlertViews.AlertView::zone).toList());
    output.list(
        AlertViews.AlertView.class,
        alerts,
        List.of(
            new Output.Column<>("id", AlertViews.AlertView::id),
            new Output.Column<>("kind", AlertViews.AlertView::kind),
            new Output.Column<>("urgency", AlertViews.AlertView::urgency),
            new Output.Column<>("state", AlertViews.AlertView::state),
            new Output.Column<>("opened", AlertViews.AlertView::opened),
            new Output.Column<>("about", AlertViews.AlertView::reference),
            new Output.Column<>("with", alert -> alert.parts() == 0 ? "" : "+" + alert.parts()),
            new Output.Column<>("told", AlertCommands::told),
            new Output.Column<>("what", AlertViews.AlertView::text)),
        "no alert is open");
    return 0;
  }

  private static String told(AlertViews.AlertView alert) {
    long reached = alert.deliveries().stream().filter(d -> d.state().equals("delivered")).count();
    return reached + "/" + alert.deliveries().size();
  }

  @CommandLine.Command(
      name = "show",
      mixinStandardHelpOptions = true,
      description = "One alert: what it says, what has become of it, and whom it has reached.")
  Integer show(
      @CommandLine.Parameters(paramLabel = "ID", description = "The alert's id.") long id) {
    AlertViews.AlertView alert =
        Service.loggedIn().get(AlertViews.AlertView.class, "/alerts/" + id, Map.of());
    output.byTheClockOf(List.of(alert.zone()));
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
              description =
                  "A job's or stream's full name, or a commitment's; by default, the site.")
          String of) {
    output.list(
        AlertViews.AlertRuleView.class,
        Service.loggedIn().list(AlertViews.AlertRuleView.class, "/alert-rules", Map.of("of", of)),
        List.of(
            new Output.Column<>("kind", AlertViews.AlertRuleView::kind),
            new Output.Column<>("alerts", rule -> rule.none() ? "none" : rule.urgency()),
            new Output.Column<>("asks", AlertViews.AlertRuleView::condition),
            new Output.Column<>("tells", rule -> String.join(", ", rule.tell())),
            new Output.Column<>("says", AlertViews.AlertRuleView::say),
            new Output.Column<>("then", AlertCommands::then),
            new Output.Column<>("from", AlertViews.AlertRuleView::origin)),
        "there is no kind of alert");
    return 0;
  }

  private static String then(AlertViews.AlertRuleView rule) {
    List<String> all = new ArrayList<>(rule.escalation());
    if (!rule.remindEvery().isEmpty()) {
      all.add("reminds every " + rule.remindEvery());
    }
    if (!rule.does().isEmpty()) {
      all.add(rule.does());
    }
    return String.join("; ", all);
  }

  private void print(AlertViews.AlertView alert) {
    output.line(alert.title() + " (" + alert.reference() + ")" + output.clockInWords());
    output.line(alert.kindTitle() + ": " + alert.text());
    output.line("urgency: " + alert.urgency() + "; rule: " + alert.rule());
    if (alert.partOf() != 0) {
      output.line("part of alert " + alert.partOf() + ": purser alerts show " + alert.partOf());
    }
    if (alert.parts() > 0) {
      output.line("with " + alert.parts() + " more: purser alerts --of " + alert.id());
    }
    if (!alert.firstAid().isEmpty()) {
      output.line("what to do: " + alert.firstAid());
    }
    output.line("");
    for (AlertViews.AlertStepView step : alert.record()) {
      String who = step.who().isEmpty() ? "" : " by " + step.who();
      String kind = step.what().matches("opened|changed") ? " as " + step.kind() : "";
      String text = step.text().isEmpty() ? "" : ": " + step.text();
      output.line("  " + output.at(step.at()) + "  " + step.what() + kind + who + text);
    }
    for (AlertViews.NoticeView one : alert.notices()) {
      if (!one.state().equals("told")) {
        output.line("  " + notice(one));
      }
    }
    for (AlertViews.DeliveryView one : alert.deliveries()) {
      output.line(
          "  " + one.recipient() + " by " + one.channel() + " " + one.address() + ", " + how(one));
    }
  }

  private String notice(AlertViews.NoticeView one) {
    String who = one.name() + (one.byWayOf().isEmpty() ? "" : " (by way of " + one.byWayOf() + ")");
    return switch (one.state()) {
      case "waits" -> who + " is told at " + output.at(one.due()) + ": " + one.note();
      case "folded" -> who + " is not told by itself: " + one.note();
      case "dropped" -> who + " is not told: " + one.note();
      default -> who + " is about to be told";
    };
  }

  private String how(AlertViews.DeliveryView one) {
    String what = one.what().equals("digest") ? " with others" : "";
    if (one.delivered() != null) {
      String answer = one.answer().isEmpty() ? "" : ": " + one.answer();
      return "told" + what + " at " + output.at(one.delivered()) + answer;
    }
    return one.state().equals("refused")
        ? "refused" + what + ": " + one.lastError()
        : "not told yet after " + one.tries() + " tries: " + one.lastError();
  }

  @CommandLine.Command(
      name = "try",
      mixinStandardHelpOptions = true,
      description = "Sends a test by every way by which somebody is reached now.")
  Integer attempt(
      @CommandLine.Option(
              names = "--to",
              required = true,
              description = "A recipient, a duty, or \"person NAME\".")
          String to) {
    List<AlertViews.TriedView> all =
        List.of(
            Service.loggedIn()
                .post(
                    AlertViews.TriedView[].class, "/alert-trials", new AlertViews.TryRequest(to)));
    output.list(
        AlertViews.TriedView.class,
        all,
        List.of(
            new Output.Column<>("recipient", AlertViews.TriedView::recipient),
            new Output.Column<>("by", AlertViews.TriedView::channel),
            new Output.Column<>("address", AlertViews.TriedView::address),
            new Output.Column<>("arrived", one -> one.arrived() ? "yes" : "no"),
            new Output.Column<>("answer", AlertViews.TriedView::answer)),
        "nobody is reached by \"" + to + "\"");
    return all.stream().allMatch(AlertViews.TriedView::arrived) && !all.isEmpty() ? 0 : 1;
  }

  @CommandLine.Command(
      name = "addresses",
      mixinStandardHelpOptions = true,
      description = "How the addresses fare to which alerts went in the last seven days.")
  Integer addresses() {
    output.list(
        AlertViews.AddressView.class,
        Service.loggedIn().list(AlertViews.AddressView.class, "/alert-addresses", Map.of()),
        List.of(
            new Output.Column<>("by", AlertViews.AddressView::channel),
            new Output.Column<>("address", AlertViews.AddressView::address),
            new Output.Column<>("state", AlertViews.AddressView::state),
            new Output.Column<>("on the way", AlertViews.AddressView::pending),
            new Output.Column<>("last arrived", AlertViews.AddressView::delivered),
            new Output.Column<>("next try", AlertViews.AddressView::nextTry),
            new Output.Column<>(
                "said", one -> one.lastError().isEmpty() ? one.answer() : one.lastError())),
        "no alert has gone anywhere yet");
    return 0;
  }

  @CommandLine.Command(
      name = "limits",
      mixinStandardHelpOptions = true,
      description =
          "How much may be told, of the site, by each way and to recipients, and has been.")
  Integer limits() {
    output.list(
        AlertViews.LimitView.class,
        Service.loggedIn().list(AlertViews.LimitView.class, "/alert-limits", Map.of()),
        List.of(
            new Output.Column<>("of", AlertViews.LimitView::of),
            new Output.Column<>("within", AlertViews.LimitView::within),
            new Output.Column<>("urgent", one -> one.urgent() ? "yes" : ""),
            new Output.Column<>("most", AlertViews.LimitView::most),
            new Output.Column<>("used", AlertViews.LimitView::used),
            new Output.Column<>("waiting", AlertViews.LimitView::waiting)),
        "nothing is limited: alerts-of: site and recipients may say at-most");
    return 0;
  }

  @CommandLine.Command(
      name = "sums",
      mixinStandardHelpOptions = true,
      description = "How many alerts each rule made, and what became of them; the noisiest first.")
  Integer sums(
      @CommandLine.Option(
              names = "--days",
              defaultValue = "30",
              description = "How many dates, today's included; 30 by default.")
          int days) {
    AlertViews.SumsView view =
        Service.loggedIn().get(AlertViews.SumsView.class, "/alert-sums", Map.of("days", days));
    output.list(
        AlertViews.RuleSum.class,
        view.sums(),
        List.of(
            new Output.Column<>("alerts", AlertViews.RuleSum::count),
            new Output.Column<>("kind", AlertViews.RuleSum::kind),
            new Output.Column<>("rule", AlertViews.RuleSum::rule),
            new Output.Column<>("stream", AlertViews.RuleSum::stream),
            new Output.Column<>("taken on", AlertViews.RuleSum::takenOn),
            new Output.Column<>("by itself", AlertViews.RuleSum::byItself),
            new Output.Column<>("closed by hand", AlertViews.RuleSum::byPerson),
            new Output.Column<>("ignored", AlertViews.RuleSum::ignored),
            new Output.Column<>("part of another", AlertViews.RuleSum::parts)),
        "there was no alert from " + view.from() + " to " + view.to());
    return 0;
  }

  @CommandLine.Command(
      name = "acknowledge",
      mixinStandardHelpOptions = true,
      description = "Says that you are taking care of alerts.")
  Integer acknowledge(
      @CommandLine.Parameters(paramLabel = "ID", arity = "1..*", description = "The alerts' ids.")
          List<Long> ids,
      @CommandLine.Option(names = "--with-parts", description = "The open parts of each, too.")
          boolean withParts) {
    return act(ids, withParts, "acknowledge", "", null);
  }

  @CommandLine.Command(
      name = "close",
      mixinStandardHelpOptions = true,
      description = "Closes alerts by hand.")
  Integer close(
      @CommandLine.Parameters(paramLabel = "ID", arity = "1..*", description = "The alerts' ids.")
          List<Long> ids,
      @CommandLine.Option(names = "--with-parts", description = "The open parts of each, too.")
          boolean withParts,
      @CommandLine.Option(
              names = "--reason",
              defaultValue = "",
              description = "The reason, for the audit trail.")
          String reason) {
    return act(ids, withParts, "close", reason, null);
  }

  @CommandLine.Command(
      name = "put-off",
      mixinStandardHelpOptions = true,
      description = "Says that nobody need look at alerts before a time.")
  Integer putOff(
      @CommandLine.Parameters(paramLabel = "ID", arity = "1..*", description = "The alerts' ids.")
          List<Long> ids,
      @CommandLine.Option(names = "--with-parts", description = "The open parts of each, too.")
          boolean withParts,
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
    return act(ids, withParts, "put-off", reason, ActionCommand.time(until));
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
    return act(List.of(id), false, "comment", text, null);
  }

  private int act(List<Long> ids, boolean withParts, String action, String reason, Instant until) {
    AlertViews.AlertDone[] all =
        Service.loggedIn()
            .post(
                AlertViews.AlertDone[].class,
                "/alerts/actions",
                new AlertViews.AlertsActionRequest(ids, withParts, action, reason, until));
    output.list(
        AlertViews.AlertDone.class,
        List.of(all),
        List.of(
            new Output.Column<>("id", AlertViews.AlertDone::alert),
            new Output.Column<>("state", AlertViews.AlertDone::state),
            new Output.Column<>("title", AlertViews.AlertDone::title),
            new Output.Column<>("not done", AlertViews.AlertDone::refusal)),
        "nothing was done");
    return List.of(all).stream().allMatch(one -> one.refusal().isEmpty()) ? 0 : 1;
  }
}
