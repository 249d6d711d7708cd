package dev.purser.bench.chaos;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;

/**
 * Sends files while all is killed: some whole at once, some that grow, some in sets of two. Each
 * holds one line of its own, so that whoever uses it leaves a mark of its content.
 */
final class Sender {
  private final Path folder;
  private final Path marks;
  private final Random dice;
  private final List<String> sent = new ArrayList<>();
  private volatile boolean sending = true;

  /**
   * @param folder where files go
   * @param marks the file of marks; the marks of files are beside it
   */
  Sender(Path folder, Path marks, Random dice) throws IOException {
    this.folder = Files.createDirectories(folder);
    this.marks = marks.resolveSibling(marks.getFileName() + ".files");
    this.dice = dice;
    Files.createFile(this.marks);
  }

  Thread start() {
    Thread thread = new Thread(this::run, "sender");
    thread.setDaemon(true);
    thread.start();
    return thread;
  }

  void stop() {
    sending = false;
  }

  /** How many files were sent. */
  int count() {
    return sent.size();
  }

  private void run() {
    try {
      for (int n = 1; sending; n++) {
        if (dice.nextInt(3) == 0) {
          send(n + "a.slip", false);
          send(n + "b.slip", false);
        } else {
          send(n + ".note", dice.nextBoolean());
        }
        Harbour.pause(300 + dice.nextInt(900));
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  /** Sends a slip for one that is alone: a set takes two or more. */
  void sendMate() throws IOException {
    send("mate.slip", false);
  }

  /** Sends one file, at once or in two parts. */
  void send(String name, boolean grows) throws IOException {
    String content = "content of " + name;
    Path file = folder.resolve(name);
    if (grows) {
      Files.writeString(file, content.substring(0, 5));
      Harbour.pause(400);
      Files.writeString(file, content.substring(5) + "\n", StandardOpenOption.APPEND);
    } else {
      Path part = folder.resolve("." + name);
      Files.writeString(part, content + "\n");
      Files.move(part, file);
    }
    sent.add(content);
  }

  /** What is wrong: files that were used never, twice, or in part. */
  List<String> compare(Comparison.Records records) throws IOException, InterruptedException {
    List<String> wrong = new ArrayList<>();
    Map<String, Integer> used = new HashMap<>();
    for (String line : Files.readAllLines(marks)) {
      used.merge(line, 1, Integer::sum);
    }
    for (String content : sent) {
      int times = used.getOrDefault(content, 0);
      used.remove(content);
      if (times != 1) {
        wrong.add(content + " was used " + times + " times");
      }
    }
    used.keySet().forEach(line -> wrong.add("\"" + line + "\" was used and was never sent"));
    records
        .query("select path, state, count(*) from arrival group by path, state")
        .forEach(
            line -> {
              if (!line.endsWith("\tused\t1")) {
                wrong.add("on record is " + line.replace('\t', ' '));
              }
            });
    int rows = Integer.parseInt(records.query("select count(*) from arrival").get(0));
    if (rows != sent.size()) {
      wrong.add(rows + " arrivals are on record of " + sent.size() + " files");
    }
    return wrong;
  }
}
