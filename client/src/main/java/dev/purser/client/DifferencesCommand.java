package dev.purser.client;

import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Named;
import dev.purser.core.neighbour.Comparison;
import dev.purser.core.neighbour.Difference;
import dev.purser.core.neighbour.Side;
import dev.purser.core.neighbour.Standing;
import dev.purser.core.problem.Nearest;
import dev.purser.wire.api.NeighbourViews;
import dev.purser.wire.api.ScheduleViews;
import dev.purser.wire.api.Views;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import picocli.CommandLine;

/** {@code purser differences}. */
@CommandLine.Command(
    addMethodSubcommands = false,
    name = "differences",
    mixinStandardHelpOptions = true,
    description = {
      "What differs between two environments, definition by definition, and which is newer.",
      "--with has the service ask a neighbour of its own, with the names that things have here;",
      "--to asks two services that you are logged in to yourself."
    },
    footer = {
      "",
      "Exit code 1 where something differs.",
      "Example: purser differences --with test",
      "Example: purser --at test differences --to live --kind stream --fields"
    })
final class DifferencesCommand implements Callable<Integer> {
  private static final int FIELDS_NAMED = 4;

  @CommandLine.Mixin private Output output;

  @CommandLine.ArgGroup(multiplicity = "1")
  private Other other;

  /** What is held against the service. */
  static final class Other {
    @CommandLine.Option(
        names = "--with",
        paramLabel = "NEIGHBOUR",
        description = "A neighbour that the service knows (purser neighbours).")
    private String with;

    @CommandLine.Option(
        names = "--to",
        paramLabel = "LOGIN",
        description = "Another login of yours (purser login --as NAME).")
    private String to;
  }

  @CommandLine.Option(
      names = "--kind",
      defaultValue = "stream",
      description = "Which definitions: a kind, or all; stream where not said.")
  private String kind;

  @CommandLine.Option(names = "--fields", description = "Say which fields differ.")
  private boolean fields;

  @Override
  public Integer call() {
    checkKind();
    List<NeighbourViews.DifferenceView> all;
    String none;
    if (other.with != null) {
      String path = "/neighbours/" + Service.encode(other.with);
      Service here = Service.loggedIn();
      NeighbourViews.ComparisonView compared =
          here.get(NeighbourViews.ComparisonView.class, path, Map.of());
      all =
          here.list(
              NeighbourViews.DifferenceView.class,
              path + "/differences",
              kind.equals("all") ? Map.of() : Map.of("kind", kind));
      none = "nothing differs of this kind: " + alike(compared.alike());
    } else {
      Service here = Service.loggedIn();
      Service there = new Service(Login.find(other.to));
      Map<Named, Side> ours = sides(here);
      all =
          new Comparison(environment(here), environment(there), Comparison.Past.UNKNOWN)
              .of(ours, sides(there)).stream().map(DifferencesCommand::view).toList();
      none = "nothing differs: " + alike(ours.size());
    }
    all =
        all.stream()
            .sorted(
                Comparator.comparing(
                    (NeighbourViews.DifferenceView one) -> Standing.of(one.standing())))
            .toList();
    output.list(NeighbourViews.DifferenceView.class, all, columns(), none);
    if (fields && output.isText()) {
      all.stream().filter(one -> !one.fields().isEmpty()).forEach(this::print);
    }
    return all.isEmpty() ? 0 : 1;
  }

  private static String alike(int count) {
    return FileCommands.Check.count(count, "definition") + " the same on both sides";
  }

  private void checkKind() {
    if (!kind.equals("all") && Kind.of(kind).isEmpty()) {
      List<String> words = new ArrayList<>(Arrays.stream(Kind.values()).map(Kind::word).toList());
      words.add("all");
      throw new Service.Refusal(
          2, "\"" + kind + "\" is not a kind of definition" + Nearest.hint(kind, words));
    }
  }

  private static String environment(Service service) {
    return service
        .get(NeighbourViews.EnvironmentView.class, "/environment", Map.of())
        .environment();
  }

  private Map<Named, Side> sides(Service service) {
    Map<Named, Side> found = new LinkedHashMap<>();
    for (Views.DefinitionView one :
        service.list(
            Views.DefinitionView.class,
            "/definitions",
            kind.equals("all") ? Map.of() : Map.of("kind", kind))) {
      found.put(
          new Named(Kind.of(one.kind()).orElseThrow(), one.name()),
          new Side(one.text(), one.revision(), one.published(), one.publishedBy(), one.origin()));
    }
    return found;
  }

  private static NeighbourViews.DifferenceView view(Difference one) {
    return new NeighbourViews.DifferenceView(
        one.what().kind().word(),
        one.what().name(),
        "",
        one.standing().words(),
        one.here().map(Side::revision).orElse(0L),
        one.here().map(Side::at).orElse(null),
        one.here().map(Side::who).orElse(""),
        one.there().map(Side::revision).orElse(0L),
        one.there().map(Side::at).orElse(null),
        one.there().map(Side::who).orElse(""),
        one.fields().stream()
            .map(
                field ->
                    new ScheduleViews.FieldChange(field.field(), field.before(), field.after()))
            .toList(),
        one.fields().size(),
        List.of());
  }

  private static List<Output.Column<NeighbourViews.DifferenceView>> columns() {
    return List.of(
        new Output.Column<>("definition", one -> one.kind() + " " + one.name()),
        new Output.Column<>("how", NeighbourViews.DifferenceView::standing),
        new Output.Column<>("revision here", one -> number(one.revisionHere())),
        new Output.Column<>("by", NeighbourViews.DifferenceView::whoHere),
        new Output.Column<>("there", one -> number(one.revisionThere())),
        new Output.Column<>("by", NeighbourViews.DifferenceView::whoThere),
        new Output.Column<>("fields", DifferencesCommand::names),
        new Output.Column<>("on its way", one -> String.join("; ", one.onItsWay())));
  }

  private static String number(long revision) {
    return revision == 0 ? "" : String.valueOf(revision);
  }

  private static String names(NeighbourViews.DifferenceView one) {
    List<String> shown =
        one.fields().stream().map(ScheduleViews.FieldChange::field).limit(FIELDS_NAMED).toList();
    int more = one.fieldsInAll() - shown.size();
    return String.join(", ", shown) + (more > 0 ? " and " + more + " more" : "");
  }

  private void print(NeighbourViews.DifferenceView one) {
    output.line("");
    output.line(one.kind() + " " + one.name() + ", here → there:");
    one.fields().forEach(field -> PreviewText.field(output, field));
    if (one.fieldsInAll() > one.fields().size()) {
      output.line("  and " + (one.fieldsInAll() - one.fields().size()) + " more");
    }
  }
}
