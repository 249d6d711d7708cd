package dev.purser.service.neighbour;

import dev.purser.core.definition.Connection;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Named;
import dev.purser.core.definition.Stream;
import dev.purser.core.neighbour.Comparison;
import dev.purser.core.neighbour.Difference;
import dev.purser.core.neighbour.Side;
import dev.purser.core.parcel.Packing;
import dev.purser.core.parcel.ParcelOrigin;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.service.Settings;
import dev.purser.service.board.Engine;
import dev.purser.service.call.Sites;
import dev.purser.service.definition.DefinitionRecords;
import dev.purser.service.definition.DefinitionRow;
import dev.purser.service.parcel.Parcels;
import jakarta.persistence.EntityManager;
import java.io.IOException;
import java.time.Clock;
import java.time.Instant;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.ConcurrentHashMap;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/** Other environments, each held against this one; what is there is only read. */
@Component
public class Neighbours {
  private static final int MOST_VERSIONS = 100;

  /** Each who waits for an answer takes a thread from those who watch and act. */
  private static final int MOST_WAITING = 8;

  /** Of how many definitions that nothing else tells of the earlier versions are read. */
  private static final int MOST_PASTS = 500;

  private final EntityManager rows;
  private final TransactionTemplate transactions;
  private final Engine engine;
  private final DefinitionRecords records;
  private final Sites sites;
  private final Parcels parcels;
  private final Settings settings;
  private final Clock clock;
  private final Map<String, Compared> known = new ConcurrentHashMap<>();

  /** Who comes while another is being asked waits for the same answer. */
  private final Map<String, CompletableFuture<Compared>> underWay = new ConcurrentHashMap<>();

  Neighbours(
      EntityManager rows,
      TransactionTemplate transactions,
      Engine engine,
      DefinitionRecords records,
      Sites sites,
      Parcels parcels,
      Settings settings,
      Clock clock) {
    this.rows = rows;
    this.transactions = transactions;
    this.engine = engine;
    this.records = records;
    this.sites = sites;
    this.parcels = parcels;
    this.settings = settings;
    this.clock = clock;
  }

  /** Another environment cannot be asked, or answers with what is of no use; says why. */
  public static final class Away extends RuntimeException {
    private static final long serialVersionUID = 1L;

    Away(String message) {
      super(message);
    }
  }

  /**
   * This environment and another, held against each other.
   *
   * @param revision of all definitions here
   * @param environment as the other says it is called
   * @param revisionThere of all definitions there
   * @param console where people reach it; empty where that is not known
   * @param looked when it was asked last
   * @param alike how many definitions are the same
   * @param differences by kind and name
   * @param departments of streams that are only there
   * @param onItsWay what is to be in force there and is not yet
   */
  public record Compared(
      NeighbourRow with,
      long revision,
      String environment,
      long revisionThere,
      String console,
      Instant looked,
      int alike,
      List<Difference> differences,
      Map<Named, String> departments,
      List<OnItsWay.Item> onItsWay) {
    private boolean holds(NeighbourRow row, long here) {
      return here == revision
          && row.names.equals(with.names)
          && row.connection.equals(with.connection);
    }
  }

  /** All of them, by name. */
  public List<NeighbourRow> all() {
    return rows.createQuery("from NeighbourRow n order by n.name", NeighbourRow.class)
        .getResultList();
  }

  /** One of them. */
  public Optional<NeighbourRow> one(String name) {
    return Optional.ofNullable(transactions.execute(any -> rows.find(NeighbourRow.class, name)));
  }

  private NeighbourRow found(String name) {
    return one(name)
        .orElseThrow(
            () -> {
              List<String> names = all().stream().map(row -> row.name).toList();
              return new NotUnderstood(
                  "there is no neighbour \"" + name + "\"" + Nearest.hint(name, names));
            });
  }

