package dev.purser.service.definition;

import dev.purser.core.definition.Document;
import dev.purser.core.problem.Problem;
import java.util.List;

/**
 * Holds definitions against what only this site knows: its people, its secrets. What it finds is
 * told with the other problems and stops no publication, since the site may change afterwards.
 */
public interface SiteCheck {
  /** Warnings about some definitions; asked outside of the engine, so it may look into records. */
  List<Problem> problems(List<Document> documents);
}
