package dev.purser.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.outside.ObjectStore;
import java.io.IOException;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.TreeSet;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** Files that others send, from the disk to the run that uses them, with real processes. */
class FilesTest {
  private static Harbour harbour;
  private static Path in;
  private static Path marks;

  @BeforeAll
  static void open() throws IOException {
    harbour = new Harbour();
    in = Files.createDirectories(harbour.home.resolve("in"));
    marks = Files.createDirectories(harbour.home.resolve("marks"));
    harbour.publish(
        "host: quay-north\n---\nrecipient: desk\nmail: [desk@brannoch.example]\nreceives: [file]\n");
    harbour.startAgent("quay-north");
  }

  @AfterAll
  static void close() throws IOException {
    harbour.close();
  }

  /** A watch of a directory of its own, and a stream that each of its files starts. */
  private static Path world(String name, String watch, String startsOn, String command)
      throws IOException {
    Path directory = Files.createDirectories(in.resolve(name));
    harbour.publish(
        """
        file-watch: %s
        title: Notes of %s
        host: quay-north
        path: %s/*.csv
        still-for: 1s
        %s
        ---
        stream: harbour/%s
        owner: desk
        paused: no
        starts-on: { file: %s%s }
        jobs:
          use: { host: with the file, run: '%s' }
        """
            .formatted(name, name, directory, watch, name, name, startsOn, command));
    return directory;
  }

  private static List<JsonNode> arrivals(String watch, String more) {
    List<JsonNode> all = new ArrayList<>();
    harbour
        .get("/api/v1/arrivals?limit=1000&watch=" + watch + more)
        .get("arrivals")
        .forEach(all::add);
    return all;
  }

  private static String state(String watch, String name) {
    return arrivals(watch, "").stream()
        .filter(one -> one.get("name").asString().equals(name))
        .map(one -> one.get("state").asString())
        .findFirst()
        .orElse("");
  }

  private static void awaitFile(String watch, String name, String state) {
    Harbour.await(name + " to be " + state, () -> state(watch, name).equals(state), 30);
  }

  private static long number(String watch, String name) {
    return arrivals(watch, "&text=" + name).get(0).get("id").asLong();
  }

  // ---- used once

  @Test
  void filesThatComeWhileAllIsKilledAreEachUsedOnce() throws Exception {
    Path mark = marks.resolve("killed");
    Path directory =
        world("killed", "", ", at-a-time: 3", "cat \"${file.path}\" >>" + mark + "; sleep 0.3");
    Map<String, Integer> wanted = new TreeMap<>();
    for (int i = 0; i < 24; i++) {
      String content = "note " + i;
      wanted.put(content, 1);
      Path part = directory.resolve(".part");
      Files.writeString(part, content + "\n");
      Files.move(part, directory.resolve("note-" + i + ".csv"));
      Thread.sleep(120);
      if (i == 9) {
        harbour.killService();
      } else if (i == 12) {
        harbour.killAgent("quay-north");
      } else if (i == 15) {
        harbour.startService();
        harbour.startAgent("quay-north");
      }
    }
    Harbour.await("all files to be used", () -> arrivals("killed", "&state=used").size() == 24, 60);
    Map<String, Integer> used = new TreeMap<>();
    Files.readAllLines(mark).forEach(line -> used.merge(line, 1, Integer::sum));
    assertThat(used).isEqualTo(wanted);
    assertThat(arrivals("killed", "")).hasSize(24);
    assertThat(harbour.get("/api/v1/runs?stream=harbour/killed&limit=100").get("runs")).hasSize(24);
  }

  @Test
  void namesThatMeanSomethingToAShellAreOnlyNames() throws Exception {
    Path mark = marks.resolve("odd");
    Path directory =
        world(
            "odd",
            "",
            ", at-a-time: 9",
            "head -c 99 \"${file.path}\" >>"
                + mark
                + "; printf \"%s|\" \"${file.name}\" >>"
                + mark
                + ".names");
    List<String> names =
        List.of(
            "a b.csv", "$(touch pwned).csv", "quote'and\"more.csv", "two\nlines.csv", "-rf.csv");
    for (String name : names) {
      Files.writeString(directory.resolve(name), "x");
    }
    Harbour.await("all odd files", () -> arrivals("odd", "&state=used").size() == 5, 30);
    assertThat(Files.readString(mark)).isEqualTo("xxxxx");
    assertThat(new TreeSet<>(List.of(Files.readString(Path.of(mark + ".names")).split("\\|"))))
        .isEqualTo(new TreeSet<>(names));
    assertThat(harbour.home.resolve("agent-quay-north/pwned")).doesNotExist();
    assertThat(harbour.purser("arrivals", "--watch", "odd").out()).contains("two\\x0Alines.csv");
  }

