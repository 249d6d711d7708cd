package dev.purser.client;

import dev.purser.wire.api.AlertViews;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** {@code purser maintenance}. */
@CommandLine.Command(
    addMethodSubcommands = false,
    name = "maintenance",
    mixinStandardHelpOptions = true,
    description = "Times at which nobody is told of a scope, or a host is given no work.",
    footer = {
      "",
      "Example: purser maintenance mute stream fuel/bunkering --until 06:00 --reason \"new pump\"",
      "Example: purser maintenance drain group quays --from 2027-03-04T22:00 --until"
          + " 2027-03-05T02:00 --reason \"new disks\"",
      "Example: purser maintenance end 3"
    })
final class MaintenanceCommand implements Callable<Integer> {
  @CommandLine.Mixin private Output output;

  @Override
  public Integer call() {
    print(Service.loggedIn().list(AlertViews.MaintenanceView.class, "/maintenance", Map.of()));
    return 0;
  }

  private void print(List<AlertViews.MaintenanceView> all) {
    output.byTheClockOf(all.stream().map(AlertViews.MaintenanceView::zone).toList());
    output.list(
        AlertViews.MaintenanceView.class,
        all,
        List.of(
            new Output.Column<>("id", AlertViews.MaintenanceView::id),
            new Output.Column<>("what", AlertViews.MaintenanceView::what),
            new Output.Column<>(
                "of", one -> one.name().isEmpty() ? one.scope() : one.scope() + " " + one.name()),
            new Output.Column<>("from", AlertViews.MaintenanceView::from),
            new Output.Column<>("until", AlertViews.MaintenanceView::until),
            new Output.Column<>("state", AlertViews.MaintenanceView::state),
            new Output.Column<>("by", AlertViews.MaintenanceView::who),
            new Output.Column<>("reason", AlertViews.MaintenanceView::reason),
            new Output.Column<>("note", AlertViews.MaintenanceView::note)),
        "nothing is planned, and nothing was in the last seven days");
  }

  @CommandLine.Command(
      name = "mute",
      mixinStandardHelpOptions = true,
      description =
          "Nobody is told of a scope until a time; what is still open then comes as one digest.")
  Integer mute(
      @CommandLine.Parameters(
              index = "0",
              paramLabel = "SCOPE",
              description = "site, department, stream, host or group.")
          String scope,
      @CommandLine.Parameters(
              index = "1",
              arity = "0..1",
              paramLabel = "NAME",
              defaultValue = "",
              description = "Its name; none for the site.")
          String name,
      @CommandLine.Mixin Times times) {
    return add("mute", scope, name, times);
  }

  @CommandLine.Command(
      name = "drain",
      mixinStandardHelpOptions = true,
      description = "A host, or each of a group, is given no new work from one time to another.")
  Integer drain(
      @CommandLine.Parameters(index = "0", paramLabel = "SCOPE", description = "host or group.")
          String scope,
      @CommandLine.Parameters(index = "1", paramLabel = "NAME", description = "Its name.")
          String name,
      @CommandLine.Mixin Times times) {
    return add("drain", scope, name, times);
  }

  /** From when, until when, and why. */
  static final class Times {
    @CommandLine.Option(
        names = "--from",
        description = "A time: 22:00 is the next one; or 2027-03-04T22:00. Without, now.")
    private String from;

    @CommandLine.Option(names = "--until", required = true, description = "A time, as --from.")
    private String until;

    @CommandLine.Option(
        names = "--reason",
        required = true,
        description = "Why; whoever misses something reads it.")
    private String reason;
  }

  private int add(String what, String scope, String name, Times times) {
    Instant from = times.from == null ? null : ActionCommand.time(times.from);
    Instant until = ActionCommand.time(times.until);
    if (from != null && !until.isAfter(from) && times.until.matches("\\d{1,2}:\\d{2}")) {
      until = until.atZone(Here.zone()).plusDays(1).toInstant();
    }
    print(
        List.of(
            Service.loggedIn()
                .post(
                    AlertViews.MaintenanceView[].class,
                    "/maintenance",
                    new AlertViews.MaintenanceRequest(
                        what, scope, name, from, until, times.reason))));
    return 0;
  }

  @CommandLine.Command(
      name = "end",
      mixinStandardHelpOptions = true,
      description = "Ends one before its time, or takes it off the plan.")
  Integer end(@CommandLine.Parameters(paramLabel = "ID", description = "Its id.") long id) {
    Service.loggedIn().delete("/maintenance/" + id, Map.of());
    output.line("maintenance " + id + " is over");
    return 0;
  }
}
