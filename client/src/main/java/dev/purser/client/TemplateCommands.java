package dev.purser.client;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.problem.Nearest;
import dev.purser.core.template.TemplateMaker;
import dev.purser.wire.api.TemplateViews;
import dev.purser.wire.api.Views;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** Commands about templates. */
final class TemplateCommands {
  private TemplateCommands() {}

  /** {@code purser templates}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "templates",
      mixinStandardHelpOptions = true,
      description = "Templates; of one its parameters, what hangs on it, and what is other there.",
      subcommands = {TakeBack.class, MadeOf.class},
      footer = {
        "",
        "Example: purser templates",
        "Example: purser templates ship-log",
        "Example: purser templates made-of tank --stream fuel/stock-count",
        "Example: purser templates take-back ships/gannet/log --key about"
      })
  static final class Templates implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(
        paramLabel = "NAME",
        arity = "0..1",
        description = "One of them; all where none is named.")
    private String name;

    @Override
    public Integer call() {
      if (name != null) {
        TemplateViews.TemplateView one =
            Service.loggedIn()
                .get(
                    TemplateViews.TemplateView.class,
                    "/templates/" + Service.encode(name),
                    Map.of());
        output.one(one, () -> print(one));
        return 0;
      }
      output.list(
          TemplateViews.TemplateView.class,
          Service.loggedIn().list(TemplateViews.TemplateView.class, "/templates", Map.of()),
          List.of(
              new Output.Column<>("template", TemplateViews.TemplateView::name),
              new Output.Column<>("makes", TemplateViews.TemplateView::makes),
              new Output.Column<>("title", TemplateViews.TemplateView::title),
              new Output.Column<>("parameters", one -> names(one.parameters())),
              new Output.Column<>("streams", one -> one.made().size())),
          "there are no templates; docs/definitions.md says how to write one");
      return 0;
    }

    private static String names(List<TemplateViews.TemplateParameterView> parameters) {
      return String.join(
          ", ", parameters.stream().map(TemplateViews.TemplateParameterView::name).toList());
    }

    private void print(TemplateViews.TemplateView one) {
      output.line("template " + one.name() + ", makes a " + one.makes() + ": " + one.title());
      if (!one.about().isEmpty()) {
        output.line(one.about());
      }
      for (TemplateViews.TemplateParameterView parameter : one.parameters()) {
        output.line("  $<" + parameter.name() + ">  " + what(parameter));
      }
      output.line("");
      if (one.made().isEmpty()) {
        output.line("nothing comes from it yet");
      }
      for (TemplateViews.MadeView made : one.made()) {
        output.line(made.stream() + where(made));
        made.deviations().forEach(key -> output.line("    other than the template: " + key));
      }
    }

    private static String what(TemplateViews.TemplateParameterView parameter) {
      List<String> parts = new ArrayList<>();
      parts.add(parameter.type());
      if (!parameter.allowed().isEmpty()) {
        parts.add("one of " + String.join(", ", parameter.allowed()));
      }
      parts.add(
          parameter.standard() == null
              ? "must be given"
              : parameter.standard().isEmpty()
                  ? "may be left out"
                  : parameter.standard() + " where not given");
      String text = String.join("; ", parts);
      return parameter.help().isEmpty() ? text : text + "  (" + parameter.help() + ")";
    }

    private static String where(TemplateViews.MadeView made) {
      if (!made.by().isEmpty()) {
        return "  row " + made.row() + " of for-each " + made.by();
      }
      return made.template().isEmpty() ? "  some of its jobs" : "";
    }
  }

  /** {@code purser templates take-back}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "take-back",
      mixinStandardHelpOptions = true,
      description = "Publishes a stream as its template says, without what is other.",
      footer = {"", "Example: purser templates take-back ships/gannet/log --key about"})
  static final class TakeBack implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(paramLabel = "STREAM", description = "The stream.")
    private String stream;

    @CommandLine.Option(
        names = "--key",
        description = "Only this key, as purser templates NAME tells it; may be given again.")
    private List<String> keys;

    @CommandLine.Mixin private ReasonOption reason;

    @Override
    public Integer call() {
      Views.PublishResult result =
          Service.loggedIn()
              .post(
                  Views.PublishResult.class,
                  "/templates/take-back",
                  new TemplateViews.TakeBackRequest(
                      stream, keys == null ? List.of() : keys, reason.text()));
      output.one(result, () -> SiteCommands.print(output, result));
      return result.sound() ? 0 : 1;
    }
  }

  /** {@code purser templates made-of}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "made-of",
      mixinStandardHelpOptions = true,
      description = {
        "A template of streams that are alike, and the table that makes the same streams again.",
        "On standard output, to be looked at and published. What differs becomes a parameter."
      },
      footer = {
        "",
        "Example: purser templates made-of deck --stream fleet/deck-plans --files demo/world"
      })
  static final class MadeOf implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(paramLabel = "NAME", description = "The name of the template.")
    private String name;

    @CommandLine.Option(
        names = "--stream",
        required = true,
        arity = "1..*",
        description = "The streams; of one alone the last word of its name is taken to differ.")
    private List<String> streams;

    @CommandLine.Option(
        names = "--files",
        arity = "1..*",
        description = "Take them from definition files, without a service.")
    private List<Path> files;

    @Override
    public Integer call() {
      TemplateViews.DefinitionText made =
          files == null
              ? Service.loggedIn()
                  .post(
                      TemplateViews.DefinitionText.class,
                      "/templates/made-of",
                      new TemplateViews.MakeTemplateRequest(name, streams))
              : new TemplateViews.DefinitionText(ofFiles());
      output.one(made, () -> output.line(made.text().stripTrailing()));
      return 0;
    }

    private String ofFiles() {
      Definitions all = FileCommands.sound(files, output);
      List<String> texts = new ArrayList<>();
      for (String stream : streams) {
        texts.add(
            all.document(Kind.STREAM, stream)
                .map(Document::whole)
                .orElseThrow(
                    () ->
                        new Service.Refusal(
                            1,
                            "there is no stream "
                                + stream
                                + Nearest.hint(stream, all.names(Kind.STREAM)))));
      }
      return TemplateMaker.of(name, texts);
    }
  }
}
