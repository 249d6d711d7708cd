package dev.purser.client;

import dev.purser.wire.api.FileViews;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** Commands about file watches and arrivals. */
final class FileWatchCommands {
  private FileWatchCommands() {}

  /** A path in one line, whatever is in it. */
  static String shown(String path) {
    StringBuilder out = new StringBuilder();
    for (int i = 0; i < path.length(); i++) {
      char c = path.charAt(i);
      out.append(Character.isISOControl(c) ? String.format("\\x%02X", (int) c) : String.valueOf(c));
    }
    return out.toString();
  }

  /** A size for eyes. */
  static String size(long bytes) {
    if (bytes < 10_000) {
      return bytes + " B";
    }
    String[] units = {"kB", "MB", "GB", "TB"};
    double size = bytes;
    int unit = -1;
    while (size >= 1_000 && unit < units.length - 1) {
      size /= 1_000;
      unit++;
    }
    return String.format(Locale.ROOT, size < 10 ? "%.1f %s" : "%.0f %s", size, units[unit]);
  }

  /** {@code purser watches}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "watches",
      mixinStandardHelpOptions = true,
      description = {
        "The files of a business date as a checklist: which have come, which are still to come, and"
            + " when they usually do.",
        "With the name of a watch, all about that one."
      },
      subcommands = Try.class,
      footer = {
        "",
        "Example: purser watches",
        "Example: purser watches harbour-feed --date 2027-03-04",
        "Example: purser watches try harbour-feed"
      })
  static final class Watches implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(arity = "0..1", paramLabel = "WATCH", description = "Its name.")
    private String name;

    @CommandLine.Option(names = "--date", description = "The business date; today by default.")
    private LocalDate date;

    @Override
    public Integer call() {
      Map<String, Object> query = new HashMap<>();
      if (date != null) {
        query.put("date", date);
      }
      Service service = Service.loggedIn();
      List<FileViews.WatchView> all =
          service.list(FileViews.WatchView.class, "/watches", query).stream()
              .filter(one -> name == null || one.name().equals(name))
              .toList();
      if (name != null && all.isEmpty()) {
        throw new Service.Refusal(1, "there is no file watch \"" + name + "\"");
      }
      if (name != null && output.isText()) {
        print(all.get(0));
        return 0;
      }
      output.list(
          FileViews.WatchView.class,
          all,
          List.of(
              new Output.Column<>("watch", FileViews.WatchView::name),
              new Output.Column<>("title", FileViews.WatchView::title),
              new Output.Column<>("standing", one -> new Output.State(one.standing())),
              new Output.Column<>("due by", FileViews.WatchView::by),
              new Output.Column<>("usually", FileViews.WatchView::usually),
              new Output.Column<>("came", FileViews.WatchView::came),
              new Output.Column<>(
                  "files",
                  one -> one.setOf() > 1 ? one.count() + " of " + one.setOf() : one.count()),
              new Output.Column<>("now", Watches::now)),
          "no file watches are defined; see docs/files.md");
      if (output.isText()) {
        all.forEach(
            one -> one.troubles().forEach(text -> output.warn("! " + one.name() + ": " + text)));
      }
      return 0;
    }

    /** What needs eyes: what is under way, and what is unprocessed. */
    private static String now(FileViews.WatchView one) {
      List<String> parts = new ArrayList<>();
      for (String state :
          List.of("unprocessed", "rejected", "seen", "settling", "ready", "taken")) {
        long count = one.states().getOrDefault(state, 0L);
        if (count > 0) {
          parts.add(count + " " + state);
        }
      }
      return String.join(", ", parts);
    }

    private void print(FileViews.WatchView one) {
      output.line(one.name() + ": " + one.title());
      output.line("looks for   " + one.path() + " on " + one.place());
      output.line("expected    " + (one.expected().isEmpty() ? "nobody says" : one.expected()));
      output.line("on " + one.date() + "  " + one.standing() + times(one));
      output.line(
          "used by     " + (one.usedBy().isEmpty() ? "nothing" : String.join(", ", one.usedBy())));
      output.line(
          "files       "
              + (one.states().isEmpty()
                  ? "none of late"
                  : String.join(
                      ", ",
                      one.states().entrySet().stream()
                          .map(entry -> entry.getValue() + " " + entry.getKey())
                          .toList())));
      one.troubles().forEach(text -> output.line("! " + text));
    }

