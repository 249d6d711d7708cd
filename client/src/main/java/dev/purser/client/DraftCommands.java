package dev.purser.client;

import dev.purser.wire.api.DraftViews;
import dev.purser.wire.api.ScheduleViews;
import dev.purser.wire.api.Views;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** Commands about definitions that are not live yet. */
final class DraftCommands {
  private DraftCommands() {}

  /** {@code purser drafts}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "drafts",
      mixinStandardHelpOptions = true,
      description = "Drafts: definitions that are being written, yours and those shared with you.",
      footer = {"", "Example: purser drafts"})
  static final class Drafts implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @Override
    public Integer call() {
      output.list(
          DraftViews.DraftView.class,
          Service.loggedIn().list(DraftViews.DraftView.class, "/drafts", Map.of()),
          List.of(
              new Output.Column<>("draft", DraftViews.DraftView::id),
              new Output.Column<>("title", DraftViews.DraftView::title),
              new Output.Column<>("with", DraftViews.DraftView::holder),
              new Output.Column<>("saved", DraftViews.DraftView::changed),
              new Output.Column<>("shared with", one -> String.join(", ", one.shared())),
              new Output.Column<>("stands", DraftCommands::standing)),
          "there are no drafts that you may see");
      return 0;
    }
  }

  private static String standing(DraftViews.DraftView draft) {
    if (draft.liveFrom() != null) {
      return "goes live for "
          + draft.liveFrom()
          + ", as "
          + draft.liveBy()
          + " said"
          + (draft.liveTrouble().isEmpty() ? "" : ", but cannot: " + draft.liveTrouble());
    }
    return draft.agreed() != null
        ? draft.agreedBy() + " has agreed"
        : draft.asked() != null ? "waits for somebody to agree" : "is being written";
  }

  /** {@code purser save-draft}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "save-draft",
      mixinStandardHelpOptions = true,
      description = "Keeps files as a draft: a new one, or what a draft is from now on.",
      footer = {
        "",
        "Example: purser save-draft night.yaml --title \"A quicker night\"",
        "Example: purser save-draft night.yaml --draft 12 --looked"
      })
  static final class Save implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(
        paramLabel = "FILE",
        arity = "1..*",
        description = "Definition files, or directories of them.")
    private List<Path> files;

    @CommandLine.Option(names = "--title", description = "What people call it.")
    private String title;

    @CommandLine.Option(names = "--draft", description = "The draft that they replace.")
    private Long draft;

    @CommandLine.Option(
        names = "--looked",
        description = "Say that you have looked at what others published meanwhile.")
    private boolean looked;

    @Override
    public Integer call() {
      List<Views.FileText> texts =
          FileCommands.read(files).stream()
              .map(file -> new Views.FileText(file.name(), file.text()))
              .toList();
      Service service = Service.loggedIn();
      DraftViews.DraftView kept;
      if (draft == null) {
        String called = title == null ? texts.get(0).name() : title;
        kept =
            service.post(
                DraftViews.DraftView.class,
                "/drafts",
                new DraftViews.DraftRequest(called, texts, 0, true));
      } else {
        DraftViews.DraftView before =
            service.get(DraftViews.DraftView.class, "/drafts/" + draft, Map.of());
        kept =
            service.put(
                DraftViews.DraftView.class,
                "/drafts/" + draft,
                new DraftViews.DraftRequest(
                    title == null ? before.title() : title, texts, before.version(), looked));
      }
      output.one(
          kept,
          () ->
              output.line(
                  "draft "
                      + kept.id()
                      + " is kept: purser draft "
                      + kept.id()
                      + " --preview, --try, --publish"));
      return 0;
    }
  }

  /** A draft that is gone. */
  record Dropped(long draft, String done) {}

  /** What is done with a draft: one thing. */
  private static final class Deed {
    @CommandLine.Option(names = "--preview", description = "Say what publishing it would change.")
    private boolean preview;

    @CommandLine.Option(names = "--publish", description = "Put it in force; then it is gone.")
    private boolean publish;

    @CommandLine.Option(
        names = "--try",
        description = "Run it once, under trial/: no history, prerequisite or alert sees it.")
    private boolean tryOnce;

    @CommandLine.Option(names = "--take-over", description = "Write it from now on.")
    private boolean takeOver;

    @CommandLine.Option(names = "--copy", description = "Make a draft of your own of it.")
    private boolean copy;

    @CommandLine.Option(
        names = "--share",
        paramLabel = "NAMES",
        description = "Who may see it: names, authors, operators, everybody; with commas.")
    private String share;

    @CommandLine.Option(names = "--ask", description = "Ask somebody else to agree to it.")
    private boolean ask;

    @CommandLine.Option(names = "--agree", description = "Agree to it as it is.")
    private boolean agree;

    @CommandLine.Option(
        names = "--stay",
        description = "Keep it from going live by itself, as --publish --from DATE had it.")
    private boolean stay;

    @CommandLine.Option(names = "--drop", description = "Throw it away.")
    private boolean drop;
  }

