package dev.purser.client;

import dev.purser.wire.api.NeighbourViews;
import dev.purser.wire.api.ParcelViews;
import dev.purser.wire.api.Views;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** Commands about other environments that the service itself knows. */
final class NeighbourCommands {
  private NeighbourCommands() {}

  private static String path(String name) {
    return "/neighbours/" + Service.encode(name);
  }

  /** {@code purser neighbours}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "neighbours",
      mixinStandardHelpOptions = true,
      description = {
        "Other environments that this one is held against: lists them, or does one thing.",
        "One is reached by a connection with sign-in: bearer, whose secret is a token of there."
      },
      footer = {
        "",
        "Example: purser neighbours",
        "Example: purser neighbours test",
        "Example: purser neighbours --set test --connection test-site --map to-live.map",
        "Example: purser neighbours --forget test"
      })
  static final class Neighbours implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(
        paramLabel = "NAME",
        arity = "0..1",
        description = "Ask this one now, and say in numbers what differs.")
    private String name;

    @CommandLine.ArgGroup private Deed deed = new Deed();

    /** What is done. */
    static final class Deed {
      @CommandLine.Option(
          names = "--set",
          paramLabel = "NAME",
          description = "Name one, or say how it is reached now; for administrators.")
      private String set;

      @CommandLine.Option(
          names = "--forget",
          paramLabel = "NAME",
          description = "Forget one; for administrators.")
      private String forget;
    }

    @CommandLine.Option(names = "--connection", description = "By which it is reached, for --set.")
    private String connection;

    @CommandLine.Option(
        names = "--map",
        paramLabel = "FILE",
        description = "What is called otherwise here, for --set: as of purser promote.")
    private Path map;

    @Override
    public Integer call() throws IOException {
      Service service = Service.loggedIn();
      if (deed.set != null) {
        return set(service);
      }
      if (deed.forget != null) {
        service.delete(path(deed.forget), Map.of());
        output.line("neighbour " + deed.forget + " is forgotten here; nothing was changed there");
        return 0;
      }
      if (name != null) {
        NeighbourViews.ComparisonView view =
            service.get(NeighbourViews.ComparisonView.class, path(name), Map.of());
        output.one(view, () -> print(view));
        return 0;
      }
      output.list(
          NeighbourViews.NeighbourView.class,
          service.list(NeighbourViews.NeighbourView.class, "/neighbours", Map.of()),
          List.of(
              new Output.Column<>("neighbour", NeighbourViews.NeighbourView::name),
              new Output.Column<>("connection", NeighbourViews.NeighbourView::connection),
              new Output.Column<>("names differ", one -> one.map().isBlank() ? "" : "by its map")),
          "no neighbour is known; purser neighbours --set NAME --connection C names one");
      return 0;
    }

    private int set(Service service) throws IOException {
      if (connection == null) {
        throw new Service.Refusal(2, "--set needs --connection: by which it is reached");
      }
      NeighbourViews.NeighbourView view =
          service.put(
              NeighbourViews.NeighbourView.class,
              path(deed.set),
              new NeighbourViews.NeighbourRequest(
                  connection, map == null ? "" : Files.readString(map, StandardCharsets.UTF_8)));
      output.one(
          view,
          () ->
              output.line(
                  "neighbour "
                      + view.name()
                      + " is reached by connection "
                      + view.connection()
                      + "; purser differences --with "
                      + view.name()
                      + " asks it"));
      return 0;
    }

    private void print(NeighbourViews.ComparisonView view) {
      output.line(
          view.name()
              + (view.there().environment().isEmpty()
                  ? " is a service without a name"
                  : " is environment " + view.there().environment())
              + " at revision "
              + view.there().revision()
              + (view.there().console().isEmpty() ? "" : ", " + view.there().console()));
      output.line(FileCommands.Check.count(view.alike(), "definition") + " the same on both sides");
      view.differences().forEach((how, count) -> output.line(count + " " + how));
      onItsWay("on its way here", view.here());
      onItsWay("on its way there", view.there());
      if (!view.differences().isEmpty()) {
        output.line("purser differences --with " + view.name() + " --kind all lists them");
      }
    }

    private void onItsWay(String where, NeighbourViews.EnvironmentView side) {
      for (NeighbourViews.OnItsWayView one : side.onItsWay()) {
        output.line(
            where
                + ": "
                + one.what()
                + " of "
                + one.who()
                + (one.title().isEmpty() ? "" : ", " + one.title())
                + (one.liveFrom() == null ? "" : ", goes live for " + one.liveFrom()));
      }
    }
  }

  /** {@code purser bring}. */
  @CommandLine.Command(
      addMethodSubcommands = false,
      name = "bring",
      mixinStandardHelpOptions = true,
      description = {
        "Brings definitions here from a neighbour, as they are in force there: all, or nothing.",
        "Their names are mapped as the neighbour's map says."
      },
      footer = {
        "",
        "Undone with one command: purser revert --publication REVISION",
        "Example: purser bring test quay/tide-boards --preview",
        "Example: purser bring test quay/tide-boards --reason \"tested 4 May\""
      })
  static final class Bring implements Callable<Integer> {
    @CommandLine.Mixin private Output output;

    @CommandLine.Parameters(index = "0", paramLabel = "NEIGHBOUR", description = "From where.")
    private String from;

    @CommandLine.Parameters(
        index = "1..*",
        paramLabel = "STREAM",
        arity = "0..*",
        description = "The streams; one that a row of a table makes comes as its table.")
    private List<String> streams = new ArrayList<>();

    @CommandLine.Mixin private PackedOptions options;

    @CommandLine.Option(
        names = "--preview",
        description = "Say what that would change here, and change nothing.")
    private boolean preview;

    @CommandLine.Mixin private ReasonOption reason;

    @CommandLine.Option(names = "--full", description = "List every change of every stream.")
    private boolean full;

    @Override
    public Integer call() {
      List<String> wanted = new ArrayList<>(options.others());
      streams.forEach(one -> wanted.add("stream " + one));
      if (wanted.isEmpty()) {
        throw new Service.Refusal(
            2, "name at least one stream, or another definition with --also \"KIND NAME\"");
      }
      Service service = Service.loggedIn();
      String map =
          service.list(NeighbourViews.NeighbourView.class, "/neighbours", Map.of()).stream()
              .filter(one -> one.name().equals(from))
              .map(NeighbourViews.NeighbourView::map)
              .findFirst()
              .orElse("");
      ParcelViews.PackedView packed =
          service.post(
              ParcelViews.PackedView.class,
              path(from) + "/parcel",
              new NeighbourViews.FetchRequest(wanted, options.withNeeds()));
      ParcelViews.PromoteRequest request =
          new ParcelViews.PromoteRequest(packed.parcel(), map, null, reason.text());
      if (preview) {
        ParcelViews.ParcelPreview view =
            service.post(ParcelViews.ParcelPreview.class, "/parcels/preview", request);
        output.one(view, () -> ParcelCommands.print(output, view, "here", full));
        return view.preview().sound() ? 0 : 1;
      }
      Views.PublishResult result = service.post(Views.PublishResult.class, "/parcels", request);
      output.one(result, () -> print(result));
      return result.sound() ? 0 : 1;
    }

    private void print(Views.PublishResult result) {
      SiteCommands.print(output, result);
      if (result.sound() && result.revision() > 0) {
        output.line("to undo it: purser revert --publication " + result.revision());
      }
    }
  }
}