  /**
   * Names one, or says how one is reached now.
   *
   * @param map what is called otherwise here: YAML
   * @throws NotUnderstood where the name, the connection or the map is not good
   */
  public NeighbourRow name(String name, String connection, String map) {
    if (!name.matches("[a-z0-9][a-z0-9-]{0,39}")) {
      throw new NotUnderstood(
          "\""
              + name
              + "\" is not a valid name for a neighbour; use up to 40 lower-case letters, digits, -");
    }
    Definitions all = engine.definitions();
    Connection by =
        all.connection(connection)
            .orElseThrow(
                () ->
                    new NotUnderstood(
                        "there is no connection \""
                            + connection
                            + "\""
                            + Nearest.hint(connection, all.names(Kind.CONNECTION))));
    if (!by.kind().isHttp()) {
      throw new NotUnderstood(
          "connection "
              + connection
              + " is of the kind "
              + by.kind().word()
              + "; a neighbour is reached by http, with sign-in: bearer");
    }
    parcels.checkMap(map);
    return transactions.execute(
        any -> {
          NeighbourRow row = rows.find(NeighbourRow.class, name);
          boolean fresh = row == null;
          row = fresh ? new NeighbourRow() : row;
          row.name = name;
          row.connection = connection;
          row.names = map;
          if (fresh) {
            rows.persist(row);
          }
          return row;
        });
  }

  /** Forgets one; gives false where there is none. */
  public boolean forget(String name) {
    known.remove(name);
    return Boolean.TRUE.equals(
        transactions.execute(
            any -> {
              NeighbourRow row = rows.find(NeighbourRow.class, name);
              if (row != null) {
                rows.remove(row);
              }
              return row != null;
            }));
  }

  private Peer peer(NeighbourRow row) {
    try {
      return new Peer(row.name, sites.of(engine.definitions(), row.connection), sites.web());
    } catch (IOException e) {
      throw new Away(row.name + " cannot be asked: " + e.getMessage());
    }
  }

  /**
   * Holds one against this environment, asking it whether anything has changed.
   *
   * @throws Away where it does not answer
   */
  public Compared compare(String name) {
    NeighbourRow row = found(name);
    CompletableFuture<Compared> mine = new CompletableFuture<>();
    CompletableFuture<Compared> running = underWay.putIfAbsent(name, mine);
    if (running != null) {
      return sameAnswer(name, running);
    }
    try {
      Compared done = compareNow(row);
      known.put(name, done);
      mine.complete(done);
      return done;
    } catch (RuntimeException | Error e) {
      known.remove(name);
      mine.completeExceptionally(e);
      throw e;
    } finally {
      underWay.remove(name);
    }
  }

  private Compared sameAnswer(String name, CompletableFuture<Compared> running) {
    try {
      if (running.getNumberOfDependents() > MOST_WAITING) {
        throw new Away(name + " is being asked by many at once; try again in a moment");
      }
      return running.thenApply(done -> done).join();
    } catch (CompletionException e) {
      throw e.getCause() instanceof Away away ? new Away(away.getMessage()) : e;
    }
  }

  /** The same as it was seen last, unless something here has changed since. */
  public Compared lastCompared(String name) {
    NeighbourRow row = found(name);
    Compared last = known.get(name);
    return last != null && last.holds(row, engine.revision()) ? last : compare(name);
  }

  private Compared compareNow(NeighbourRow row) {
    Peer peer = peer(row);
    Peer.Told told = peer.told();
    long revision = engine.revision();
    Compared last = known.get(row.name);
    if (last != null
        && last.holds(row, revision)
        && last.revisionThere == told.revision()
        && last.environment.equals(told.environment())) {
      return new Compared(
          row,
          revision,
          last.environment,
          last.revisionThere,
          told.console(),
          clock.instant(),
          last.alike,
          last.differences,
          last.departments,
          told.onItsWay());
    }
    Map<Named, Side> here = here(revision);
    Map<Named, Peer.InForce> there = peer.definitions();
    Map<Named, Side> asHere = asHere(there, here, row.names);
    List<Difference> differences =
        new Comparison(settings.environment(), told.environment(), past(told.environment()))
            .of(here, asHere);
    long both = here.keySet().stream().filter(asHere::containsKey).count();
    long differing =
        differences.stream()
            .filter(one -> one.here().isPresent() && one.there().isPresent())
            .count();
    Map<Named, String> departments = new HashMap<>();
    there.forEach((named, one) -> departments.put(named, one.department()));
    return new Compared(
        row,
        revision,
        told.environment(),
        told.revision(),
        told.console() == null ? "" : told.console(),
        clock.instant(),
        (int) (both - differing),
        differences.stream().map(Neighbours::withoutTexts).toList(),
        departments,
        told.onItsWay());
  }

