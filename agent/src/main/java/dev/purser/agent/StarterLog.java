package dev.purser.agent;

import java.io.IOException;
import java.io.RandomAccessFile;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/**
 * What one starter has done, a line each, as {@code starter.pl} says at its head. The file has its
 * full length from the beginning, filled up with line feeds: a full disk loses no exit code, and a
 * line changes none of the file system's own records.
 */
final class StarterLog {
  /** So many attempts may be started with one log: an attempt's lines have 150 bytes at most. */
  static final int MOST_STARTS = 8_000;

  private static final int LENGTH = MOST_STARTS * 256;
  private static final int PIECE = 16 * 1024;
  private static final String SUFFIX = ".log";
  private static final String CLOSED = ".closed";

  private final Path file;
  private long offset;
  private boolean closed;
  private String[] starter = {};

  /**
   * A line.
   *
   * @param kind its first letter
   * @param name of the attempt
   * @param rest what follows the name
   */
  record Line(char kind, String name, String rest) {
    /** Of the words after the name, one. */
    long number(int word) {
      return Long.parseLong(rest.split(" ")[word]);
    }

    /** The same where the starter of an earlier agent may not have written it. */
    long number(int word, long otherwise) {
      return rest.split(" ").length > word ? number(word) : otherwise;
    }
  }

  private StarterLog(Path file) {
    this.file = file;
  }

  /**
   * A new one, of its full length on the disk.
   *
   * @throws IOException where the disk has no room for it
   */
  static StarterLog create(Path directory) throws IOException {
    Path file = directory.resolve(System.currentTimeMillis() + "-" + System.nanoTime() + SUFFIX);
    byte[] empty = new byte[LENGTH];
    Arrays.fill(empty, (byte) '\n');
    try (FileChannel channel =
        FileChannel.open(file, StandardOpenOption.CREATE_NEW, StandardOpenOption.WRITE)) {
      for (ByteBuffer bytes = ByteBuffer.wrap(empty); bytes.hasRemaining(); ) {
        channel.write(bytes);
      }
      channel.force(true);
    } catch (IOException e) {
      Files.deleteIfExists(file);
      throw e;
    }
    return new StarterLog(file);
  }

  /** Those of earlier agents, the oldest first. */
  static List<StarterLog> find(Path directory) throws IOException {
    try (var files = Files.list(directory)) {
      return files
          .filter(file -> file.toString().endsWith(SUFFIX))
          .sorted()
          .map(StarterLog::new)
          .toList();
    }
  }

  Path file() {
    return file;
  }

  /** Forbids its starter to start anything else; whoever looks for claims does this first. */
  void close() throws IOException {
    closed = true;
    Path marker = file.resolveSibling(file.getFileName() + CLOSED);
    if (!Files.exists(marker)) {
      Files.createFile(marker);
    }
  }

  boolean isClosed() {
    return closed;
  }

  /** What has been added since the last time; a line that is not whole comes with the next. */
  List<Line> read() {
    List<Line> lines = new ArrayList<>();
    try (RandomAccessFile in = new RandomAccessFile(file.toFile(), "r")) {
      byte[] piece = new byte[PIECE];
      int length;
      do {
        in.seek(offset);
        length = Math.max(0, in.read(piece));
        int end = whole(piece, length);
        String text = new String(piece, 0, end, StandardCharsets.UTF_8);
        text.lines().forEach(line -> take(line.substring(0, line.length() - 1), lines));
        offset += end;
        length = end;
      } while (length > PIECE / 2);
    } catch (IOException e) {
      AgentLog.warn("cannot read " + file + ": " + e.getMessage());
    }
    return lines;
  }

  /** Where the last whole line ends: after it there are only line feeds, or half a line. */
  private static int whole(byte[] piece, int length) {
    int end = 0;
    for (int i = 1; i < length && piece[i - 1] != 0; i++) {
      if (piece[i] == '\n' && piece[i - 1] == '\n') {
        break;
      }
      if (piece[i] == '\n' && piece[i - 1] == '!') {
        end = i + 1;
      }
    }
    return end;
  }

  private void take(String line, List<Line> lines) {
    String[] words = line.split(" ", 3);
    if (words[0].equals("s")) {
      starter = line.substring(2).split(" ");
    } else if (words.length > 1) {
      lines.add(new Line(line.charAt(0), words[1], words.length > 2 ? words[2] : ""));
    }
  }

  /** Whether the process that waits for the ends of these attempts is alive. */
  boolean isSupervised() {
    return starter.length == 3
        && starter[2].equals(Boot.id())
        && Boot.isAlive(starter[0], starter[1]);
  }

  /** Removes it; says whether that went well. */
  boolean delete() {
    try {
      Files.deleteIfExists(file);
      Files.deleteIfExists(file.resolveSibling(file.getFileName() + CLOSED));
      return true;
    } catch (IOException e) {
      AgentLog.warn("cannot remove " + file + ": " + e.getMessage());
      return false;
    }
  }
}
