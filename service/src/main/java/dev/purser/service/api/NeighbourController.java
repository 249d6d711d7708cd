package dev.purser.service.api;

import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Named;
import dev.purser.core.neighbour.Difference;
import dev.purser.core.neighbour.Side;
import dev.purser.core.neighbour.Standing;
import dev.purser.service.Settings;
import dev.purser.service.api.answer.Asking;
import dev.purser.service.api.answer.Paged;
import dev.purser.service.api.answer.Problems;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.neighbour.NeighbourRow;
import dev.purser.service.neighbour.Neighbours;
import dev.purser.service.neighbour.OnItsWay;
import dev.purser.service.parcel.Parcels;
import dev.purser.wire.api.Limits;
import dev.purser.wire.api.NeighbourViews;
import dev.purser.wire.api.ParcelViews;
import dev.purser.wire.api.ScheduleViews;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.validation.Valid;
import jakarta.validation.constraints.Size;
import java.util.Base64;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Stream;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** This environment and others: what differs, what is on its way, and bringing it here. */
@RestController
@RequestMapping(path = "/api/v1", produces = MediaType.APPLICATION_JSON_VALUE)
class NeighbourController {
  private static final int FIELDS_SHOWN = 30;

  private final Neighbours neighbours;
  private final OnItsWay onItsWay;
  private final Engine engine;
  private final Settings settings;
  private final AuditTrail audit;

  NeighbourController(
      Neighbours neighbours,
      OnItsWay onItsWay,
      Engine engine,
      Settings settings,
      AuditTrail audit) {
    this.neighbours = neighbours;
    this.onItsWay = onItsWay;
    this.engine = engine;
    this.settings = settings;
    this.audit = audit;
  }

  /** What this service says of itself: its name, and what is on its way here. */
  @GetMapping("/environment")
  NeighbourViews.EnvironmentView environment(Authentication who) {
    return new NeighbourViews.EnvironmentView(
        settings.environment(),
        engine.revision(),
        settings.consoleAddress() == null ? "" : settings.consoleAddress(),
        onItsWay.seenBy(who.getName()).stream().map(NeighbourController::view).toList());
  }

  private static NeighbourViews.OnItsWayView view(OnItsWay.Item item) {
    return new NeighbourViews.OnItsWayView(
        item.what(), item.title(), item.who(), item.liveFrom(), item.definitions());
  }

  /** The other environments that are known here. */
  @GetMapping("/neighbours")
  @Paged(by = "name")
  List<NeighbourViews.NeighbourView> neighbours() {
    return neighbours.all().stream().map(NeighbourController::view).toList();
  }

  private static NeighbourViews.NeighbourView view(NeighbourRow row) {
    return new NeighbourViews.NeighbourView(row.name, row.connection, row.names);
  }

  /** Names one, or says how one is reached now. */
  @PutMapping("/neighbours/{name}")
  NeighbourViews.NeighbourView nameNeighbour(
      @PathVariable @Size(max = Limits.NAME) String name,
      @Valid @RequestBody NeighbourViews.NeighbourRequest request,
      Authentication who,
      HttpServletRequest http) {
    NeighbourRow row = neighbours.name(name, request.connection().strip(), request.map());
    audit.write(Asking.actor(who, http), "name neighbour", name, "by connection " + row.connection);
    return view(row);
  }

  /** Forgets one. */
  @DeleteMapping("/neighbours/{name}")
  ResponseEntity<Void> forgetNeighbour(
      @PathVariable @Size(max = Limits.NAME) String name,
      Authentication who,
      HttpServletRequest http) {
    if (!neighbours.forget(name)) {
      throw new Problems.NotFound("there is no neighbour \"" + name + "\"");
    }
    audit.write(Asking.actor(who, http), "forget neighbour", name, "");
    return ResponseEntity.noContent().build();
  }

