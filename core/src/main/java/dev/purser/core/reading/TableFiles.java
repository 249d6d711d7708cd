package dev.purser.core.reading;

import java.util.ArrayDeque;
import java.util.Collection;
import java.util.Deque;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/** The CSV files that came with definition files: tables that stand beside them. */
public final class TableFiles {
  private final Map<String, SourceFile> byName = new HashMap<>();

  TableFiles(Collection<SourceFile> files) {
    files.stream().filter(TableFiles::isTable).forEach(file -> byName.put(file.name(), file));
  }

  /** Whether a file is a table, not definitions. */
  public static boolean isTable(SourceFile file) {
    return file.name().endsWith(".csv");
  }

  /** The file that a definition names. */
  Optional<SourceFile> find(String definition, String name) {
    return beside(definition, name).map(byName::get);
  }

  /**
   * The name of a file that stands beside another, or in a directory below.
   *
   * @param definition the name of the file that names it
   * @param name as it is written there
   * @return empty where it would lead elsewhere, or is not the name of a table
   */
  public static Optional<String> beside(String definition, String name) {
    if (!name.endsWith(".csv") || name.startsWith("/") || name.indexOf('\0') >= 0) {
      return Optional.empty();
    }
    Deque<String> path = new ArrayDeque<>();
    for (String part : name.split("/")) {
      if (part.equals("..") || part.isEmpty()) {
        return Optional.empty();
      }
      if (!part.equals(".")) {
        path.add(part);
      }
    }
    String directory = definition.substring(0, definition.lastIndexOf('/') + 1);
    return Optional.of(directory + path.stream().collect(Collectors.joining("/")));
  }
}
