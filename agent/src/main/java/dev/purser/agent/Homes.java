package dev.purser.agent;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;

/** Who may see what an agent keeps. */
final class Homes {
  private Homes() {}

  /**
   * Closes an agent's home for everybody else. Where work may turn into other users they must get
   * to the one file that is theirs, by its name; nobody may look what else there is.
   *
   * @throws IOException where that is not allowed
   */
  static void close(Path home, Path attempts, RunAs runAs) throws IOException {
    String mode = runAs.allowed().isEmpty() ? "rwx------" : "rwx--x--x";
    for (Path directory : new Path[] {home, attempts}) {
      Files.setPosixFilePermissions(directory, PosixFilePermissions.fromString(mode));
    }
    try (var files = Files.list(home)) {
      for (Path file : files.filter(Files::isRegularFile).toList()) {
        Files.setPosixFilePermissions(file, PosixFilePermissions.fromString("rw-------"));
      }
    }
  }
}