  /** Asks one now, and says in numbers what differs, and what is on its way on either side. */
  @GetMapping("/neighbours/{name}")
  NeighbourViews.ComparisonView compareWith(
      @PathVariable @Size(max = Limits.NAME) String name, Authentication who) {
    Neighbours.Compared compared = neighbours.compare(name);
    Map<String, Integer> counts = new TreeMap<>();
    compared.differences().forEach(one -> counts.merge(one.standing().words(), 1, Integer::sum));
    return new NeighbourViews.ComparisonView(
        name,
        environment(who),
        new NeighbourViews.EnvironmentView(
            compared.environment(),
            compared.revisionThere(),
            compared.console(),
            compared.onItsWay().stream().map(NeighbourController::view).toList()),
        compared.looked(),
        compared.alike(),
        counts);
  }

  /**
   * What differs, as it was when one of them was asked last.
   *
   * @param kind only of this kind; empty for all
   */
  @GetMapping("/neighbours/{name}/differences")
  @Paged(by = {"kind", "name"})
  List<NeighbourViews.DifferenceView> differencesFrom(
      @PathVariable @Size(max = Limits.NAME) String name,
      @RequestParam(defaultValue = "") @Size(max = Limits.NAME) String kind,
      Authentication who) {
    Optional<Kind> only =
        kind.isEmpty() ? Optional.empty() : Optional.of(VersionController.kind(kind));
    Neighbours.Compared compared = neighbours.lastCompared(name);
    Map<String, List<String>> ways = new HashMap<>();
    onItsWay.seenBy(who.getName()).forEach(item -> enter(ways, item, "here"));
    compared.onItsWay().forEach(item -> enter(ways, item, "there"));
    return compared.differences().stream()
        .filter(one -> only.isEmpty() || one.what().kind() == only.get())
        .sorted(
            Comparator.comparing((Difference one) -> one.what().kind().word())
                .thenComparing(one -> one.what().name()))
        .map(one -> view(one, compared, ways.getOrDefault(one.what().toString(), List.of())))
        .toList();
  }

  private static void enter(Map<String, List<String>> ways, OnItsWay.Item item, String side) {
    String text =
        item.what()
            + " "
            + side
            + ", "
            + item.who()
            + (item.liveFrom() == null ? "" : ", goes live for " + item.liveFrom());
    for (String definition : item.definitions()) {
      ways.merge(
          definition,
          List.of(text),
          (one, other) -> Stream.concat(one.stream(), other.stream()).toList());
    }
  }

  private NeighbourViews.DifferenceView view(
      Difference one, Neighbours.Compared compared, List<String> ways) {
    Named what = one.what();
    return new NeighbourViews.DifferenceView(
        what.kind().word(),
        what.name(),
        what.kind() != Kind.STREAM
            ? ""
            : one.standing() == Standing.ONLY_THERE
                ? compared.departments().getOrDefault(what, "")
                : engine.definitions().departmentOf(what.name()),
        one.standing().words(),
        of(one.here(), Side::revision, 0L),
        of(one.here(), Side::at, null),
        of(one.here(), Side::who, ""),
        of(one.there(), Side::revision, 0L),
        of(one.there(), Side::at, null),
        of(one.there(), Side::who, ""),
        one.fields().stream()
            .limit(FIELDS_SHOWN)
            .map(
                field ->
                    new ScheduleViews.FieldChange(field.field(), field.before(), field.after()))
            .toList(),
        one.fields().size(),
        ways);
  }

  private static <T> T of(Optional<Side> side, Function<Side, T> what, T none) {
    return side.map(what).orElse(none);
  }

  /** Has one pack what is in force there; it is then looked at and taken as any parcel. */
  @PostMapping("/neighbours/{name}/parcel")
  ParcelViews.PackedView fetchParcel(
      @PathVariable @Size(max = Limits.NAME) String name,
      @Valid @RequestBody NeighbourViews.FetchRequest request) {
    Parcels.Parcel parcel =
        neighbours.fetch(
            name,
            request.definitions().stream().map(ParcelController::named).toList(),
            request.withNeeds());
    return new ParcelViews.PackedView(
        ParcelController.view(parcel), Base64.getEncoder().encodeToString(parcel.bytes()));
  }
}
