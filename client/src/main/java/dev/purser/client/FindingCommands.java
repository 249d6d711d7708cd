package dev.purser.client;

import dev.purser.wire.api.FindingViews;
import dev.purser.wire.api.TemplateViews;
import dev.purser.wire.api.Views;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** Commands that find one's way among definitions, and copy them. */
final class FindingCommands {
  private FindingCommands() {}

  /** {@code purser uses}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "uses",
      mixinStandardHelpOptions = true,
      description = "Where a definition is used.",
      footer = {
        "",
        "Example: purser uses business-calendar brannoch-office",
        "Example: purser uses passenger/night-manifest"
      })
  static final class UsesCommand implements Callable<Integer> {
    @CommandLine.Mixin private Output output;
    @CommandLine.Mixin private VersionCommands.Which which = new VersionCommands.Which();

    @Override
    public Integer call() {
      if (!which.isGiven()) {
        throw new Service.Refusal(2, "of which definition? purser uses [KIND] NAME");
      }
      output.list(
          FindingViews.UseView.class,
          Service.loggedIn()
              .list(
                  FindingViews.UseView.class,
                  "/definitions/uses",
                  Map.of("kind", which.kind(), "name", which.name())),
          List.of(
              new Output.Column<>("used by", one -> one.kind() + " " + one.name()),
              new Output.Column<>(
                  "where", one -> one.where().equals(one.name()) ? "" : one.where())),
          "nothing uses " + which.kind() + " " + which.name());
      return 0;
    }
  }

  /** {@code purser search}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "search",
      mixinStandardHelpOptions = true,
      description = "Lines of definitions in force that have a text in them.",
      footer = {
        "",
        "Example: purser search quay-north",
        "Example: purser search --kind stream mail"
      })
  static final class Search implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(paramLabel = "TEXT", description = "What is looked for.")
    private String text;

    @CommandLine.Option(names = "--kind", description = "Only in definitions of this kind.")
    private String kind;

    @CommandLine.Option(
        names = "--limit",
        defaultValue = "200",
        description = "So many lines at most; 200 where not said.")
    private int limit;

    @Override
    public Integer call() {
      Map<String, Object> query = new HashMap<>();
      query.put("text", text);
      query.put("kind", kind);
      query.put("limit", limit);
      List<FindingViews.FoundLine> found =
          Service.loggedIn().list(FindingViews.FoundLine.class, "/definitions/search", query);
      output.list(
          FindingViews.FoundLine.class,
          found,
          List.of(
              new Output.Column<>("definition", one -> one.kind() + " " + one.name()),
              new Output.Column<>("line", FindingViews.FoundLine::line),
              new Output.Column<>("text", one -> one.text().strip())),
          "no definition has \"" + text + "\" in it");
      if (found.size() == limit && output.isText()) {
        output.line("there may be more (--limit)");
      }
      return found.isEmpty() ? 1 : 0;
    }
  }

  /** {@code purser left-over}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "left-over",
      mixinStandardHelpOptions = true,
      description = "Definitions that nothing uses, and those that this version does not accept.",
      footer = {"", "Example: purser left-over"})
  static final class LeftOver implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @Override
    public Integer call() {
      output.list(
          FindingViews.LeftOverView.class,
          Service.loggedIn()
              .list(FindingViews.LeftOverView.class, "/definitions/left-over", Map.of()),
          List.of(
              new Output.Column<>("definition", one -> one.kind() + " " + one.name()),
              new Output.Column<>("why", FindingViews.LeftOverView::why),
              new Output.Column<>("", FindingViews.LeftOverView::says)),
          "nothing is left over");
      return 0;
    }
  }

  /** {@code purser copy}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "copy",
      mixinStandardHelpOptions = true,
      description = {
        "A copy of a definition under another name, on standard output.",
        "What names itself inside names the copy. With --job a copy of one job within its stream."
      },
      footer = {
        "",
        "Example: purser copy fuel/stock-count fuel/stock-count-south > south.yaml",
        "Example: purser copy fuel/stock-count count-tanks-again --job count-tanks --publish",
        "Example: purser copy --kind holiday-calendar brannoch brannoch-2028"
      })
  static final class Copy implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(index = "0", paramLabel = "NAME", description = "What is copied.")
    private String name;

    @CommandLine.Parameters(index = "1", paramLabel = "NEW", description = "The copy's name.")
    private String to;

    @CommandLine.Option(
        names = "--kind",
        defaultValue = "stream",
        description = "Its kind; stream where not said.")
    private String kind;

    @CommandLine.Option(names = "--job", defaultValue = "", description = "Copy this job of it.")
    private String job;

    @CommandLine.Option(names = "--publish", description = "Publish it at once.")
    private boolean publish;

    @CommandLine.Option(
        names = "--reason",
        defaultValue = "",
        description = "With --publish: the reason, for the audit trail.")
    private String reason;

    @Override
    public Integer call() {
      Service service = Service.loggedIn();
      TemplateViews.DefinitionText copy =
          service.post(
              TemplateViews.DefinitionText.class,
              "/definitions/copy",
              new FindingViews.CopyRequest(kind, name, job, to));
      if (!publish) {
        output.one(copy, () -> output.line(copy.text().stripTrailing()));
        return 0;
      }
      Views.PublishResult result =
          service.post(
              Views.PublishResult.class,
              "/definitions",
              new Views.PublishRequest(
                  List.of(new Views.FileText("copy of " + name, copy.text())), reason));
      output.one(result, () -> SiteCommands.print(output, result));
      return result.sound() ? 0 : 1;
    }
  }
}
