package dev.purser.client.build;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.Collections;
import java.util.Map;
import java.util.jar.JarEntry;
import java.util.jar.JarFile;
import java.util.jar.JarOutputStream;

/** What steps of the build that change a jar have in common. */
final class JarStep {
  private JarStep() {}

  /** What becomes of one entry. */
  interface Change {
    /**
     * What stands there from now on.
     *
     * @param name of the entry, such as {@code dev/purser/client/Purser.class}
     */
    byte[] of(String name, byte[] content) throws IOException;
  }

  /**
   * Writes a jar anew, in one go.
   *
   * @param further entries that it does not have yet, by name
   */
  static void rewrite(Path jar, Change change, Map<String, byte[]> further) throws IOException {
    Path fresh = jar.resolveSibling(jar.getFileName() + ".newer");
    try (JarFile in = new JarFile(jar.toFile());
        JarOutputStream out = new JarOutputStream(Files.newOutputStream(fresh))) {
      for (JarEntry entry : Collections.list(in.entries())) {
        if (entry.isDirectory()) {
          continue; // each start may read the list of what is in the jar
        }
        byte[] content = in.getInputStream(entry).readAllBytes();
        put(out, entry.getName(), change.of(entry.getName(), content));
      }
      for (Map.Entry<String, byte[]> one : further.entrySet()) {
        put(out, one.getKey(), one.getValue());
      }
    }
    Files.move(fresh, jar, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
  }

  private static void put(JarOutputStream out, String name, byte[] content) throws IOException {
    out.putNextEntry(new JarEntry(name));
    out.write(content);
    out.closeEntry();
  }
}
