package dev.purser.client;

import dev.purser.wire.api.ParcelViews;
import dev.purser.wire.api.Views;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** Commands that carry definitions from one environment to another. */
final class ParcelCommands {
  private ParcelCommands() {}

  private static final String MAP =
      "What is called otherwise there: YAML with hosts, host-groups, connections, calendars,"
          + " recipients (old: new), parameters (stream: { name: value }).";

  /** What taking a parcel would change, at some place: {@code at live}. */
  static void print(Output output, ParcelViews.ParcelPreview view, String place, boolean full) {
    ParcelViews.ParcelView about = view.about();
    output.line(
        "parcel of "
            + FileCommands.Check.count(about.definitions().size(), "definition")
            + (about.from().isEmpty() ? "" : " from " + about.from())
            + ", revision "
            + about.revision()
            + ", packed by "
            + about.packedBy()
            + " "
            + Output.time(about.packed())
            + (about.signedBy().isEmpty() ? ", not signed" : ", signed by " + about.signedBy()));
    if (!view.missing().isEmpty()) {
      output.line("missing " + place + "; define it there, or map it (--map):");
      view.missing().forEach(one -> output.line("  " + one));
    }
    new PreviewText(output, full).print(view.preview());
  }

  /** {@code purser parcel}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "parcel",
      mixinStandardHelpOptions = true,
      description = {
        "Packs definitions as they are in force: an open zip of YAML with a manifest.",
        "On standard output, or with --to in a file; purser promote takes it to another service."
      },
      footer = {
        "",
        "Example: purser parcel passenger/night-manifest --with-what-it-needs > night.parcel",
        "Example: purser --at test parcel fuel/stock-count --signed > fuel.parcel"
      })
  static final class Pack implements Callable<Integer> {
    @CommandLine.Spec private CommandLine.Model.CommandSpec spec;
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(
        paramLabel = "STREAM",
        arity = "0..*",
        description = "The streams; one that a row of a table makes goes as its table.")
    private List<String> streams = new ArrayList<>();

    @CommandLine.Mixin private PackedOptions options;

    @CommandLine.Option(names = "--signed", description = "Sign it with the key of the service.")
    private boolean signed;

    @CommandLine.Option(
        names = "--to",
        paramLabel = "FILE",
        description = "Write it there instead of on standard output.")
    private Path file;

    @Override
    public Integer call() throws IOException {
      ParcelViews.PackedView packed =
          Service.loggedIn()
              .post(
                  ParcelViews.PackedView.class,
                  "/parcels/packed",
                  new ParcelViews.PackRequest(
                      streams, options.others(), options.withNeeds(), signed));
      byte[] bytes = Base64.getDecoder().decode(packed.parcel());
      if (file == null) {
        System.out.write(bytes);
        System.out.flush();
      } else {
        Files.write(file, bytes);
      }
      ParcelViews.ParcelView about = packed.about();
      if (file != null && !output.isText()) {
        output.one(about, () -> {});
        return 0;
      }
      var err = spec.commandLine().getErr();
      err.println(
          "packed "
              + FileCommands.Check.count(about.definitions().size(), "definition")
              + " of revision "
              + about.revision()
              + (about.from().isEmpty() ? "" : " of " + about.from())
              + ":");
      about.definitions().forEach(one -> err.println("  " + one));
      if (!about.expects().isEmpty()) {
        err.println("not in it, and expected there (or mapped):");
        about.expects().forEach(one -> err.println("  " + one));
      }
      return 0;
    }
  }

  /** {@code purser promote}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "promote",
      mixinStandardHelpOptions = true,
      description = "Takes a parcel to another service: all of it, or nothing.",
      footer = {
        "",
        "Undone with one command: purser --at live revert --publication REVISION",
        "Example: purser promote night.parcel --to live --preview",
        "Example: purser promote night.parcel --to live --map live.yaml --reason \"tested 4 May\""
      })
  static final class Promote implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(paramLabel = "FILE", description = "The parcel.")
    private Path file;

    @CommandLine.Option(
        names = "--to",
        required = true,
        description = "The login of the service that takes it (purser login --as NAME).")
    private String to;

    @CommandLine.Option(names = "--map", paramLabel = "FILE", description = MAP)
    private Path map;

    @CommandLine.Option(
        names = "--preview",
        description = "Say what that would change there, and change nothing.")
    private boolean preview;

    @CommandLine.Option(
        names = "--reason",
        defaultValue = "",
        description = "The reason, for the audit trail there.")
    private String reason;

    @CommandLine.Option(names = "--full", description = "List every change of every stream.")
    private boolean full;

    @Override
    public Integer call() throws IOException {
      ParcelViews.PromoteRequest request =
          new ParcelViews.PromoteRequest(
              Base64.getEncoder().encodeToString(Files.readAllBytes(file)),
              map == null ? "" : Files.readString(map, StandardCharsets.UTF_8),
              null,
              reason);
      Service there = new Service(Login.find(to));
      if (preview) {
        ParcelViews.ParcelPreview view =
            there.post(ParcelViews.ParcelPreview.class, "/parcels/preview", request);
        output.one(view, () -> ParcelCommands.print(output, view, "at " + to, full));
        return view.preview().sound() ? 0 : 1;
      }
      Views.PublishResult result = there.post(Views.PublishResult.class, "/parcels", request);
      output.one(result, () -> print(result));
      return result.sound() ? 0 : 1;
    }

    private void print(Views.PublishResult result) {
      SiteCommands.print(output, result);
      if (result.sound() && result.revision() > 0) {
        output.line("to undo it: purser --at " + to + " revert --publication " + result.revision());
      }
    }
  }

  /** {@code purser logins}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "logins",
      mixinStandardHelpOptions = true,
      description = "The services that you are logged in to, each under its name.",
      footer = {
        "",
        "purser --at NAME COMMAND means one of them; PURSER_AT=NAME does for all commands.",
        "Example: purser logins",
        "Example: purser --at live runs"
      })
  static final class Logins implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    /** One login. */
    record Kept(String name, String service) {}

    @Override
    public Integer call() {
      List<Kept> kept = new ArrayList<>();
      if (Files.exists(Login.file(""))) {
        kept.add(new Kept("(usual)", Login.find("").service()));
      }
      Login.names().forEach(name -> kept.add(new Kept(name, Login.find(name).service())));
      output.list(
          Kept.class,
          kept,
          List.of(
              new Output.Column<>("login", Kept::name),
              new Output.Column<>("service", Kept::service)),
          "you are not logged in anywhere; run: purser login --service ADDRESS --name NAME");
      return 0;
    }
  }
}
