package dev.purser.agent;

import dev.purser.core.arrival.FileFacts;
import dev.purser.core.arrival.LookFor;
import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import java.io.IOException;
import java.nio.file.AtomicMoveNotSupportedException;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.Optional;

/**
 * Moves or removes files after use; never one that is not the same any more, never over another.
 */
final class Tidying {
  private static final LookFor NOTHING_BESIDES =
      new LookFor("", "", "*", true, 1, 0, "", "", "", 0, true, 0, 0);

  private Tidying() {}

  static FromAgent.Tidied tidy(ToAgent.Tidy asked) {
    try {
      Path file = Path.of(asked.path());
      Optional<FileFacts> facts = FileLook.at(file, NOTHING_BESIDES, true);
      if (facts.isEmpty()) {
        return new FromAgent.Tidied(asked.arrival(), true, "was gone already");
      }
      FileFacts there = facts.get();
      boolean same =
          there.size() == asked.size()
              && there.modified() == asked.modified()
              && there.key().equals(asked.key());
      if (!same) {
        return new FromAgent.Tidied(
            asked.arrival(), true, "another file of this name is there by now; left as it is");
      }
      String note = tidy(file, asked.moveTo());
      for (String name : asked.besides()) {
        Path beside = file.resolveSibling(name);
        if (Files.isRegularFile(beside)) {
          tidy(beside, asked.moveTo());
        }
      }
      return new FromAgent.Tidied(asked.arrival(), true, note);
    } catch (IOException | InvalidPathException e) {
      return new FromAgent.Tidied(asked.arrival(), false, e.toString());
    }
  }

  private static String tidy(Path file, String moveTo) throws IOException {
    if (moveTo.isEmpty()) {
      Files.delete(file);
      return "removed";
    }
    Path directory = Files.createDirectories(Path.of(moveTo));
    Path target = free(directory, file.getFileName().toString());
    try {
      Files.move(file, target, StandardCopyOption.ATOMIC_MOVE);
    } catch (AtomicMoveNotSupportedException e) { // another file system
      Path part = directory.resolve("." + target.getFileName() + ".part");
      Files.copy(
          file, part, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.COPY_ATTRIBUTES);
      Files.move(part, target, StandardCopyOption.ATOMIC_MOVE);
      Files.delete(file);
    }
    return "moved to " + target;
  }

  private static Path free(Path directory, String name) {
    Path target = directory.resolve(name);
    for (int n = 2; Files.exists(target); n++) {
      target = directory.resolve(name + "." + n);
    }
    return target;
  }
}
