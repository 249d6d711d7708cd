package dev.purser.client;

import dev.purser.wire.api.VersionViews;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** {@code purser rename}. */
@CommandLine.Command(
    addMethodSubcommands = false,
    name = "rename",
    mixinStandardHelpOptions = true,
    description = {
      "Gives a definition another name, wherever it is named, in one publication.",
      "Its versions, runs, history, pause and holds come with it; what runs goes on. The old name"
          + " goes on being understood."
    },
    footer = {
      "",
      "Example: purser rename fuel/stock-count fuel/tank-count --preview",
      "Example: purser rename fuel/stock-count fuel/tank-count --reason \"there are tanks only\"",
      "Example: purser rename business-calendar brannoch-office sound-office"
    })
final class RenameCommand implements Callable<Integer> {
  @CommandLine.Mixin private Output output;

  @CommandLine.Parameters(
      paramLabel = "[KIND] NAME NEW-NAME",
      arity = "2..3",
      description = "Its kind, its name and the new one; a stream where no kind is given.")
  private List<String> words;

  @CommandLine.Option(
      names = "--preview",
      description = "Say what that would change, and change nothing.")
  private boolean preview;

  @CommandLine.Mixin private ReasonOption reason;

  @Override
  public Integer call() {
    String kind = words.size() == 3 ? words.get(0) : "stream";
    String name = words.get(words.size() - 2);
    String to = words.get(words.size() - 1);
    VersionViews.RenameView view =
        Service.loggedIn()
            .post(
                VersionViews.RenameView.class,
                "/definitions/" + (preview ? "rename-preview" : "rename"),
                new VersionViews.RenameRequest(kind, name, to, reason.text()));
    boolean isSound = view.problems().stream().noneMatch(one -> one.severity().equals("error"));
    output.one(
        view,
        () -> {
          view.problems().stream()
              .filter(one -> !isSound)
              .forEach(problem -> output.line(SiteCommands.inWords(problem)));
          view.changed().forEach(one -> output.line("  changed  " + one));
          output.line(
              !isSound
                  ? "not renamed: nothing was changed"
                  : (preview
                          ? "would be renamed"
                          : "renamed to " + to + " as revision " + view.revision())
                      + "; "
                      + FileCommands.Check.count(view.runs(), "run")
                      + " of today and tomorrow, and all before, "
                      + (preview ? "would come with it" : "came with it"));
        });
    return isSound ? 0 : 1;
  }
}