    private static String times(FileViews.WatchView one) {
      StringBuilder text = new StringBuilder();
      if (one.came() != null) {
        text.append(", came ").append(Output.time(one.came()));
      }
      if (one.by() != null) {
        text.append(", due by ").append(Output.time(one.by()));
      }
      if (one.usually() != null) {
        text.append(", usually ").append(Output.time(one.usually()));
        text.append(", nearly always by ").append(Output.time(one.usuallyBy()));
      }
      return text.toString();
    }
  }

  /** {@code purser watches try}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "try",
      mixinStandardHelpOptions = true,
      description = "What a watch would find now, where it looks; nothing is taken.",
      footer = {"", "Example: purser watches try harbour-feed"})
  static final class Try implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(paramLabel = "WATCH", description = "Its name.")
    private String name;

    @Override
    public Integer call() {
      List<FileViews.TrialView> trials =
          Service.loggedIn()
              .postForList(
                  FileViews.TrialView.class, "/watches/" + Service.encode(name) + "/try", Map.of());
      output.all(FileViews.TrialView.class, trials, () -> trials.forEach(this::print));
      return trials.stream().allMatch(one -> one.problem().isEmpty()) ? 0 : 1;
    }

    private void print(FileViews.TrialView one) {
      if (!one.problem().isEmpty()) {
        output.line(one.place() + ": " + one.problem());
        return;
      }
      long count = one.files().size() + one.more();
      output.line(
          one.place()
              + ": "
              + (count == 0 ? "no file" : count == 1 ? "1 file" : count + " files")
              + " would be found; "
              + (one.notified()
                  ? "new ones are told by the system"
                  : "it is looked again and again"));
      for (FileViews.TriedFile file : one.files()) {
        output.line(
            String.format(
                "  %-9s %-9s %9s  %s%s",
                file.state(),
                Output.time(file.modified()),
                size(file.size()),
                shown(file.directory() + "/" + file.name()),
                file.note().isEmpty() ? "" : "  (" + file.note() + ")"));
      }
      if (one.more() > 0) {
        output.line("  and " + one.more() + " more");
      }
      one.troubles().stream().distinct().forEach(text -> output.line("  ! " + text));
    }
  }

  /** {@code purser arrivals}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "arrivals",
      mixinStandardHelpOptions = true,
      description = {
        "The files that were found, newest first, and what has become of each: seen, settling,"
            + " ready, taken by a run, used, unprocessed, rejected or ignored."
      },
      footer = {
        "",
        "Example: purser arrivals --unprocessed",
        "Example: purser arrivals --watch harbour-feed --state used --date 2027-03-04",
        "Example: purser arrivals --follow"
      })
  static final class Arrivals implements Callable<Integer> {
    private static final long PAUSE_MILLIS = 1_000;

    @CommandLine.Mixin private Output output;

    @CommandLine.Option(
        names = "--watch",
        defaultValue = "",
        description = "Arrivals of this watch.")
    private String watch;

    @CommandLine.Option(
        names = "--state",
        defaultValue = "",
        description =
            "Arrivals in these states, separated by commas; open means all that are not over.")
    private String state;

    @CommandLine.Option(
        names = "--unprocessed",
        description = "Arrivals that a person must decide on: unprocessed and rejected.")
    private boolean unprocessed;

    @CommandLine.Option(names = "--date", description = "Arrivals of this business date.")
    private LocalDate date;

    @CommandLine.Option(
        names = "--place",
        defaultValue = "",
        description = "Arrivals on this host, or through this connection.")
    private String place;

    @CommandLine.Option(
        names = "--text",
        defaultValue = "",
        description = "Arrivals with this text in their path.")
    private String text;

    @CommandLine.Option(
        names = "--limit",
        defaultValue = "50",
        description = "The most rows to show, up to 1000; ${DEFAULT-VALUE} by default.")
    private int limit;

    @CommandLine.Option(
        names = "--follow",
        description = "Go on showing what changes, until interrupted.")
    private boolean follow;

    @Override
    public Integer call() throws InterruptedException {
      Service service = Service.loggedIn();
      Map<String, Object> query = query();
      if (follow) {
        follow(service, query);
        return 0;
      }
      FileViews.ArrivalPage page = service.get(FileViews.ArrivalPage.class, "/arrivals", query);
      output.list(
          FileViews.ArrivalView.class,
          page.arrivals(),
          List.of(
              new Output.Column<>("no", FileViews.ArrivalView::id),
              new Output.Column<>("found", FileViews.ArrivalView::found),
              new Output.Column<>("watch", FileViews.ArrivalView::watch),
              new Output.Column<>("place", FileViews.ArrivalView::place),
              new Output.Column<>("file", one -> shown(output.isText() ? one.name() : one.path())),
              new Output.Column<>("size", one -> output.isText() ? size(one.size()) : one.size()),
              new Output.Column<>("state", one -> new Output.State(one.state())),
              new Output.Column<>("run", FileViews.ArrivalView::reference),
              new Output.Column<>("note", Arrivals::note)),
          "no files that fit");
      if (output.isText() && page.total() > page.arrivals().size()) {
        output.warn(
            page.total()
                + " in all; the newest "
                + page.arrivals().size()
                + " are shown (--limit)");
      }
      return 0;
    }

    private Map<String, Object> query() {
      Map<String, Object> query = new HashMap<>();
      query.put("watch", watch);
      query.put("state", unprocessed ? "unprocessed,rejected" : state);
      query.put("place", place);
      query.put("text", text);
      query.put("limit", limit);
      if (date != null) {
        query.put("date", date);
      }
      return query;
    }

    /** Why it is as it is, without the run that is named anyway. */
    private static String note(FileViews.ArrivalView one) {
      String note = one.note().isEmpty() ? one.afterUse() : one.note();
      boolean named = !one.reference().isEmpty() && note.startsWith(one.reference() + " ");
      return named ? note.substring(one.reference().length() + 1) : note;
    }

    /** Asks once a second what has changed since the last answer. */
    private void follow(Service service, Map<String, Object> query) throws InterruptedException {
      Map<Long, String> told = new LinkedHashMap<>();
      Instant since = Instant.now().minusSeconds(60);
      query.put("limit", 1_000);
      while (true) {
        query.put("changedSince", since);
        List<FileViews.ArrivalView> news =
            new ArrayList<>(
                service.get(FileViews.ArrivalPage.class, "/arrivals", query).arrivals());
        news.sort((a, b) -> a.since().compareTo(b.since()));
        for (FileViews.ArrivalView one : news) {
          if (!one.state().equals(told.put(one.id(), one.state()))) {
            tell(one);
          }
          since = one.since().minusSeconds(5).isAfter(since) ? one.since().minusSeconds(5) : since;
        }
        while (told.size() > 20_000) {
          told.remove(told.keySet().iterator().next());
        }
        Thread.sleep(PAUSE_MILLIS);
      }
    }

    private void tell(FileViews.ArrivalView one) {
      String run = one.reference().isEmpty() ? "" : " by " + one.reference();
      String why = note(one).isEmpty() ? "" : ": " + note(one);
      output.line(
          String.format(
              "%-9s %-6d %-12s %s:%s %s%s%s",
              Output.time(one.since()),
              one.id(),
              one.state(),
              one.place(),
              shown(one.path()),
              size(one.size()),
              run,
              why));
    }
  }

  /** What people decide of files: one word of the API. */
  @CommandLine.Command(addMethodSubcommands = false, mixinStandardHelpOptions = true)
  static final class Decision implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    private final String action;

    Decision(String action) {
      this.action = action;
    }

    @CommandLine.Parameters(
        arity = "1..*",
        paramLabel = "NO",
        description = "Numbers of arrivals, as purser arrivals lists them.")
    private List<Long> arrivals;

    @CommandLine.Mixin private ReasonOption reason;

    @Override
    public Integer call() {
      List<FileViews.DecisionView> results =
          Service.loggedIn()
              .postForList(
                  FileViews.DecisionView.class,
                  "/arrivals/actions",
                  new FileViews.DecisionRequest(arrivals, action, reason.text()));
      output.all(
          FileViews.DecisionView.class,
          results,
          () -> {
            for (FileViews.DecisionView one : results) {
              output.line(
                  one.id()
                      + (one.path().isEmpty() ? "" : " " + shown(one.path()))
                      + ": "
                      + (one.done() ? "is " + one.state() + " now" : "not done: " + one.refusal())
                      + (one.effect().isEmpty() ? "" : "; " + one.effect()));
            }
          });
      return results.stream().allMatch(FileViews.DecisionView::done) ? 0 : 1;
    }
  }
}
