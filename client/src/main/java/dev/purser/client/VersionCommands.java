package dev.purser.client;

import dev.purser.wire.api.ScheduleViews;
import dev.purser.wire.api.VersionViews;
import dev.purser.wire.api.Views;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** Commands about definitions as they were. */
final class VersionCommands {
  private VersionCommands() {}

  /** A definition by kind and name; with a name alone a stream is meant. */
  static final class Which {
    @CommandLine.Parameters(
        paramLabel = "[KIND] NAME",
        arity = "0..2",
        description = "A definition: its kind and name; a stream where no kind is given.")
    private List<String> words;

    boolean isGiven() {
      return words != null && !words.isEmpty();
    }

    String kind() {
      return words.size() == 2 ? words.get(0) : "stream";
    }

    String name() {
      return words.get(words.size() - 1);
    }
  }

  /** {@code purser versions}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "versions",
      mixinStandardHelpOptions = true,
      description = "How a definition came to be as it is: who changed what, when and why.",
      footer = {
        "",
        "Example: purser versions fuel/stock-count",
        "Example: purser versions holiday-calendar brannoch --show 3",
        "Example: purser versions fuel/stock-count --show 9 --against 2",
        "Example: purser versions --withdrawn"
      })
  static final class Versions implements Callable<Integer> {
    @CommandLine.Mixin private Output output;
    @CommandLine.Mixin private Which which = new Which();

    @CommandLine.Option(names = "--show", description = "One version, whole, and what it changed.")
    private Long show;

    @CommandLine.Option(
        names = "--against",
        description = "With --show: hold it against this revision, not against the one before.")
    private Long against;

    @CommandLine.Option(
        names = "--withdrawn",
        description = "What is not in force any more, and can be brought back.")
    private boolean withdrawn;

    @CommandLine.Option(names = "--limit", description = "So many at most; 100 where not said.")
    private Integer limit;

    @Override
    public Integer call() {
      if (withdrawn) {
        list(
            Service.loggedIn()
                .list(VersionViews.VersionView.class, "/definitions/withdrawn", Map.of()),
            "nothing has been withdrawn");
        return 0;
      }
      if (!which.isGiven()) {
        throw new Service.Refusal(2, "of which definition? purser versions [KIND] NAME");
      }
      String path = "/definitions/" + Service.encode(which.kind());
      if (show != null) {
        Map<String, Object> query = new HashMap<>();
        query.put("name", which.name());
        query.put("revision", show);
        query.put("against", against);
        VersionViews.VersionTextView one =
            Service.loggedIn().get(VersionViews.VersionTextView.class, path + "/version", query);
        output.one(one, () -> print(one));
        return 0;
      }
      Map<String, Object> query = new HashMap<>();
      query.put("name", which.name());
      query.put("limit", limit == null ? 100 : limit);
      list(
          Service.loggedIn().list(VersionViews.VersionView.class, path + "/versions", query),
          "there are none");
      return 0;
    }

    private void list(List<VersionViews.VersionView> versions, String none) {
      output.list(
          VersionViews.VersionView.class,
          versions,
          List.of(
              new Output.Column<>("revision", VersionViews.VersionView::revision),
              new Output.Column<>("definition", one -> one.kind() + " " + one.name()),
              new Output.Column<>("published", VersionViews.VersionView::at),
              new Output.Column<>("by", VersionViews.VersionView::who),
              new Output.Column<>("what", Versions::what),
              new Output.Column<>("runs", one -> one.runs() == 0 ? "" : "" + one.runs()),
              new Output.Column<>("reason", Versions::why)),
          none);
    }

    private static String what(VersionViews.VersionView one) {
      String what =
          one.action().equals("changed")
              ? one.fields() + (one.fields() == 1 ? " field" : " fields")
              : one.action();
      return what + (one.inForce() ? ", in force" : "");
    }

    private static String why(VersionViews.VersionView one) {
      return one.origin().isEmpty()
          ? one.reason()
          : one.origin() + (one.reason().isEmpty() ? "" : ": " + one.reason());
    }

    private void print(VersionViews.VersionTextView one) {
      VersionViews.VersionView version = one.version();
      output.line(
          version.kind()
              + " "
              + version.name()
              + ", revision "
              + version.revision()
              + ": "
              + what(version));
      output.line(
          "published "
              + Output.time(version.at())
              + " by "
              + version.who()
              + (why(version).isEmpty() ? "" : ": " + why(version)));
      if (!version.madeBy().isEmpty()) {
        output.line("made by a row of for-each " + version.madeBy());
      }
      if (one.against() > 0) {
        output.line("");
        output.line("held against revision " + one.against() + ":");
        if (one.changes().isEmpty()) {
          output.line("    nothing that counts differs");
        }
        one.changes().forEach(change -> PreviewText.field(output, change));
      }
      output.line("");
      output.line(one.text().stripTrailing());
    }
  }

  /** {@code purser publications}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "publications",
      mixinStandardHelpOptions = true,
      description = "What was published, by whom and why, the newest first.",
      footer = {"", "Example: purser publications --limit 5"})
  static final class Publications implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Option(
        names = "--limit",
        defaultValue = "30",
        description = "So many at most; 30 where not said.")
    private int limit;

    @Override
    public Integer call() {
      output.list(
          VersionViews.PublicationView.class,
          Service.loggedIn()
              .list(VersionViews.PublicationView.class, "/publications", Map.of("limit", limit)),
          List.of(
              new Output.Column<>("revision", VersionViews.PublicationView::revision),
              new Output.Column<>("published", VersionViews.PublicationView::at),
              new Output.Column<>("by", VersionViews.PublicationView::who),
              new Output.Column<>("reason", VersionViews.PublicationView::reason),
              new Output.Column<>("from", VersionViews.PublicationView::origin),
              new Output.Column<>("definitions", Publications::names)),
          "nothing has been published");
      return 0;
    }

    private static String names(VersionViews.PublicationView one) {
      List<String> shown = one.definitions().stream().limit(3).toList();
      int more = one.definitions().size() - shown.size() + one.more();
      return String.join(", ", shown) + (more > 0 ? " and " + more + " more" : "");
    }
  }

  /** {@code purser revert}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "revert",
      mixinStandardHelpOptions = true,
      description = {
        "Makes a definition as it was at a revision, or undoes a whole publication.",
        "That is a publication of its own: nothing is lost, and it can be undone too."
      },
      footer = {
        "",
        "Example: purser revert fuel/stock-count --to 1 --preview",
        "Example: purser revert fuel/stock-count --to 1 --reason \"the new tank is not ready\"",
        "Example: purser revert --publication 12 --preview"
      })
  static final class Revert implements Callable<Integer> {
    @CommandLine.Mixin private Output output;
    @CommandLine.Mixin private Which which = new Which();

    @CommandLine.Option(
        names = "--to",
        description = "The revision at which it was as it shall be.")
    private Long to;

    @CommandLine.Option(names = "--publication", description = "Undo all that this one changed.")
    private Long publication;

    @CommandLine.Option(
        names = "--anyway",
        description = "With --publication: leave alone what has changed since.")
    private boolean anyway;

    @CommandLine.Option(
        names = "--preview",
        description = "Say what that would change, and change nothing.")
    private boolean preview;

    @CommandLine.Mixin private ReasonOption reason;

    @CommandLine.Mixin private HoldsOption holds = new HoldsOption();

    @Override
    public Integer call() {
      boolean one = which.isGiven() && to != null && publication == null;
      boolean all = publication != null && !which.isGiven() && to == null;
      if (one == all) {
        throw new Service.Refusal(
            2, "say either [KIND] NAME --to REVISION or --publication REVISION");
      }
      VersionViews.RevertRequest request =
          new VersionViews.RevertRequest(
              one ? which.kind() : "",
              one ? which.name() : "",
              one ? to : publication,
              anyway,
              null,
              reason.text(),
              holds.request());
      Service service = Service.loggedIn();
      if (preview) {
        ScheduleViews.PreviewView view =
            service.post(ScheduleViews.PreviewView.class, "/definitions/revert-preview", request);
        output.one(view, () -> new PreviewText(output, false).print(view));
        return view.sound() ? 0 : 1;
      }
      Views.PublishResult result =
          service.post(Views.PublishResult.class, "/definitions/revert", request);
      output.one(result, () -> SiteCommands.print(output, result));
      return result.sound() ? 0 : 1;
    }
  }
}
