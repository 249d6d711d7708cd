package dev.purser.client;

import dev.purser.wire.api.AlertViews;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** {@code purser duties}. */
@CommandLine.Command(
    addMethodSubcommands = false,
    name = "duties",
    mixinStandardHelpOptions = true,
    description = "Who is on duty now, and when.",
    footer = {"", "Example: purser duties", "Example: purser duties night-duty --days 14"})
final class DutyCommand implements Callable<Integer> {
  @CommandLine.Mixin private Output output;

  @CommandLine.Parameters(
      paramLabel = "NAME",
      arity = "0..1",
      defaultValue = "",
      description = "A duty: who has it when; by default, all duties and who has each now.")
  private String name;

  @CommandLine.Option(names = "--from", description = "The first date; today by default.")
  private String from;

  @CommandLine.Option(
      names = "--days",
      defaultValue = "31",
      description = "How many dates; 31 by default.")
  private int days;

  @Override
  public Integer call() {
    if (name.isEmpty()) {
      List<AlertViews.DutyView> duties =
          Service.loggedIn().list(AlertViews.DutyView.class, "/duties", Map.of());
      output.byTheClockOf(duties.stream().map(AlertViews.DutyView::zone).toList());
      output.list(
          AlertViews.DutyView.class,
          duties,
          List.of(
              new Output.Column<>("duty", AlertViews.DutyView::name),
              new Output.Column<>("now", one -> String.join(", ", one.now())),
              new Output.Column<>("until", AlertViews.DutyView::until),
              new Output.Column<>("then", one -> String.join(", ", one.next())),
              new Output.Column<>("title", AlertViews.DutyView::title)),
          "there is no duty");
      return 0;
    }
    Map<String, Object> query = new LinkedHashMap<>();
    query.put("days", days);
    if (from != null) {
      query.put("from", from);
    }
    List<AlertViews.StretchView> stretches =
        List.of(
            Service.loggedIn()
                .get(AlertViews.StretchView[].class, "/duties/" + Service.encode(name), query));
    output.byTheClockOf(stretches.stream().map(AlertViews.StretchView::zone).toList());
    output.list(
        AlertViews.StretchView.class,
        stretches,
        List.of(
            new Output.Column<>("from", AlertViews.StretchView::from),
            new Output.Column<>("to", AlertViews.StretchView::to),
            new Output.Column<>("who", one -> String.join(", ", one.who()))),
        "nobody");
    return 0;
  }
}
