package dev.purser.service.definition;

import dev.purser.core.definition.Definitions;
import dev.purser.core.problem.Problem;
import dev.purser.core.reading.DefinitionReader;
import dev.purser.core.reading.FromTemplates;
import dev.purser.core.reading.SourceFile;
import dev.purser.service.Settings;
import jakarta.persistence.EntityManager;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Reads published definitions, as they are or as they were. */
@Component
@Transactional(readOnly = true)
public class DefinitionRecords {
  private static final Logger LOG = LoggerFactory.getLogger(DefinitionRecords.class);

  private final EntityManager rows;
  private final Settings settings;

  DefinitionRecords(EntityManager rows, Settings settings) {
    this.rows = rows;
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
    Map<String, DefinitionRow> latest = new HashMap<>();
    for (DefinitionRow row :
        rows.createQuery(
                "from DefinitionRow d where d.revision <= :revision order by d.revision",
                DefinitionRow.class)
            .setParameter("revision", revision)
            .getResultList()) {
      latest.put(row.kind + " " + row.name, row);
    }
    return latest.values().stream().filter(row -> !row.withdrawn).toList();
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