  // ---- what was not processed

  @Test
  void aFileThatWasNotProcessedIsTriedAgainPutAsideOrDone() throws Exception {
    Path ok = marks.resolve("ok");
    Path done = in.resolve("done");
    Path directory =
        world(
            "failing",
            "after-use: move to " + done,
            ", at-a-time: 9",
            "echo reading ${file.name}; test -e " + ok);
    for (String name : List.of("a.csv", "b.csv", "c.csv")) {
      Files.writeString(directory.resolve(name), name);
    }
    Harbour.await(
        "three unprocessed", () -> arrivals("failing", "&state=unprocessed").size() == 3, 30);
    Harbour.Ran list = harbour.purser("arrivals", "--unprocessed", "--watch", "failing");
    assertThat(list.code()).isZero();
    assertThat(list.out()).contains("a.csv", "harbour/failing/use@", "exit code 1");
    Files.createFile(ok);
    String a = String.valueOf(number("failing", "a.csv"));
    String b = String.valueOf(number("failing", "b.csv"));
    String c = String.valueOf(number("failing", "c.csv"));
    assertThat(harbour.purser("arrivals", "retry", a, "--reason", "mended").out())
        .contains("a.csv: is taken now");
    assertThat(harbour.purser("arrivals", "put-aside", b).out()).contains("b.csv: is ignored now");
    Harbour.Ran without = harbour.purser("arrivals", "done", c);
    assertThat(without.code()).isEqualTo(1);
    assertThat(without.out()).contains("a reason is needed");
    assertThat(harbour.purser("arrivals", "done", c, "--reason", "typed in").out())
        .contains("c.csv: is used now");
    awaitFile("failing", "a.csv", "used");
    Harbour.await("a and c to be moved", () -> Files.exists(done.resolve("c.csv")), 15);
    Harbour.await("a to be moved", () -> Files.exists(done.resolve("a.csv")), 15);
    assertThat(directory.resolve("b.csv")).exists();
    Harbour.Ran again = harbour.purser("arrivals", "retry", a);
    assertThat(again.code()).isEqualTo(1);
    assertThat(again.out()).contains("not done: it is used");
    assertThat(harbour.purser("audit").out()).contains("retry file", "put-aside file", "done file");
  }

  // ---- seen, but not whole

  @Test
  void theCommandLineSaysHowAWatchStandsAndWhatItWouldFind() throws Exception {
    Path directory = Files.createDirectories(in.resolve("feed"));
    harbour.publish(
        """
        file-watch: feed
        title: Berth list
        host: quay-north
        path: %s/berths-${date | yyyyMMdd}.csv
        companion: "${file.name}.done"
        still-for: 1s
        expected: { days: every day, by: "23:59", zone: UTC }
        ---
        stream: harbour/berths
        jobs:
          plan: { host: quay-north, run: 'cat "${file.path}"', waits-for: file feed arrived }
        """
            .formatted(directory));
    Harbour.Ran nothing = harbour.purser("watches", "try", "feed");
    assertThat(nothing.out()).contains("no file would be found");
    long run = harbour.startStream("harbour/berths").get("plan");
    harbour.awaitState(run, "waiting", 15);
    String date = harbour.run(run).get("date").asString();
    Path file = directory.resolve("berths-" + date.replace("-", "") + ".csv");
    Files.createFile(file);
    Harbour.await("the empty file", () -> why(run).contains("empty"), 15);
    Files.writeString(file, "berth 1\n");
    Harbour.await("the missing companion", () -> why(run).contains("waits for"), 15);
    assertThat(harbour.purser("watches", "try", "feed").out())
        .contains("1 file would be found", "waits for " + file.getFileName() + ".done");
    assertThat(harbour.purser("watches", "feed").out()).contains("expected", "harbour/berths/plan");
    Files.createFile(Path.of(file + ".done"));
    harbour.awaitState(run, "succeeded", 20);
    assertThat(harbour.output(run)).isEqualTo("berth 1\n");
    awaitFile("feed", file.getFileName().toString(), "used");
    assertThat(harbour.purser("watches").out()).contains("in time");
    Harbour.Ran unknown = harbour.purser("watches", "try", "fed");
    assertThat(unknown.code()).isEqualTo(1);
    assertThat(unknown.out()).contains("did you mean \"feed\"");
  }

  private static String why(long run) {
    return harbour.get("/api/v1/runs/" + run + "/why").toString();
  }

