package dev.purser.core.check;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Stream;
import dev.purser.core.problem.Problem;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;

/**
 * Which definitions may be looked at further: those without an error so far that lean on none with
 * one. Each definition is asked once for those that lean on it, however often this is asked.
 */
final class Sound {
  /** By identity: what a definition holds may be long, and is asked for often. */
  private final Set<Document> unsound = Collections.newSetFromMap(new IdentityHashMap<>());

  private final Map<String, List<Document>> users = new HashMap<>();
  private final Map<String, TreeMap<Integer, List<Document>>> places = new HashMap<>();
  private int seen;

  /**
   * Begins with what was read.
   *
   * @param broken kind and name of what has errors in itself, as the reader tells them
   */
  Sound(Definitions all, Collection<Document> documents, Set<String> broken) {
    Set<String> brokenNames = NameCheck.namesOf(broken);
    Deque<Document> fresh = new ArrayDeque<>();
    for (Document document : documents) {
      places
          .computeIfAbsent(document.file(), file -> new TreeMap<>())
          .computeIfAbsent(document.line(), line -> new ArrayList<>())
          .add(document);
      Set<String> named = new HashSet<>();
      boolean leans = false;
      for (Document.Mention mention : document.mentions()) {
        String name = nameOf(all, mention);
        if (named.add(name)) {
          users.computeIfAbsent(name, key -> new ArrayList<>()).add(document);
        }
        leans |= brokenNames.contains(name) || !NameCheck.exists(all, mention);
      }
      if (leans) {
        fresh.add(document);
      }
      if (document.value() instanceof Stream && document.kind() == Kind.STREAM) {
        leanOnLevels(document, broken, fresh);
      }
    }
    spread(fresh);
  }

  /** Values of the site and of departments may be missing where their levels are broken. */
  private static void leanOnLevels(Document document, Set<String> broken, Deque<Document> fresh) {
    if (broken.stream().anyMatch(one -> one.startsWith(Kind.PARAMETERS.word() + " "))) {
      fresh.add(document);
    }
  }

  /** The name of the definition that a mention leads to; for jobs that of the outermost stream. */
  private static String nameOf(Definitions all, Document.Mention mention) {
    return switch (mention.what()) {
      case JOB_OR_STREAM, VALUE_OF -> {
        String path = Definitions.resolve(mention.name(), mention.within());
        yield all.stream(mention.name())
            .or(() -> all.topOf(path))
            .map(Stream::path)
            .orElse(mention.name());
      }
      default -> mention.name();
    };
  }

  /** Those of some definitions that are sound by what is known now. */
  List<Document> of(List<Document> documents, List<Problem> problems) {
    Deque<Document> fresh = new ArrayDeque<>();
    for (; seen < problems.size(); seen++) {
      Problem problem = problems.get(seen);
      Map.Entry<Integer, List<Document>> at =
          problem.isError() && places.containsKey(problem.file())
              ? places.get(problem.file()).floorEntry(problem.line())
              : null;
      if (at != null) {
        fresh.addAll(at.getValue());
      }
    }
    spread(fresh);
    return documents.stream().filter(document -> !unsound.contains(document)).toList();
  }

  private void spread(Deque<Document> fresh) {
    while (!fresh.isEmpty()) {
      Document document = fresh.pop();
      if (unsound.add(document)) {
        fresh.addAll(users.getOrDefault(document.name(), List.of()));
      }
    }
  }
}
