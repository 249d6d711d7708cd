package dev.purser.client;

import dev.purser.wire.api.Views;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** {@code purser why}. */
@CommandLine.Command(
    name = "why",
    mixinStandardHelpOptions = true,
    description = "Why a run is not running: what is missing, since when, who can change it.",
    footer = {"", "Example: purser why night-manifest/file-manifest@2027-03-04"})
final class WhyCommand implements Callable<Integer> {
  @CommandLine.Mixin private Output output;

  @CommandLine.Parameters(paramLabel = "RUN", description = "A reference, its tail, or an id.")
  private String reference;

  @Override
  public Integer call() {
    Service service = Service.loggedIn();
    long id = RunCommands.find(service, reference).id();
    Views.WhyView why = service.get(Views.WhyView.class, "/runs/" + id + "/why", Map.of());
    output.one(
        why,
        () -> {
          output.line(why.reference() + "   " + new Output.State(why.state()));
          output.line(Output.sentence(why.sentence()));
          tree(why.reasons(), "");
        });
    return 0;
  }

  private void tree(List<Views.ReasonView> reasons, String indent) {
    for (int i = 0; i < reasons.size(); i++) {
      boolean last = i == reasons.size() - 1;
      Views.ReasonView reason = reasons.get(i);
      output.line(indent + (last ? "└─ " : "├─ ") + reason.text());
      String deeper = indent + (last ? "   " : "│  ");
      String facts = facts(reason);
      if (!facts.isEmpty()) {
        output.line(deeper + facts);
      }
      tree(reason.below(), deeper);
    }
  }

  private static String facts(Views.ReasonView reason) {
    List<String> facts = new ArrayList<>();
    if (reason.since() != null) {
      facts.add("since " + Output.time(reason.since()));
    }
    if (!reason.who().isEmpty()) {
      facts.add("can be changed by " + reason.who());
    }
    if (reason.expected() != null) {
      facts.add("likely done at " + Output.time(reason.expected()));
    }
    return String.join(", ", facts);
  }
}