  @Test
  void aFileThatIsReplacedBeforeItIsUsedIsUsedAsItIsThen() throws Exception {
    Path mark = marks.resolve("replaced");
    Path directory = world("replaced", "", "", "cat \"${file.path}\" >>" + mark);
    harbour.post(
        "/api/v1/streams/pause",
        Map.of("stream", "harbour/replaced", "until", "", "reason", "test"));
    Files.writeString(directory.resolve("a.csv"), "old\n");
    Files.writeString(directory.resolve("b.csv"), "b\n");
    awaitFile("replaced", "a.csv", "ready");
    awaitFile("replaced", "b.csv", "ready");
    Files.writeString(directory.resolve(".new"), "new\n");
    Files.move(
        directory.resolve(".new"), directory.resolve("a.csv"), StandardCopyOption.ATOMIC_MOVE);
    Files.delete(directory.resolve("b.csv"));
    Harbour.await("both to be told", () -> arrivals("replaced", "&state=ignored").size() == 2, 20);
    harbour.post("/api/v1/streams/resume", Map.of("stream", "harbour/replaced", "reason", "test"));
    awaitFile("replaced", "a.csv", "used");
    assertThat(Files.readString(mark)).isEqualTo("new\n");
    assertThat(arrivals("replaced", "&state=ignored"))
        .extracting(one -> one.get("note").asString())
        .containsExactlyInAnyOrder("was replaced before use", "was removed before use");
  }

  // ---- elsewhere

  @Test
  void anObjectStoreIsWatchedAndItsObjectsAreUsedOnceAndRemoved() throws Exception {
    try (ObjectStore store = new ObjectStore(0)) {
      harbour.publish(
          """
          connection: store
          address: http://127.0.0.1:%d
          ---
          file-watch: orders
          connection: store
          path: /orders/new/order-*.json
          look: every 1s
          still-for: 1s
          after-use: remove
          ---
          stream: catering/orders
          paused: no
          starts-on: { file: orders }
          jobs:
            take: { host: quay-north, run: 'echo ${file.host} ${file.path}' }
          """
              .formatted(store.port()));
      for (int i = 1; i <= 3; i++) {
        store.put("orders", "new/order-" + i + ".json", "{}".getBytes(StandardCharsets.UTF_8));
      }
      store.put("orders", "other/order-9.json", "{}".getBytes(StandardCharsets.UTF_8));
      Harbour.await("three orders", () -> arrivals("orders", "&state=used").size() == 3, 40);
      Harbour.await(
          "the objects' removal",
          () ->
              arrivals("orders", "").stream()
                  .allMatch(one -> one.get("afterUse").asString().equals("removed")),
          20);
      assertThat(harbour.purser("watches", "try", "orders").out()).contains("no file would be");
    }
    Harbour.await(
        "the trouble to be told",
        () -> harbour.get("/api/v1/watches").toString().contains("the object store says"),
        40);
  }

  // ---- wrong input

  @Test
  void whatIsAskedWronglyIsAnsweredWithWhatWouldBeRight() throws Exception {
    world("plain", "", "", "true");
    record Wrong(int code, String says, String... command) {}
    List<Wrong> all =
        List.of(
            new Wrong(2, "did you mean \"plain\"", "arrivals", "--watch", "plian"),
            new Wrong(2, "did you mean \"unprocessed\"", "arrivals", "--state", "unprocesed"),
            new Wrong(1, "there is no arrival 99999999", "arrivals", "retry", "99999999"),
            new Wrong(1, "there is no file watch \"nothing\"", "watches", "nothing"));
    for (Wrong one : all) {
      Harbour.Ran ran = harbour.purser(one.command());
      assertThat(ran.code()).as(one.says()).isEqualTo(one.code());
      assertThat(ran.out()).contains(one.says());
    }
    assertThat(harbour.purser("arrivals", "retry", "x").code()).isEqualTo(2);
    HttpResponse<String> viewer =
        harbour.send(
            "POST",
            "/api/v1/arrivals/actions",
            Map.of("arrivals", List.of(1), "action", "retry", "reason", "x"),
            Map.of("Authorization", "Bearer " + harbour.signIn("viewer", Harbour.PASSWORD, "")));
    assertThat(viewer.statusCode()).isEqualTo(403);
  }

  @Test
  void aDirectoryThatIsNotThereOrMayNotBeReadIsToldAndComesBackByItself() throws Exception {
    Path directory = world("late", "", "", "true");
    Files.delete(directory);
    Harbour.await(
        "the directory to be missed", () -> troubles("late").contains("does not exist"), 20);
    Files.createDirectory(
        directory,
        PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rwx------")));
    Files.writeString(directory.resolve("a.csv"), "x");
    awaitFile("late", "a.csv", "used");
    assertThat(troubles("late")).isEqualTo("[]");
  }

  private static String troubles(String watch) {
    for (JsonNode one : harbour.get("/api/v1/watches")) {
      if (one.get("name").asString().equals(watch)) {
        return one.get("troubles").toString();
      }
    }
    return "";
  }
}
