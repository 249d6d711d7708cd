package dev.purser.agent;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.Collection;
import java.util.LinkedHashSet;
import java.util.Set;

/**
 * The names of all attempts that may have been started, a line each: {@code +NAME} before it is
 * started, {@code -NAME} once it is forgotten. What is added is on the disk when {@link #add}
 * returns, many at the price of one; an attempt's folder alone might be lost with the host's power.
 */
final class Journal implements AutoCloseable {
  private static final long LONGEST = 1 << 20;

  private final Path file;
  private final Set<String> names = new LinkedHashSet<>();
  private FileChannel channel;

  /**
   * Reads what an earlier agent wrote; a line that its end cut short says nothing.
   *
   * @throws UncheckedIOException where the file cannot be read or written
   */
  Journal(Path home) {
    this.file = home.resolve("journal");
    try {
      if (Files.exists(file)) {
        String text = Files.readString(file, StandardCharsets.ISO_8859_1);
        for (String line : text.substring(0, text.lastIndexOf('\n') + 1).split("\n")) {
          if (line.startsWith("+")) {
            names.add(line.substring(1));
          } else if (line.startsWith("-")) {
            names.remove(line.substring(1));
          }
        }
      }
      writeAnew();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private void writeAnew() throws IOException {
    Path fresh = file.resolveSibling("journal.new");
    FileChannel next =
        FileChannel.open(
            fresh,
            StandardOpenOption.CREATE,
            StandardOpenOption.WRITE,
            StandardOpenOption.TRUNCATE_EXISTING);
    StringBuilder all = new StringBuilder();
    names.forEach(name -> all.append('+').append(name).append('\n'));
    write(next, all);
    next.force(true);
    Files.move(fresh, file, StandardCopyOption.ATOMIC_MOVE, StandardCopyOption.REPLACE_EXISTING);
    if (channel != null) {
      channel.close();
    }
    channel = next;
  }

  private static void write(FileChannel channel, StringBuilder lines) throws IOException {
    ByteBuffer bytes = ByteBuffer.wrap(lines.toString().getBytes(StandardCharsets.ISO_8859_1));
    while (bytes.hasRemaining()) {
      channel.write(bytes);
    }
  }

  /** Names that were added and not forgotten. */
  synchronized Set<String> names() {
    return Set.copyOf(names);
  }

  /**
   * Adds names; they are on the disk when this returns.
   *
   * @throws IOException where the disk does not take them: then none counts as added
   */
  synchronized void add(Collection<String> fresh) throws IOException {
    long before = channel.position();
    StringBuilder lines = new StringBuilder();
    fresh.forEach(name -> lines.append('+').append(name).append('\n'));
    try {
      write(channel, lines);
      channel.force(false);
    } catch (IOException e) {
      channel.truncate(before);
      throw e;
    }
    names.addAll(fresh);
  }

  /** Forgets a name, sooner or later: one that comes back is told to the service once more. */
  synchronized void forget(String name) {
    if (!names.remove(name)) {
      return;
    }
    try {
      write(channel, new StringBuilder("-").append(name).append('\n'));
      if (channel.position() > LONGEST) {
        writeAnew();
      }
    } catch (IOException e) {
      AgentLog.warn("cannot write to the journal: " + e.getMessage());
    }
  }

  @Override
  public synchronized void close() {
    try {
      channel.close();
    } catch (IOException e) {
      AgentLog.warn("cannot close the journal: " + e.getMessage());
    }
  }
}
