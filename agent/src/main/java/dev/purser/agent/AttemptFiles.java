package dev.purser.agent;

import java.io.IOException;
import java.io.RandomAccessFile;
import java.nio.channels.FileChannel;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;

/**
 * The files of one attempt: its output, which grows, and what it hands back, which it may write.
 * How far it has come the {@link Journal} and the {@link StarterLog} tell.
 */
final class AttemptFiles {
  private static final String OUTPUT = ".output";
  private static final String VALUES = ".values";

  /** Before the name of the variable. */
  private static final String SECRET = ".secret-";

  private final Path attempts;
  private final String name;

  /**
   * @param attempts the directory of all of them
   * @param name as {@code RUN.ATTEMPT}
   */
  AttemptFiles(Path attempts, String name) {
    this.attempts = attempts;
    this.name = name;
  }

  /** The attempt that a file belongs to; empty for none. */
  static String nameOf(Path file) {
    String name = file.getFileName().toString();
    return name.matches("\\d+\\.\\d+(\\" + OUTPUT + "|\\" + VALUES + "|\\" + SECRET + "\\w+)")
        ? name.substring(0, name.lastIndexOf('.'))
        : "";
  }

  Path output() {
    return attempts.resolve(name + OUTPUT);
  }

  /** Where the work may write what it hands back. */
  Path values() {
    return attempts.resolve(name + VALUES);
  }

  /** What every process of the attempt has in its environment, and no other process. */
  String mark() {
    return "PURSER_VALUES=" + values();
  }

  long outputLength() {
    return output().toFile().length();
  }

  /** Reads a piece of the output. */
  byte[] read(long offset, int most) {
    try (RandomAccessFile file = new RandomAccessFile(output().toFile(), "r")) {
      long length = Math.min(most, file.length() - offset);
      if (length <= 0) {
        return new byte[0];
      }
      byte[] data = new byte[(int) length];
      file.seek(offset);
      file.readFully(data);
      return data;
    } catch (IOException e) {
      return new byte[0];
    }
  }

  /**
   * Cuts off what has been written after an offset; the work goes on writing after it.
   *
   * @return how many bytes went
   */
  long cutOutput(long offset) {
    try (FileChannel channel = FileChannel.open(output(), StandardOpenOption.WRITE)) {
      long gone = Math.max(0, channel.size() - offset);
      channel.truncate(offset);
      return gone;
    } catch (IOException e) {
      AgentLog.warn("cannot cut off the output of attempt " + name + ": " + e.getMessage());
      return 0;
    }
  }

  /** Removes the files with secrets: nobody needs them once the attempt is over. */
  void deleteSecrets() {
    try (DirectoryStream<Path> secrets = Files.newDirectoryStream(attempts, name + SECRET + "*")) {
      for (Path secret : secrets) {
        Files.deleteIfExists(secret);
      }
    } catch (IOException e) {
      AgentLog.warn("cannot remove the secrets of attempt " + name + ": " + e.getMessage());
    }
  }

  /** Removes them. */
  void delete() {
    deleteSecrets();
    try {
      Files.deleteIfExists(output());
      Files.deleteIfExists(values());
    } catch (IOException e) {
      AgentLog.warn("cannot remove the files of attempt " + name + ": " + e.getMessage());
    }
  }
}
