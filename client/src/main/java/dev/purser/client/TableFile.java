package dev.purser.client;

import dev.purser.core.reading.SourceFile;
import dev.purser.core.reading.TableFiles;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Finds the tables that stand beside a definition file: {@code table-file: ships.csv}. */
final class TableFile {
  private static final Pattern KEY =
      Pattern.compile("(?m)^\\s*table-file:[ \\t]+([\"']?)([^\\s#\"']+)\\1");

  private TableFile() {}

  /**
   * The tables that a file names and that are there; of all others the reader says what is wrong.
   */
  static List<SourceFile> of(Path path, SourceFile file) throws IOException {
    List<SourceFile> tables = new ArrayList<>();
    Matcher key = KEY.matcher(file.text());
    while (key.find()) {
      Optional<String> name = TableFiles.beside(file.name(), key.group(2));
      Path beside = path.resolveSibling(key.group(2));
      if (name.isPresent() && Files.isRegularFile(beside)) {
        tables.add(new SourceFile(name.get(), FileCommands.text(beside)));
      }
    }
    return tables;
  }
}
