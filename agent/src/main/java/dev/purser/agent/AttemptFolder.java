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
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import tools.jackson.databind.json.JsonMapper;

/**
 * One attempt: a folder whose files say how far it has come. {@code start.json} is what was asked
 * for; {@code claim} was made by whoever decided that it starts; {@code supervisor} says which
 * process waits for its end, {@code group} holds its process group; {@code output} grows; {@code
 * exit} holds the exit code, {@code checked} that of the check where it ended the attempt; {@code
 * values} is what the work hands back; {@code ended.json} is an end that no exit code tells. The
 * {@link Journal} knows which folders there must be.
 */
final class AttemptFolder {
  private static final JsonMapper JSON = JsonMapper.builder().build();

  /** Field 22 of proc(5) stat, counted from the third. */
  private static final int STARTED = 19;

  private final Path folder;
  private final long run;
  private final int attempt;

  AttemptFolder(Path attempts, long run, int attempt) {
    this.run = run;
    this.attempt = attempt;
    this.folder = attempts.resolve(run + "." + attempt);
  }

  static Optional<AttemptFolder> of(Path folder) { // named RUN.ATTEMPT
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

  /** Writes down what was asked for; the journal makes sure of it. */
  void write(ToAgent.Start start) throws IOException {
    Files.createDirectories(folder);
    Path fresh = folder.resolve("start.json.new");
    Files.write(fresh, JSON.writeValueAsBytes(start));
    Files.move(fresh, folder.resolve("start.json"), StandardCopyOption.ATOMIC_MOVE);
  }

  ToAgent.Start start() {
    return JSON.readValue(folder.resolve("start.json").toFile(), ToAgent.Start.class);
  }

  /** Tries to become the one who decides whether the attempt starts. */
  boolean claim() {
    return folder.resolve("claim").toFile().mkdir();
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
    Optional<Long> check = number("checked");
    if (check.isPresent()) {
      String how = check.get() == 1 ? "nothing-to-do" : "check-failed";
      int checked = check.get().intValue();
      return new FromAgent.Ended(
          run, attempt, how, checked, "", beganAt(), exitAt(), Map.of(), null);
    }
    ValueFile.Reading read = ValueFile.read(values());
    return new FromAgent.Ended(
        run, attempt, "exited", code, read.problem(), beganAt(), exitAt(), read.values(), null);
  }

  /** Where the work may write what it hands back. */
  Path values() {
    return folder.resolve("values");
  }

  /** When its process group was made; 0 where it was not. */
  long beganAt() {
    return folder.resolve("group").toFile().lastModified();
  }

  private long exitAt() {
    return folder.resolve("exit").toFile().lastModified();
  }

  /** Journals an end that no exit code tells. */
  FromAgent.Ended end(String how, String note, long at) {
    FromAgent.Ended ended =
        new FromAgent.Ended(run, attempt, how, -1, note, beganAt(), at, Map.of(), null);
    try {
      Files.createDirectories(folder);
      durably("ended.json", JSON.writeValueAsBytes(ended));
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    return ended;
  }

  /** Whether somebody has begun to start it. */
  boolean isClaimed() {
    return Files.exists(folder.resolve("claim"));
  }

  /**
   * Whether the process that waits for its end is alive; one that got its id later is another: it
   * began at another time, or after another start of the host.
   */
  boolean isSupervised() {
    try {
      String[] who = Files.readString(folder.resolve("supervisor")).strip().split(" ");
      String boot = Files.readString(Path.of("/proc/sys/kernel/random/boot_id")).strip();
      String stat = Files.readString(Path.of("/proc/" + who[0] + "/stat"));
      String[] fields = stat.substring(stat.lastIndexOf(')') + 2).split(" ");
      return who.length == 3
          && who[2].equals(boot)
          && fields[STARTED].equals(who[1])
          && !fields[0].equals("Z");
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
      AgentLog.warn("cannot cut off the output of " + folder + ": " + e.getMessage());
      return 0;
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
    Files.move(fresh, folder.resolve(name), StandardCopyOption.ATOMIC_MOVE);
  }
}