  /** It is kept until something changes: ten thousand texts of both sides are not. */
  private static Difference withoutTexts(Difference one) {
    return new Difference(
        one.what(),
        one.standing(),
        one.here().map(Neighbours::withoutText),
        one.there().map(Neighbours::withoutText),
        one.fields());
  }

  private static Side withoutText(Side side) {
    return new Side("", side.revision(), side.at(), side.who(), side.origin());
  }

  private Map<Named, Side> here(long revision) {
    Map<Long, String> origins = records.origins();
    Map<Named, Side> here = new LinkedHashMap<>();
    for (DefinitionRow one : records.inForceAt(revision)) {
      Kind kind = Kind.of(one.kind).orElseThrow();
      if (Packing.carries(kind) && one.madeBy.isEmpty() && !Stream.isTrial(one.name)) {
        here.put(
            new Named(kind, one.name),
            new Side(
                one.text,
                one.revision,
                one.publishedAt,
                one.publishedBy,
                origins.getOrDefault(one.revision, "")));
      }
    }
    return here;
  }

  /** What is there, with the names that things have here; only what differs is gone through. */
  private Map<Named, Side> asHere(
      Map<Named, Peer.InForce> there, Map<Named, Side> here, String map) {
    Map<Named, String> texts = new LinkedHashMap<>();
    there.forEach(
        (named, one) -> {
          Side own = here.get(named);
          boolean makes = named.kind() == Kind.TEMPLATE || named.kind() == Kind.FOR_EACH;
          if (makes || own == null || !own.text().equals(one.side().text())) {
            texts.put(named, one.side().text());
          }
        });
    Map<Named, String> mapped = parcels.namedAsHere(texts, map);
    Map<Named, Side> all = new LinkedHashMap<>();
    there.forEach(
        (named, one) -> {
          Side side = one.side();
          all.put(
              named,
              new Side(
                  mapped.getOrDefault(named, side.text()),
                  side.revision(),
                  side.at(),
                  side.who(),
                  side.origin()));
        });
    return all;
  }

  /** What was in force here before, and what of it a parcel from there brought. */
  private Comparison.Past past(String environment) {
    Map<Named, Long> brought =
        records.lastFrom(new ParcelOrigin(environment, 0).inWords().replaceAll("\\d+$", ""));
    Map<Long, String> origins = records.origins();
    int[] read = {0};
    return new Comparison.Past() {
      @Override
      public OptionalLong lastBrought(Named what) {
        return Optional.ofNullable(brought.get(what))
            .flatMap(revision -> ParcelOrigin.read(origins.getOrDefault(revision, "")))
            .map(origin -> OptionalLong.of(origin.revision()))
            .orElseGet(OptionalLong::empty);
      }

      @Override
      public boolean was(Named what, String text) {
        return read[0]++ < MOST_PASTS
            && records.versions(what.kind(), what.name(), Long.MAX_VALUE, MOST_VERSIONS).stream()
                .anyMatch(version -> version.text.equals(text));
      }
    };
  }

  /**
   * Has another environment pack what is in force there, to be looked at and taken here.
   *
   * @throws Away where it does not answer, or refuses
   * @throws NotUnderstood where what it sends is not a good parcel
   */
  public Parcels.Parcel fetch(String name, List<Named> wanted, boolean withNeeds) {
    return parcels.opened(
        peer(found(name)).parcel(wanted, withNeeds, parcels.areSignaturesWanted()));
  }
}
