package dev.purser.client;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The table of exit codes in the docs is the one that commands go by. */
class ExitCodesTest {
  private static final Path DOCS = Path.of("..", "docs", "command-line.md");
  private static final Pattern ROW = Pattern.compile("\\| (\\d) \\| ([^|]+) \\|");

  /** Command lines by the code with which each ends; no service is at the address of the login. */
  private static final Map<Integer, List<String>> LINES =
      Map.of(
          0,
              List.of(
                  "--help",
                  "--version",
                  "days weekdays --from 2027-01-01 --to 2027-01-31",
                  "days weekdays --explain 2027-01-04",
                  "schema",
                  "check GOOD",
                  "outlook --files GOOD --from 2027-03-04 --days 1",
                  "outlook --files GOOD --history HISTORY --date 2026-03-04",
                  "commitments --help"),
          1,
              List.of(
                  "check BAD",
                  "days weekdays --explain 2027-01-03",
                  "outlook --files BAD --from 2027-03-04 --days 1",
                  "outlook --files GOOD --history BAD --date 2026-03-04"),
          2,
              List.of(
                  "nonsense",
                  "days weakdays --from 2027-01-01 --to 2027-01-31",
                  "check NOWHERE",
                  "days weekdays --from tomorrow",
                  "plan --nonsense",
                  "outlook --days 0",
                  "outlook --date 2027-03-04",
                  "outlook --files GOOD --history HISTORY",
                  "outlook --files GOOD --history HISTORY --date 2026-03-04 --at noon",
                  "outlook --files GOOD --history HISTORY --date 2026-03-04 --samples 0",
                  "outlook --files GOOD --history NOWHERE --date 2026-03-04",
                  "why",
                  "why a --commitment b",
                  "hold",
                  "history import NOWHERE"),
          3,
              List.of(
                  "plan",
                  "runs",
                  "commitments",
                  "commitments a",
                  "why --commitment a",
                  "needs",
                  "outlook --kept",
                  "history",
                  "history export",
                  "history import HISTORY"));

  private final String home = System.getProperty("user.home");
  @TempDir private Path folder;

  @BeforeEach
  void prepare() throws IOException {
    System.setProperty("user.home", folder.toString());
    int port;
    try (ServerSocket socket = new ServerSocket(0, 1, InetAddress.getLoopbackAddress())) {
      port = socket.getLocalPort();
    }
    new Login("http://127.0.0.1:" + port, "secret").keep();
    Files.writeString(
        folder.resolve("GOOD"),
        "host: h\n---\nstream: s\nschedule: { days: every day, at: \"06:00\", zone: UTC }\n"
            + "jobs:\n  j: { host: h, run: x }\n");
    Files.writeString(folder.resolve("BAD"), "host: H!\n");
    Files.writeString(
        folder.resolve("HISTORY"),
        "job,date,start,end,outcome\n"
            + "s/j,2026-03-03,2026-03-03T06:00:00Z,2026-03-03T06:10:00Z,succeeded\n");
  }

  @AfterEach
  void goHome() {
    System.setProperty("user.home", home);
  }

  @Test
  void everyCodeOfTheTableIsMetAndNoOther() throws IOException {
    Map<Integer, String> table = new TreeMap<>();
    Matcher row = ROW.matcher(Files.readString(DOCS));
    while (row.find()) {
      table.put(Integer.valueOf(row.group(1)), row.group(2));
    }
    assertThat(table.keySet()).isEqualTo(new TreeMap<>(LINES).keySet());
    LINES.forEach((code, lines) -> lines.forEach(line -> assertCode(code, line)));
  }

  private void assertCode(int code, String line) {
    String[] words = line.split(" ");
    for (int i = 0; i < words.length; i++) {
      if (words[i].matches("[A-Z]{3,}")) {
        words[i] = folder.resolve(words[i]).toString();
      }
    }
    StringWriter out = new StringWriter();
    StringWriter err = new StringWriter();
    int got = Purser.run(new PrintWriter(out), new PrintWriter(err), words);
    assertThat(got).as(line + "\n" + out + err).isEqualTo(code);
    boolean silent = code != 0 && err.toString().isBlank() && out.toString().isBlank();
    assertThat(silent).as(line + " says why").isFalse();
    assertThat(err.toString()).as(line).doesNotContain("Exception");
  }
}
