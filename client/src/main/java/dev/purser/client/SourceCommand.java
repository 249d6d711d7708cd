package dev.purser.client;

import dev.purser.wire.api.ScheduleViews;
import dev.purser.wire.api.SourceViews;
import dev.purser.wire.api.Views;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** {@code purser source}. */
@CommandLine.Command(
    addMethodSubcommands = false,
    name = "source",
    mixinStandardHelpOptions = true,
    description = "The Git repository that definitions come from: shows it, or does one thing.",
    footer = {
      "",
      "Example: purser source --set https://git.example.org/batch.git --branch main --below live",
      "Example: purser source --look",
      "Example: purser source --preview",
      "Example: purser source --publish 1a2b3c4d5e --reason \"looked at with Berit\"",
      "Example: purser source --write-back from-the-night"
    })
final class SourceCommand implements Callable<Integer> {
  @CommandLine.Mixin private Output output;

  @CommandLine.ArgGroup private Deed deed = new Deed();

  @CommandLine.Option(
      names = "--branch",
      defaultValue = "main",
      description = "With --set: its branch; main where not said.")
  private String branch;

  @CommandLine.Option(
      names = "--below",
      defaultValue = "",
      paramLabel = "DIRECTORY",
      description = "With --set: where the definitions are in it; all of it where not said.")
  private String directory;

  @CommandLine.Option(
      names = "--account",
      defaultValue = "",
      description = "With --set: the name to sign in with; PURSER_SOURCE_SECRET of the service.")
  private String account;

  @CommandLine.Option(
      names = "--by-itself",
      description = "With --set: publish sound commits without a person's yes.")
  private boolean byItself;

  @CommandLine.Mixin private ReasonOption reason;

  /** One thing. */
  private static final class Deed {
    @CommandLine.Option(
        names = "--set",
        paramLabel = "ADDRESS",
        description = "Name it: https:, http: or file: (administrators).")
    private String address;

    @CommandLine.Option(names = "--forget", description = "Forget it; what is live stays.")
    private boolean forget;

    @CommandLine.Option(names = "--look", description = "Look for new commits now.")
    private boolean look;

    @CommandLine.Option(
        names = "--preview",
        description = "Say what publishing its commit would change.")
    private boolean preview;

    @CommandLine.Option(
        names = "--publish",
        paramLabel = "COMMIT",
        description = "Publish that commit; ten characters of it will do.")
    private String publish;

    @CommandLine.Option(
        names = "--drift",
        description = "What is live and not as the published commit has it.")
    private boolean drift;

    @CommandLine.Option(
        names = "--write-back",
        paramLabel = "BRANCH",
        description = "Put what drifts there as a branch.")
    private String writeBack;
  }

  @Override
  public Integer call() {
    Service service = Service.loggedIn();
    if (deed.preview) {
      ScheduleViews.PreviewView view =
          service.post(ScheduleViews.PreviewView.class, "/source/preview", Map.of());
      output.one(view, () -> new PreviewText(output, false).print(view));
      return view.sound() ? 0 : 1;
    }
    if (deed.publish != null) {
      Views.PublishResult result =
          service.post(
              Views.PublishResult.class,
              "/source/publication",
              new SourceViews.SourcePublication(deed.publish, reason.text()));
      output.one(result, () -> SiteCommands.print(output, result));
      return result.sound() ? 0 : 1;
    }
    if (deed.drift) {
      output.list(
          SourceViews.DriftView.class,
          service.list(SourceViews.DriftView.class, "/source/drift", Map.of()),
          List.of(
              new Output.Column<>("definition", one -> one.kind() + " " + one.name()),
              new Output.Column<>("how", SourceViews.DriftView::how)),
          "all is live as the published commit has it");
      return 0;
    }
    if (deed.writeBack != null) {
      SourceViews.WrittenBack done =
          service.post(
              SourceViews.WrittenBack.class,
              "/source/branch",
              new SourceViews.WriteBack(deed.writeBack, reason.text()));
      output.one(
          done,
          () -> output.line("branch " + done.branch() + " is there, with commit " + done.commit()));
      return 0;
    }
    SourceViews.SourceView view = stands(service);
    output.one(view, () -> print(view));
    return view.problem().isEmpty() ? 0 : 1;
  }

  private SourceViews.SourceView stands(Service service) {
    if (deed.forget) {
      service.delete("/source", Map.of());
    } else if (deed.address != null) {
      return service.put(
          SourceViews.SourceView.class,
          "/source",
          new SourceViews.SourceRequest(deed.address, branch, directory, account, byItself));
    } else if (deed.look) {
      return service.post(SourceViews.SourceView.class, "/source/look", Map.of());
    }
    return service.get(SourceViews.SourceView.class, "/source", Map.of());
  }

  private void print(SourceViews.SourceView view) {
    if (view.address().isEmpty()) {
      output.line("no repository is named: definitions come from people alone");
      return;
    }
    output.line(
        view.address()
            + ", branch "
            + view.branch()
            + (view.directory().isEmpty() ? "" : ", below " + view.directory())
            + (view.byItself()
                ? "; sound commits are published by themselves"
                : "; commits are published after a person's yes"));
    if (!view.head().isEmpty()) {
      output.line(
          "commit "
              + view.head().substring(0, 10)
              + " by "
              + view.headAuthor()
              + ": "
              + view.headMessage()
              + (view.head().equals(view.published()) ? "; it is live" : "; it is not live"));
    }
    output.line(
        view.looked() == null ? "not looked at yet" : "looked at " + Output.time(view.looked()));
    if (!view.problem().isEmpty()) {
      output.line("not published: " + view.problem());
    }
  }
}
