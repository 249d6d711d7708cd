package dev.purser.client;

import dev.purser.core.schedule.Durations;
import dev.purser.wire.api.Views;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** Commands about Purser itself: how it is, and what it forgets. */
final class CareCommands {
  private CareCommands() {}

  /** {@code purser doctor}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "doctor",
      mixinStandardHelpOptions = true,
      description = {
        "Looks at services, database, agents, clocks, disks, mail and webhooks, and says what is"
            + " wrong and what to do.",
        "Ends with code 0 where nothing is bad, with 1 where something is, with 3 where no service"
            + " answers."
      },
      footer = {"", "Example: purser doctor", "Example: purser doctor --output json"})
  static final class Doctor implements Callable<Integer> {
    private static final Duration WRONG_CLOCK = Duration.ofSeconds(5);

    @CommandLine.Mixin private Output output;

    @Override
    public Integer call() {
      Service service = Service.loggedIn();
      List<Views.FindingView> all = new ArrayList<>(services(service.presences()));
      Views.HealthView health = null;
      try {
        health = service.get(Views.HealthView.class, "/health", Map.of());
        all.addAll(health.findings());
        clock(health, all);
      } catch (Service.Refusal e) {
        all.add(
            new Views.FindingView(
                "service",
                "bad",
                e.getMessage(),
                "is it started? On its machine: systemctl status purser-service, and its log"));
      }
      all.sort((a, b) -> rank(a) - rank(b));
      List<Views.FindingView> findings = List.copyOf(all);
      Views.HealthView found = health;
      output.all(Views.FindingView.class, findings, () -> print(findings, found));
      boolean bad = findings.stream().anyMatch(one -> one.level().equals("bad"));
      return health == null ? 3 : bad ? 1 : 0;
    }

    private static int rank(Views.FindingView one) {
      return List.of("bad", "look", "good").indexOf(one.level());
    }

    private static List<Views.FindingView> services(Map<String, String> presences) {
      List<Views.FindingView> all = new ArrayList<>();
      boolean several = presences.size() > 1;
      presences.forEach(
          (address, state) -> {
            String about = "service at " + address;
            switch (state) {
              case "active" -> all.add(new Views.FindingView(about, "good", "is active", ""));
              case "stands by" ->
                  all.add(
                      new Views.FindingView(
                          about,
                          several ? "good" : "look",
                          "stands by",
                          several
                              ? ""
                              : "another is active; log in to both, with a comma between"));
              default ->
                  all.add(
                      new Views.FindingView(
                          about,
                          "bad",
                          state,
                          several
                              ? "the other does its work meanwhile; start it again"
                              : "is it started, and the address right?"));
            }
          });
      return all;
    }

    private static void clock(Views.HealthView health, List<Views.FindingView> all) {
      Duration ahead = Duration.ofSeconds(health.clockAheadSeconds());
      if (!ahead.isZero()) {
        all.add(
            new Views.FindingView(
                "service's clock",
                "look",
                "it was set "
                    + Durations.print(ahead.abs())
                    + (ahead.isNegative() ? " behind" : " ahead of")
                    + " its machine's, as for a demo",
                "leave PURSER_CLOCK_OFFSET out where work is real"));
      }
      Duration off = Duration.between(health.at().minus(ahead), Instant.now()).abs();
      if (off.minusSeconds(6).compareTo(WRONG_CLOCK) > 0) { // a report may be 5 s old
        all.add(
            new Views.FindingView(
                "clock here",
                "look",
                "it differs from the service's by " + off.toSeconds() + " s",
                "set up time synchronisation on this machine"));
      }
    }

    private void print(List<Views.FindingView> findings, Views.HealthView health) {
      for (Views.FindingView one : findings) {
        output.line(String.format("%-5s %s: %s", one.level(), one.about(), one.text()));
        if (!one.remedy().isEmpty()) {
          output.line("      what to do: " + one.remedy());
        }
      }
      if (health != null) {
        output.line("kept: " + health.keeping());
      }
      long bad = findings.stream().filter(one -> one.level().equals("bad")).count();
      long look = findings.stream().filter(one -> one.level().equals("look")).count();
      output.line(
          bad + look == 0
              ? "all is well"
              : bad + (bad == 1 ? " thing is" : " things are") + " bad, " + look + " to look at");
    }
  }

  /** {@code purser forget}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "forget",
      mixinStandardHelpOptions = true,
      description = {
        "Deletes history: runs that are over and past, with attempts, output, and all below their"
            + " steps and parts. Says how much that is; deletes only with --yes.",
        "How long jobs took is kept for forecasts. For administrators."
      },
      footer = {
        "",
        "Example: purser forget --stream tide/levels --to 2026-06-30",
        "Example: purser forget --stream tide/levels --to 2026-06-30 --yes --reason \"test data\""
      })
  static final class Forget implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Option(names = "--stream", description = "Runs of this stream.")
    private String stream;

    @CommandLine.Option(names = "--job", description = "Runs of this job.")
    private String job;

    @CommandLine.Option(names = "--from", description = "The first business date.")
    private LocalDate from;

    @CommandLine.Option(names = "--to", description = "The last business date.")
    private LocalDate to;

    @CommandLine.Option(
        names = "--state",
        description = "Runs in these states, separated by commas.")
    private String state;

    @CommandLine.Option(
        names = "--yes",
        description = "Delete it; without this it is only counted.")
    private boolean yes;

    @CommandLine.Mixin private ReasonOption reason;

    @Override
    public Integer call() {
      Service service = Service.loggedIn();
      Views.HistoryAmount amount =
          service.post(Views.HistoryAmount.class, "/history/amount", request(null));
      if (!yes || amount.runs() == 0) {
        output.one(
            amount,
            () ->
                output.line(
                    amount.runs() == 0
                        ? "nothing that is over and past is meant by that"
                        : "would delete "
                            + inWords(amount)
                            + "; nothing was deleted: add --yes to do it"));
        return 0;
      }
      Views.HistoryAmount gone =
          service.post(Views.HistoryAmount.class, "/history/deletion", request(amount.runs()));
      output.one(gone, () -> output.line("deleted " + inWords(gone)));
      return 0;
    }

    private Views.HistoryRequest request(Long runs) {
      return new Views.HistoryRequest(stream, job, from, to, state, runs, reason.text());
    }

    private static String inWords(Views.HistoryAmount amount) {
      String children =
          amount.children() == 0 ? "" : " (" + amount.children() + " of them below others)";
      return String.format(
          Locale.ROOT,
          "%,d %s%s with %,d attempts, %,d moments and %.1f MB of output",
          amount.runs(),
          amount.runs() == 1 ? "run" : "runs",
          children,
          amount.attempts(),
          amount.moments(),
          amount.outputBytes() / 1e6);
    }
  }
}
