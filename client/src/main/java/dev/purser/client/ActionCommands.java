package dev.purser.client;

import dev.purser.wire.api.RunView;
import dev.purser.wire.api.Views;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** What people do to runs: one command an action, all of one shape. */
abstract class ActionCommands implements Callable<Integer> {
  @CommandLine.Mixin private Output output;

  @CommandLine.Parameters(
      paramLabel = "RUN",
      arity = "1..*",
      description = "References, their tails, or ids.")
  private List<String> references;

  @CommandLine.Option(
      names = "--reason",
      defaultValue = "",
      description = "Why; it is kept with the run and in the audit trail.")
  private String reason;

  abstract String action();

  @Override
  public Integer call() {
    Service service = Service.loggedIn();
    int code = 0;
    for (String reference : references) {
      try {
        RunView run = RunCommands.find(service, reference);
        RunView now =
            service.post(
                RunView.class,
                "/runs/" + run.id() + "/actions",
                new Views.ActionRequest(action(), reason));
        output.one(now, () -> output.line(now.reference() + ": " + now.sentence() + "."));
      } catch (Service.Refusal refusal) {
        output.warn(reference + ": " + refusal.getMessage());
        code = Math.max(code, refusal.code());
      }
    }
    return code;
  }

  @CommandLine.Command(
      name = "hold",
      mixinStandardHelpOptions = true,
      description = "Keeps a run from starting until it is released.",
      footer = {
        "",
        "Example: purser hold month-end/close-books@2027-03-31 --reason \"late invoices\""
      })
  static final class Hold extends ActionCommands {
    @Override
    String action() {
      return "hold";
    }
  }

  @CommandLine.Command(
      name = "release",
      mixinStandardHelpOptions = true,
      description = "Lets a held run start as soon as it is due and nothing is missing.",
      footer = {"", "Example: purser release month-end/close-books@2027-03-31"})
  static final class Release extends ActionCommands {
    @Override
    String action() {
      return "release";
    }
  }

  @CommandLine.Command(
      name = "skip",
      mixinStandardHelpOptions = true,
      description = "Leaves a run out; what waits for its success goes on.",
      footer = {
        "",
        "Example: purser skip catering/loads/print-labels@2027-03-04 --reason \"printer\""
      })
  static final class Skip extends ActionCommands {
    @Override
    String action() {
      return "skip";
    }
  }

  @CommandLine.Command(
      name = "cancel",
      mixinStandardHelpOptions = true,
      description = "Ends a run: its process is asked to stop, and forced after its grace time.",
      footer = {"", "Example: purser cancel fuel/stock-count/count-tanks@2027-03-04"})
  static final class Cancel extends ActionCommands {
    @Override
    String action() {
      return "cancel";
    }
  }

  @CommandLine.Command(
      name = "rerun",
      mixinStandardHelpOptions = true,
      description = "Does a run again, as a further attempt.",
      footer = {"", "Example: purser rerun night-manifest/build-manifest@2027-03-04"})
  static final class Rerun extends ActionCommands {
    @Override
    String action() {
      return "rerun";
    }
  }

  @CommandLine.Command(
      name = "approve",
      mixinStandardHelpOptions = true,
      description = "Says yes to a run that waits for an answer.",
      footer = {"", "Example: purser approve month-end/approve-close@2027-03-31"})
  static final class Approve extends ActionCommands {
    @Override
    String action() {
      return "approve";
    }
  }

  @CommandLine.Command(
      name = "refuse",
      mixinStandardHelpOptions = true,
      description = "Says no to a run that waits for an answer.",
      footer = {
        "",
        "Example: purser refuse month-end/approve-close@2027-03-31 --reason \"totals\""
      })
  static final class Refuse extends ActionCommands {
    @Override
    String action() {
      return "refuse";
    }
  }
}
