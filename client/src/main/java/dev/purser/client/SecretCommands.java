package dev.purser.client;

import dev.purser.wire.api.SecretViews;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
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
        "Which secrets connections may use, and for which address: those that the service keeps,"
            + " variables and files of its host. No secret itself is shown.",
    footer = {
      "",
      "Example: purser secrets set harbour-client --for harbour-office",
      "Example, those that the service keeps: purser secrets stored",
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

  @CommandLine.Command(
      name = "set",
      mixinStandardHelpOptions = true,
      description =
          "Keeps a secret, encrypted, in the place of one of that name; you are asked for it. It is"
              + " never shown again.")
  Integer set(
      @CommandLine.Parameters(
              paramLabel = "NAME",
              description = "Its name, as connections say it: secret: NAME.")
          String name,
      @CommandLine.Option(
              names = "--from-file",
              description =
                  "A file with the secret, - for standard input; by default, you are asked.")
          String file,
      @CommandLine.Option(
              names = "--for",
              description =
                  "A connection, an address, or host:NAME of a host or group whose commands may have"
                      + " it; more than one if so.")
          List<String> receivers,
      @CommandLine.Option(
              names = "--reason",
              defaultValue = "",
              description = "The reason, for the audit trail.")
          String reason)
      throws IOException {
    SecretViews.StoredView kept =
        Service.loggedIn()
            .put(
                SecretViews.StoredView.class,
                "/secrets/stored/" + Service.encode(name),
                new SecretViews.StoredRequest(
                    secret(file), receivers == null ? List.of() : receivers, reason));
    output.one(
        kept,
        () -> {
          output.line("the secret " + kept.name() + " is kept, for the " + times(kept.version()));
          output.line(
              kept.receivers().isEmpty()
                  ? "nothing may use it yet: purser secrets allow --stored "
                      + kept.name()
                      + " --address ..."
                  : "it may go to " + String.join(", ", kept.receivers()));
        });
    return 0;
  }

  private static String times(int version) {
    return version == 1 ? "first time" : version + ". time";
  }

  private static String secret(String file) throws IOException {
    if (file == null) {
      return PeopleCommands.ask("the secret: ", "--from-file");
    }
    byte[] bytes = file.equals("-") ? System.in.readAllBytes() : Files.readAllBytes(Path.of(file));
    return new String(bytes, StandardCharsets.UTF_8).replaceFirst("\\R\\z", "");
  }

  @CommandLine.Command(
      name = "stored",
      mixinStandardHelpOptions = true,
      description = "The secrets that the service keeps, by name; none is shown.")
  Integer stored() {
    output.list(
        SecretViews.StoredView.class,
        Service.loggedIn().list(SecretViews.StoredView.class, "/secrets/stored", Map.of()),
        List.of(
            new Output.Column<>("name", SecretViews.StoredView::name),
            new Output.Column<>("set", SecretViews.StoredView::since),
            new Output.Column<>("by", SecretViews.StoredView::who),
            new Output.Column<>("times set", SecretViews.StoredView::version),
            new Output.Column<>("for", one -> String.join(", ", one.receivers())),
            new Output.Column<>("used by", one -> String.join(", ", one.usedBy())),
            new Output.Column<>("last used", SecretViews.StoredView::used),
            new Output.Column<>("key", SecretViews.StoredView::key)),
        "the service keeps no secret");
    return 0;
  }

  @CommandLine.Command(
      name = "remove",
      mixinStandardHelpOptions = true,
      description =
          "Forgets a secret; connections cannot sign in with it from then on, and commands do not"
              + " start.")
  Integer remove(
      @CommandLine.Parameters(paramLabel = "NAME", description = "Its name.") String name,
      @CommandLine.Option(
              names = "--reason",
              defaultValue = "",
              description = "The reason, for the audit trail.")
          String reason) {
    Service.loggedIn().delete("/secrets/stored/" + Service.encode(name), Map.of("reason", reason));
    output.line("the secret " + name + " is forgotten");
    return 0;
  }

  @CommandLine.Command(
      name = "encrypt-anew",
      mixinStandardHelpOptions = true,
      description =
          "Encrypts every secret with the first key in the file of keys; then the other keys can"
              + " be taken out of it.")
  Integer encryptAnew(
      @CommandLine.Option(
              names = "--reason",
              defaultValue = "",
              description = "The reason, for the audit trail.")
          String reason) {
    SecretViews.AnewView done =
        Service.loggedIn()
            .post(
                SecretViews.AnewView.class,
                "/secrets/encryption",
                new SecretViews.AnewRequest(reason));
    output.one(
        done,
        () ->
            output.line(
                done.encrypted() == 0
                    ? "all of them were encrypted with the first key already"
                    : done.encrypted() + " were encrypted with the first key"));
    return 0;
  }

  /** Where a secret stands: one of the three. */
  static final class Source {
    @CommandLine.Option(names = "--stored", description = "A secret that the service keeps.")
    private String stored;

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
              description =
                  "To whom it may go; only scheme, host and port count. Or host:NAME: the commands of"
                      + " that host, or of the hosts of that group.")
          String address,
      @CommandLine.Option(
              names = "--reason",
              defaultValue = "",
              description = "The reason, for the audit trail.")
          String reason) {
    boolean variable = source.variable != null;
    boolean stored = source.stored != null;
    SecretViews.PermitView permit =
        Service.loggedIn()
            .post(
                SecretViews.PermitView.class,
                "/secrets",
                new SecretViews.PermitRequest(
                    stored ? "stored" : variable ? "variable" : "file",
                    stored ? source.stored : variable ? source.variable : source.file.toString(),
                    address,
                    reason));
    output.one(
        permit,
        () ->
            output.line(
                (permit.address().startsWith("host:") ? "commands on " : "connections to ")
                    + permit.address().replaceFirst("^host:", "")
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
