package dev.purser.service.definition;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Named;
import dev.purser.core.problem.Problem;
import dev.purser.core.reading.DefinitionReader;
import dev.purser.core.reading.FromTemplates;
import dev.purser.core.reading.SourceFile;
import dev.purser.service.Settings;
import jakarta.persistence.EntityManager;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.NavigableMap;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Reads published definitions, as they are or as they were. */
@Component
@Transactional(readOnly = true)
public class DefinitionRecords {
  private static final String LATEST =
      "(select max(l.revision) from DefinitionRow l where l.kind = d.kind and l.name = d.name"
          + " and l.revision <= :revision)";

  private static final Logger LOG = LoggerFactory.getLogger(DefinitionRecords.class);

  private final EntityManager rows;
  private final Renames renames;
  private final Settings settings;

  DefinitionRecords(EntityManager rows, Renames renames, Settings settings) {
    this.rows = rows;
    this.renames = renames;
    this.settings = settings;
  }

  /** The latest revision; 0 where nothing was ever published. */
  public long lastRevision() {
    Long last =
        rows.createQuery("select max(p.revision) from PublicationRow p", Long.class)
            .getSingleResult();
    return last == null ? 0 : last;
  }

  /** The rows in force at a revision, by kind and name. */
  public List<DefinitionRow> inForceAt(long revision) {
    return rows.createQuery(
            "from DefinitionRow d where not d.withdrawn and d.revision = "
                + LATEST
                + " order by d.kind, d.name",
            DefinitionRow.class)
        .setParameter("revision", revision)
        .getResultList();
  }

  /** What was in force once and is not now: the last version of each, by kind and name. */
  public List<DefinitionRow> withdrawn() {
    return rows.createQuery(
            "from DefinitionRow d where d.withdrawn and d.revision = "
                + LATEST
                + " and not exists (select 1 from RenamedRow n where n.kind = d.kind and n.oldName ="
                + " d.name and n.revision = d.revision) order by d.kind, d.name",
            DefinitionRow.class)
        .setParameter("revision", Long.MAX_VALUE)
        .getResultList();
  }

  /**
   * Versions of a definition, the newest first, by whatever name it had.
   *
   * @param before only those of earlier revisions
   */
  public List<DefinitionRow> versions(Kind kind, String name, long before, int limit) {
    List<DefinitionRow> found = new ArrayList<>();
    for (Renames.Called called : renames.names(kind, name)) {
      if (found.size() < limit) {
        found.addAll(
            rows.createQuery(
                    "from DefinitionRow d where d.kind = :kind and d.name = :name and d.revision >="
                        + " :from and d.revision < :before order by d.revision desc",
                    DefinitionRow.class)
                .setParameter("kind", kind.word())
                .setParameter("name", called.name())
                .setParameter("from", called.from())
                .setParameter("before", Math.min(before, called.until()))
                .setMaxResults(limit - found.size())
                .getResultList());
      }
    }
    return found;
  }

  /** Whether there ever was a definition of a name, whatever it is called now. */
  public boolean wasEver(Kind kind, String name) {
    return !rows.createQuery(
            "from DefinitionRow d where d.kind = :kind and d.name = :name", DefinitionRow.class)
        .setParameter("kind", kind.word())
        .setParameter("name", name)
        .setMaxResults(1)
        .getResultList()
        .isEmpty();
  }

  /** A definition as it was at a revision, also where it was withdrawn then. */
  public Optional<DefinitionRow> at(Kind kind, String name, long revision) {
    long before = revision == Long.MAX_VALUE ? revision : revision + 1;
    return versions(kind, name, before, 1).stream().findFirst();
  }

  /** What a publication changed, by kind and name. */
  public List<DefinitionRow> of(long revision) {
    return rows.createQuery(
            "from DefinitionRow d where d.revision = :revision order by d.kind, d.name",
            DefinitionRow.class)
        .setParameter("revision", revision)
        .getResultList();
  }

  /** A publication. */
  public Optional<PublicationRow> publication(long revision) {
    return Optional.ofNullable(rows.find(PublicationRow.class, revision));
  }

