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
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * All attempts that may have been started, a line each: {@code +NAME KEEP BOOT!} before it is
 * started, {@code -NAME!} once it is forgotten. What is added is on the disk when {@link #add}
 * returns, many at the price of one; all else might be lost with the host's power, and so it says
 * in which start of the host's system it was added. The file has its full length from the
 * beginning, filled up with line feeds: so a line costs the disk one block, and no change of the
 * file system's own records.
 */
final class Journal implements AutoCloseable {
  private static final Pattern ADDED =
      Pattern.compile("\\+(\\d{1,18}\\.\\d{1,9}) (\\d{1,18}) (\\S+)!");
  private static final int LENGTH = 1 << 20;
  private static final int LEAST_ROOM = 64 * 1024;

  private final Path file;
  private final Map<String, Entry> entries = new LinkedHashMap<>();
  private FileChannel channel;
  private long length;

  /**
   * An attempt.
   *
   * @param name as {@code RUN.ATTEMPT}
   * @param keepOutput bytes of output to send at most
   * @param boot the start of the host's system in which it was added
   */
  record Entry(String name, long keepOutput, String boot) {
    private String line() {
      return "+" + name + " " + keepOutput + " " + boot + "!\n";
    }
  }

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
        for (String line : text.split("\n")) {
          read(line);
        }
      }
      writeAnew();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /** A line that was cut short says nothing. */
  private void read(String line) {
    Matcher added = ADDED.matcher(line);
    if (added.matches()) {
      String name = added.group(1);
      entries.put(name, new Entry(name, Long.parseLong(added.group(2)), added.group(3)));
    } else if (line.startsWith("-") && line.endsWith("!")) {
      entries.remove(line.substring(1, line.length() - 1));
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
    entries.values().forEach(entry -> all.append(entry.line()));
    write(next, all);
    long end = next.position();
    length = Math.max(LENGTH, 2 * end);
    write(next, new StringBuilder("\n".repeat((int) (length - end))));
    next.force(true);
    next.position(end);
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

  /** What was added and not forgotten. */
  synchronized List<Entry> entries() {
    return List.copyOf(entries.values());
  }

  /**
   * Adds attempts; they are on the disk when this returns.
   *
   * @throws IOException where the disk does not take them: then none counts as added
   */
  synchronized void add(Collection<Entry> fresh) throws IOException {
    long before = channel.position();
    StringBuilder lines = new StringBuilder();
    fresh.forEach(entry -> lines.append(entry.line()));
    try {
      write(channel, lines);
      channel.force(false);
    } catch (IOException e) {
      channel.position(before);
      write(channel, new StringBuilder("\n".repeat(lines.length())));
      channel.position(before);
      throw e;
    }
    fresh.forEach(entry -> entries.put(entry.name(), entry));
    makeRoom();
  }

  /** Forgets an attempt, sooner or later: one that comes back is told to the service once more. */
  synchronized void forget(String name) {
    if (entries.remove(name) == null) {
      return;
    }
    try {
      write(channel, new StringBuilder("-").append(name).append("!\n"));
    } catch (IOException e) {
      AgentLog.warn("cannot write to the journal: " + e.getMessage());
    }
    makeRoom();
  }

  private void makeRoom() {
    if (channel.isOpen() && position() > length - LEAST_ROOM) {
      try {
        writeAnew();
      } catch (IOException e) {
        AgentLog.warn("cannot write the journal anew: " + e.getMessage());
      }
    }
  }

  private long position() {
    try {
      return channel.position();
    } catch (IOException e) {
      return 0;
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
