package dev.purser.agent;

import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import java.io.IOException;
import java.io.RandomAccessFile;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tools.jackson.databind.json.JsonMapper;

/**
 * One attempt in the journal: a folder whose files say how far it has come. {@code start.json} was
 * written before anything was started; {@code claim} was made by whoever decided that it starts;
 * {@code supervisor} and {@code group} hold process ids; {@code output} grows; {@code exit} holds
 * the exit code, {@code checked} says that it is the check's; {@code values} is what the work hands
 * back; {@code ended.json} is an end that no exit code tells.
 */
final class AttemptFolder {
  private static final JsonMapper JSON = JsonMapper.builder().build();

  private final Path folder;
  private final long run;
  private final int attempt;

  AttemptFolder(Path attempts, long run, int attempt) {
    this.run = run;
    this.attempt = attempt;
    this.folder = attempts.resolve(run + "." + attempt);
  }

  static Optional<AttemptFolder> of(Path folder) {
    String[] parts = folder.getFileName().toString().split("\\.", -1);
    boolean isOne = parts.length == 2 && parts[0].matches("\\d+") && parts[1].matches("\\d+");
    return isOne
        ? Optional.of(
            new AttemptFolder(
                folder.getParent(), Long.parseLong(parts[0]), Integer.parseInt(parts[1])))
        : Optional.empty();
  }

  long run() {
    return run;
  }

  int attempt() {
    return attempt;
  }

  Path path() {
    return folder;
  }

  Path output() {
    return folder.resolve("output");
  }

  boolean exists() {
    return Files.exists(folder.resolve("start.json"));
  }

  /** Journals the start; it is on the disk when this returns. */
  void write(ToAgent.Start start) {
    try {
      Files.createDirectories(folder);
      durably("start.json", JSON.writeValueAsBytes(start));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  ToAgent.Start start() {
    return JSON.readValue(folder.resolve("start.json").toFile(), ToAgent.Start.class);
  }

  /** Tries to become the one who decides whether the attempt starts. */
  boolean claim() {
    return folder.resolve("claim").toFile().mkdir();
  }

  Optional<Long> supervisor() {
    return number("supervisor");
  }

  Optional<Long> group() {
    return number("group");
  }

  /** How the attempt ended, if it has. */
  Optional<FromAgent.Ended> ended() {
    Path said = folder.resolve("ended.json");
    if (Files.exists(said)) {
      return Optional.of(JSON.readValue(said.toFile(), FromAgent.Ended.class));
    }
    return number("exit").map(code -> ended(code.intValue()));
  }

  private FromAgent.Ended ended(int code) {
    if (Files.exists(folder.resolve("checked"))) {
      String how = code == 1 ? "nothing-to-do" : "check-failed";
      return new FromAgent.Ended(run, attempt, how, code, "", exitAt(), Map.of());
    }
    ValueFile.Reading read = ValueFile.read(values());
    return new FromAgent.Ended(
        run, attempt, "exited", code, read.problem(), exitAt(), read.values());
  }

  /** Where the work may write what it hands back. */
  Path values() {
    return folder.resolve("values");
  }

  private long exitAt() {
    return folder.resolve("exit").toFile().lastModified();
  }

  /** Journals an end that no exit code tells. */
  FromAgent.Ended end(String how, String note, long at) {
    FromAgent.Ended ended = new FromAgent.Ended(run, attempt, how, -1, note, at, Map.of());
    try {
      durably("ended.json", JSON.writeValueAsBytes(ended));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    return ended;
  }

  /** Whether the supervisor of the attempt is alive; a process that got its id later is not it. */
  boolean isSupervised() {
    Optional<Long> pid = supervisor();
    if (pid.isEmpty()) {
      return false;
    }
    try {
      String command = Files.readString(Path.of("/proc/" + pid.get() + "/cmdline"));
      return command.contains("launch.sh") && command.contains(folder.toString());
    } catch (IOException e) {
      return false;
    }
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

  /** Forgets the attempt. */
  void delete() {
    try (var files = Files.walk(folder)) {
      List<Path> all = files.sorted(Comparator.reverseOrder()).toList();
      for (Path file : all) {
        Files.deleteIfExists(file);
      }
    } catch (IOException e) {
      AgentLog.warn("cannot remove " + folder + ": " + e.getMessage());
    }
  }

  private Optional<Long> number(String name) {
    try {
      String text = Files.readString(folder.resolve(name)).strip();
      return text.isEmpty() ? Optional.empty() : Optional.of(Long.valueOf(text));
    } catch (IOException | NumberFormatException e) {
      return Optional.empty();
    }
  }

  /** Writes a file whole or not at all, and waits for the disk. */
  private void durably(String name, byte[] data) throws IOException {
    Path fresh = folder.resolve(name + ".new");
    try (FileChannel channel =
        FileChannel.open(
            fresh,
            StandardOpenOption.CREATE,
            StandardOpenOption.WRITE,
            StandardOpenOption.TRUNCATE_EXISTING)) {
      channel.write(ByteBuffer.wrap(data));
      channel.force(true);
    }
    Files.move(fresh, folder.resolve(name), java.nio.file.StandardCopyOption.ATOMIC_MOVE);
  }
}