  /** {@code purser draft}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "draft",
      mixinStandardHelpOptions = true,
      description = "Shows a draft, or does something with it.",
      footer = {
        "",
        "Example: purser draft 12",
        "Example: purser draft 12 --preview",
        "Example: purser draft 12 --try --on quay-north --ignoring",
        "Example: purser draft 12 --try --playing",
        "Example: purser draft 12 --publish --reason \"tested tonight\"",
        "Example: purser draft 12 --publish --from 2027-04-01 --reason \"the new tariff\"",
        "Example: purser draft 12 --stay"
      })
  static final class Draft implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(paramLabel = "DRAFT", description = "Its number.")
    private long id;

    @CommandLine.ArgGroup private Deed deed = new Deed();

    @CommandLine.Mixin private ReasonOption reason;

    @CommandLine.Option(names = "--on", description = "With --try: the host of all its jobs.")
    private String host;

    @CommandLine.Option(
        names = "--stream",
        defaultValue = "",
        description = "With --try: which stream, where there are several.")
    private String stream;

    @CommandLine.Option(
        names = "--ignoring",
        description = "With --try: wait for no other stream and no file.")
    private boolean ignoring;

    @CommandLine.Option(
        names = "--playing",
        description = "With --try: a question stands for each of those; you say how it turned out.")
    private boolean playing;

    @CommandLine.Mixin private HoldsOption holds = new HoldsOption();

    @Override
    public Integer call() {
      Service service = Service.loggedIn();
      if (deed.publish) {
        Views.PublishResult result =
            service.post(
                Views.PublishResult.class,
                "/drafts/" + id + "/publication",
                new DraftViews.PublicationRequest(reason.text(), holds.request()));
        output.one(result, () -> SiteCommands.print(output, result));
        return result.sound() ? 0 : 1;
      }
      if (deed.tryOnce) {
        return tryOnce(service);
      }
      if (deed.drop) {
        service.delete("/drafts/" + id, Map.of());
        output.one(new Dropped(id, "dropped"), () -> output.line("draft " + id + " is gone"));
        return 0;
      }
      DraftViews.DraftView draft =
          service.get(DraftViews.DraftView.class, "/drafts/" + id, Map.of());
      if (deed.preview) {
        ScheduleViews.PreviewView view =
            service.post(
                ScheduleViews.PreviewView.class,
                "/definitions/preview",
                new ScheduleViews.PreviewRequest(draft.files(), null, holds.request()));
        output.one(view, () -> new PreviewText(output, false).print(view));
        return view.sound() ? 0 : 1;
      }
      String action = action();
      if (!action.isEmpty()) {
        List<String> with =
            deed.share == null
                ? List.of()
                : Arrays.stream(deed.share.split(",", -1))
                    .map(String::strip)
                    .filter(name -> !name.isEmpty())
                    .toList();
        DraftViews.DraftView done =
            service.post(
                DraftViews.DraftView.class,
                "/drafts/" + id + "/actions",
                new DraftViews.DraftAction(action, with, draft.version(), reason.text()));
        output.one(done, () -> print(done, false));
        return 0;
      }
      output.one(draft, () -> print(draft, true));
      return 0;
    }

    private String action() {
      return deed.takeOver
          ? "take over"
          : deed.copy
              ? "copy"
              : deed.share != null
                  ? "share"
                  : deed.ask ? "ask" : deed.agree ? "agree" : deed.stay ? "stay" : "";
    }

    private int tryOnce(Service service) {
      DraftViews.DraftTrialView tried =
          service.post(
              DraftViews.DraftTrialView.class,
              "/drafts/" + id + "/trial",
              new DraftViews.TrialRequest(stream, host, ignoring, playing, reason.text()));
      output.one(
          tried,
          () -> {
            tried.problems().forEach(problem -> output.line(SiteCommands.inWords(problem)));
            output.line(
                tried.stream().isEmpty()
                    ? "not tried: it is not sound"
                    : FileCommands.Check.count(tried.runs().size(), "run")
                        + " started: purser runs --stream "
                        + tried.stream());
          });
      return tried.stream().isEmpty() ? 1 : 0;
    }

    private void print(DraftViews.DraftView draft, boolean files) {
      output.line("draft " + draft.id() + "  " + draft.title() + ", version " + draft.version());
      output.line(
          "with "
              + draft.holder()
              + ", saved "
              + Output.time(draft.changed())
              + "; shared with "
              + (draft.shared().isEmpty() ? "nobody" : String.join(", ", draft.shared()))
              + "; "
              + standing(draft));
      if (files) {
        for (Views.FileText file : draft.files()) {
          output.line("");
          output.line("# " + file.name());
          file.text().lines().forEach(output::line);
        }
      }
    }
  }

  /** {@code purser agreement}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "agreement",
      mixinStandardHelpOptions = true,
      description = "Whose streams can only be changed once somebody else has agreed to a draft.",
      footer = {
        "",
        "Example: purser agreement",
        "Example: purser agreement --set \"Passenger services, Accounts\"",
        "Example: purser agreement --set \"\""
      })
  static final class AgreementCommand implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Option(
        names = "--set",
        paramLabel = "DEPARTMENTS",
        description = "Their names with commas, or all; empty for none (administrators).")
    private String departments;

    @Override
    public Integer call() {
      Service service = Service.loggedIn();
      DraftViews.AgreementView view =
          departments == null
              ? service.get(DraftViews.AgreementView.class, "/agreement", Map.of())
              : service.put(
                  DraftViews.AgreementView.class,
                  "/agreement",
                  new DraftViews.AgreementView(
                      Arrays.stream(departments.split(",", -1))
                          .map(String::strip)
                          .filter(one -> !one.isEmpty())
                          .toList()));
      output.one(
          view,
          () ->
              output.line(
                  view.departments().isEmpty()
                      ? "whoever may publish, may publish alone"
                      : "somebody else must agree to changes of: "
                          + String.join(", ", view.departments())));
      return 0;
    }
  }
}