  /** Publications by revision. */
  public Map<Long, PublicationRow> publications(Collection<Long> revisions) {
    Map<Long, PublicationRow> found = new HashMap<>();
    rows.createQuery("from PublicationRow p where p.revision in :revisions", PublicationRow.class)
        .setParameter("revisions", revisions)
        .getResultList()
        .forEach(row -> found.put(row.revision, row));
    return found;
  }

  /** Where publications come from, by revision; only of those that no person's own hand made. */
  public Map<Long, String> origins() {
    Map<Long, String> found = new HashMap<>();
    rows.createQuery(
            "select p.revision, p.origin from PublicationRow p where p.origin <> ''",
            Object[].class)
        .getResultList()
        .forEach(row -> found.put((Long) row[0], (String) row[1]));
    return found;
  }

  /**
   * The last revision at which a publication of some origin changed each definition.
   *
   * @param origin what it begins with
   */
  public Map<Named, Long> lastFrom(String origin) {
    Map<Named, Long> found = new HashMap<>();
    rows.createQuery(
            "select d.kind, d.name, max(d.revision) from DefinitionRow d join PublicationRow p on"
                + " p.revision = d.revision where p.origin like :origin escape '!' group by d.kind,"
                + " d.name",
            Object[].class)
        .setParameter("origin", origin.replaceAll("([!%_])", "!$1") + "%")
        .getResultList()
        .forEach(
            row ->
                found.put(
                    new Named(Kind.of((String) row[0]).orElseThrow(), (String) row[1]),
                    (Long) row[2]));
    return found;
  }

  /** Publications, the newest first. */
  public List<PublicationRow> publications(long before, int limit) {
    return rows.createQuery(
            "from PublicationRow p where p.revision < :before order by p.revision desc",
            PublicationRow.class)
        .setParameter("before", before)
        .setMaxResults(limit)
        .getResultList();
  }

  /** How many runs of a stream were planned at each revision. */
  public NavigableMap<Long, Long> runsOf(String stream) {
    NavigableMap<Long, Long> counts = new TreeMap<>();
    rows.createQuery(
            "select r.revision, count(r) from RunRow r where r.stream = :stream group by r.revision",
            Object[].class)
        .setParameter("stream", stream)
        .getResultList()
        .forEach(row -> counts.put((Long) row[0], (Long) row[1]));
    return counts;
  }

  /**
   * The definitions in force at a revision. What this version no longer accepts is left out, and
   * the log says so.
   */
  public Definitions at(long revision) {
    List<DefinitionReader.Reading> readings = new ArrayList<>();
    for (DefinitionRow row : inForceAt(revision)) {
      if (row.madeBy.isEmpty()) {
        DefinitionReader.Reading reading = read(row);
        readings.add(reading);
        errors(reading).forEach(problem -> refused(row.name, row.revision, problem));
      }
    }
    DefinitionReader.Reading whole =
        FromTemplates.filled(DefinitionReader.Reading.together(readings), Definitions.none());
    errors(whole)
        .filter(problem -> readings.stream().noneMatch(one -> one.problems().contains(problem)))
        .forEach(problem -> refused(problem.file(), revision, problem));
    whole.documents().forEach(Document::whole); // written out, so that no tree is kept in memory
    return Definitions.of(whole.documents()).in(settings.environment());
  }

  private static void refused(String name, long revision, Problem problem) {
    LOG.error(
        "{}, in force since revision {}, is not accepted by this version: {}",
        name,
        revision,
        problem.message());
  }

  /**
   * What is in force at a revision and this version no longer accepts: an older one did.
   *
   * @return a sentence each, with the name and the first error, by name
   */
  public List<String> refusedAt(long revision) {
    List<String> refused = new ArrayList<>();
    for (DefinitionRow row : inForceAt(revision)) {
      errors(read(row))
          .findFirst()
          .ifPresent(problem -> refused.add(row.name + ": " + problem.message()));
    }
    return refused.stream().sorted().toList();
  }

  private static DefinitionReader.Reading read(DefinitionRow row) {
    return DefinitionReader.read(List.of(new SourceFile(row.file, row.text)));
  }

  private static Stream<Problem> errors(DefinitionReader.Reading reading) {
    return reading.problems().stream().filter(Problem::isError);
  }
}
