package dev.purser.client;

import dev.purser.wire.api.ActionViews;
import dev.purser.wire.api.RunView;
import dev.purser.wire.api.Views;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** What people do to runs: one command an action, all of one shape. */
@CommandLine.Command(addMethodSubcommands = false, mixinStandardHelpOptions = true)
abstract class ActionCommand implements Callable<Integer> {
  private static final int PAGE = 1_000;

  @CommandLine.Mixin protected Output output;

  @CommandLine.Parameters(
      paramLabel = "RUN",
      arity = "0..*",
      description = "References, tails of them, or ids.")
  protected List<String> references = new ArrayList<>();

  @CommandLine.Option(
      names = "--reason",
      defaultValue = "",
      description = "The reason; it is kept with the run and in the audit trail.")
  protected String reason;

  @CommandLine.Option(
      names = "--what-if",
      description = "Only say what it would do; nothing is done.")
  protected boolean whatIf;

  @CommandLine.ArgGroup(
      exclusive = false,
      heading = "%nInstead of RUN, all runs that are like this:%n")
  private RunFilter like;

  @CommandLine.Option(
      names = "--yes",
      description = "Act on all matching runs without listing them first.")
  private boolean yes;

  abstract String action();

  Integer priority() {
    return null;
  }

  Instant startAt() {
    return null;
  }

  @Override
  public Integer call() {
    if (references.isEmpty() == (like == null)) {
      throw new Service.Refusal(
          2, "say which runs: either RUN, or --stream, --state, --date and the like");
    }
    Service service = Service.loggedIn();
    List<RunView> runs = new ArrayList<>();
    int code = 0;
    for (String reference : references) {
      try {
        runs.add(RunCommands.find(service, reference));
      } catch (Service.Refusal refusal) {
        output.warn(reference + ": " + refusal.getMessage());
        code = Math.max(code, refusal.code());
      }
    }
    if (like != null) {
      runs.addAll(alike(service));
      if (!whatIf && !yes) {
        runs.forEach(run -> output.warn("  " + run.reference() + "  " + run.state()));
        throw new Service.Refusal(
            1,
            (runs.size() == 1 ? "1 run is" : runs.size() + " runs are")
                + " like this; nothing was done. --what-if says what it would do, --yes"
                + " does it");
      }
    }
    return runs.isEmpty() ? Math.max(code, 1) : Math.max(code, act(service, runs));
  }

  private List<RunView> alike(Service service) {
    List<RunView> found = new ArrayList<>();
    String cursor = "";
    do {
      Map<String, Object> query = like.query();
      query.put("cursor", cursor);
      query.put("limit", PAGE);
      Views.RunPage page = service.get(Views.RunPage.class, "/runs", query);
      page.runs().stream().filter(run -> run.actions().contains(action())).forEach(found::add);
      cursor = page.next();
    } while (!cursor.isEmpty());
    if (found.isEmpty()) {
      output.warn("no run is like that and can be acted on so");
    }
    return found;
  }

  private int act(Service service, List<RunView> runs) {
    ActionViews.ChangeRequest request =
        new ActionViews.ChangeRequest(
            action(),
            runs.stream().map(RunView::id).toList(),
            priority(),
            startAt(),
            reason,
            null,
            null,
            null,
            null);
    if (whatIf) {
      return printEffect(service, output, request);
    }
    List<ActionViews.ActionResult> results =
        service.postForList(ActionViews.ActionResult.class, "/actions", request);
    int code = 0;
    List<RunView> done = new ArrayList<>();
    for (ActionViews.ActionResult result : results) {
      if (result.done()) {
        RunView now = service.get(RunView.class, "/runs/find", Map.of("reference", result.run()));
        done.add(now);
        if (output.isText()) {
          output.line(now.reference() + ": " + Output.sentence(now.sentence()));
        }
      } else {
        output.warn(result.reference() + ": " + Output.inCommands(result.refusal()));
        code = 1;
      }
    }
    output.all(RunView.class, done, () -> {});
    return code;
  }

  /** Prints what something would do. */
  static int printEffect(Service service, Output output, ActionViews.ChangeRequest request) {
    ActionViews.EffectView effect = service.post(ActionViews.EffectView.class, "/what-if", request);
    output.one(effect, () -> effect.sentences().forEach(output::line));
    return effect.refusals().isEmpty() ? 0 : 1;
  }

  /**
   * A time that a person types: {@code 21:30} (the next one), {@code 2027-03-04T21:30}, or with an
   * offset.
   */
  static Instant time(String text) {
    ZoneId zone = Here.zone();
    try {
      if (text.matches("\\d{1,2}:\\d{2}")) {
        LocalTime time = LocalTime.parse(text.length() == 4 ? "0" + text : text);
        ZonedDateTime at = ZonedDateTime.now(zone).with(time);
        return (at.toInstant().isBefore(Instant.now()) ? at.plusDays(1) : at).toInstant();
      }
      return text.matches(".*(Z|[+-]\\d\\d:\\d\\d)")
          ? OffsetDateTime.parse(text).toInstant()
          : LocalDateTime.parse(text).atZone(zone).toInstant();
    } catch (DateTimeParseException e) {
      throw new Service.Refusal(
          2, "\"" + text + "\" is not a time; expected 21:30, or 2027-03-04T21:30");
    }
  }

  /** The same, but of a time of day the last one that has been. */
  static Instant pastTime(String text) {
    Instant at = time(text);
    return text.matches("\\d{1,2}:\\d{2}") && at.isAfter(Instant.now())
        ? at.atZone(Here.zone()).minusDays(1).toInstant()
        : at;
  }
}
