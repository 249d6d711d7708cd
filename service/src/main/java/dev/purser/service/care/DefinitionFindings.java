package dev.purser.service.care;

import dev.purser.core.problem.Shorten;
import dev.purser.service.board.Engine;
import dev.purser.service.definition.DefinitionRecords;
import java.util.List;
import org.springframework.stereotype.Component;

/**
 * Looks whether all that is in force is still accepted: a newer version may refuse what an older
 * one published, and then plans no runs of it.
 */
@Component
class DefinitionFindings implements Look {
  private static final int NAMED = 3;
  private static final int LENGTH = 200;

  private final Engine engine;
  private final DefinitionRecords records;
  private long revision = -1;
  private List<Finding> found = List.of();

  DefinitionFindings(Engine engine, DefinitionRecords records) {
    this.engine = engine;
    this.records = records;
  }

  @Override
  public String about() {
    return "definitions";
  }

  /** Reads them all where a revision is new; it changes by nothing else. */
  @Override
  public synchronized List<Finding> find() {
    long now = engine.revision();
    if (now != revision) {
      found = List.of(finding(records.refusedAt(now)));
      revision = now;
    }
    return found;
  }

  private static Finding finding(List<String> refused) {
    if (refused.isEmpty()) {
      return Finding.good("definitions", "all that are in force are accepted by this version");
    }
    int more = refused.size() - NAMED;
    return Finding.bad(
        "definitions",
        refused.size()
            + " in force "
            + (refused.size() == 1 ? "is" : "are")
            + " not accepted by this version and left out, with all runs to come: "
            + String.join(
                "; ", refused.stream().limit(NAMED).map(one -> Shorten.text(one, LENGTH)).toList())
            + (more > 0 ? "; and " + more + " more" : ""),
        "correct and publish them again; or go back to the version before, with the backup of"
            + " before the upgrade");
  }
}
