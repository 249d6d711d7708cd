package dev.purser.client;

import dev.purser.wire.api.SecretViews;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** {@code purser secrets}: which secrets connections may use. */
@CommandLine.Command(
    addMethodSubcommands = false,
    name = "secrets",
    mixinStandardHelpOptions = true,
    description =
        "Which variables and files of the service's host hold secrets that connections may use, and"
            + " for which address. No secret itself is shown.",
    footer = {
      "",
      "Example: purser secrets allow --variable BRANNOCH_STORE_SECRET --address"
          + " https://store.brannoch.example",
      "Example: purser secrets disallow 3 --reason \"the store has moved\""
    })
final class SecretCommands implements Callable<Integer> {
  @CommandLine.Mixin private Output output;

  @Override
  public Integer call() {
    output.list(
        SecretViews.PermitView.class,
        Service.loggedIn().list(SecretViews.PermitView.class, "/secrets", Map.of()),
        List.of(
            new Output.Column<>("id", SecretViews.PermitView::id),
            new Output.Column<>("in", SecretViews.PermitView::source),
            new Output.Column<>("name", SecretViews.PermitView::name),
            new Output.Column<>("for", SecretViews.PermitView::address),
            new Output.Column<>("used by", one -> String.join(", ", one.usedBy())),
            new Output.Column<>("since", SecretViews.PermitView::since),
            new Output.Column<>("allowed by", SecretViews.PermitView::who),
            new Output.Column<>("why", SecretViews.PermitView::reason)),
        "no connection may use any secret");
    return 0;
  }

  /** Where a secret stands: one of the two. */
  static final class Source {
    @CommandLine.Option(names = "--variable", description = "A variable of the service.")
    private String variable;

    @CommandLine.Option(names = "--file", description = "A file of the service's host.")
    private Path file;
  }

  @CommandLine.Command(
      name = "allow",
      mixinStandardHelpOptions = true,
      description = "Lets connections to an address use a secret; for administrators.")
  Integer allow(
      @CommandLine.ArgGroup(multiplicity = "1") Source source,
      @CommandLine.Option(
              names = "--address",
              required = true,
              description = "To whom it may go; only scheme, host and port count.")
          String address,
      @CommandLine.Option(
              names = "--reason",
              defaultValue = "",
              description = "The reason, for the audit trail.")
          String reason) {
    boolean variable = source.variable != null;
    SecretViews.PermitView permit =
        Service.loggedIn()
            .post(
                SecretViews.PermitView.class,
                "/secrets",
                new SecretViews.PermitRequest(
                    variable ? "variable" : "file",
                    variable ? source.variable : source.file.toString(),
                    address,
                    reason));
    output.one(
        permit,
        () ->
            output.line(
                "connections to "
                    + permit.address()
                    + " may use the "
                    + permit.source()
                    + " "
                    + permit.name()));
    return 0;
  }

  @CommandLine.Command(
      name = "disallow",
      mixinStandardHelpOptions = true,
      description = "Takes a permit back; connections that use it are cut off within seconds.")
  Integer disallow(
      @CommandLine.Parameters(
              paramLabel = "ID",
              description = "Its number, as purser secrets lists it.")
          long id,
      @CommandLine.Option(
              names = "--reason",
              defaultValue = "",
              description = "The reason, for the audit trail.")
          String reason) {
    Service.loggedIn().delete("/secrets/" + id, Map.of("reason", reason));
    output.line("permit " + id + " is taken back");
    return 0;
  }
}
