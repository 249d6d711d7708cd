package dev.purser.e2e;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.client.Purser;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.MethodOrderer;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestMethodOrder;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;

/** Every command that needs a service, on the demo world, as a person and as a program reads it. */
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class CommandsTest {
  private static final String WORLD = "../demo/world";

  /** What slips through where a program prints its insides. */
  private static final Pattern INSIDES =
      Pattern.compile("\\bnull\\b|Optional\\[|java\\.|dev\\.purser\\.|@[0-9a-f]{6,8}\\b|\\bNaN\\b");

  private static final Pattern INSTANT =
      Pattern.compile(
          "\\d{4}-\\d\\d-\\d\\dT\\d\\d:\\d\\d(:\\d\\d(\\.\\d+)?)?(Z|[+-]\\d\\d:\\d\\d)");

  private static Harbour harbour;
  private static Path folder;

  private record Ran(int code, String out, String err) {
    String all() {
      return out + err;
    }
  }

  @BeforeAll
  static void open() throws IOException {
    harbour = new Harbour();
    folder = Files.createDirectories(harbour.home.resolve("commands"));
    Path password = Files.writeString(folder.resolve("password"), Harbour.PASSWORD);
    Ran login =
        purser(
            "login",
            "--service",
            harbour.address(""),
            "--name",
            "admin",
            "--password-file",
            password.toString());
    assertThat(login.code()).as(login.all()).isZero();
    Ran published = purser("publish", WORLD, "--reason", "the demo world");
    assertThat(published.code()).as(published.all()).isZero();
    harbour.startAgent("ledger");
    // Late in the evening nothing of the day is planned any more: something is to be listed.
    Ran started = purser("start", "fleet/rosters", "--reason", "so that today has runs");
    assertThat(started.code()).as(started.all()).isZero();
  }

  @AfterAll
  static void close() throws IOException {
    harbour.close();
  }

  private static Ran purser(String... arguments) {
    StringWriter out = new StringWriter();
    StringWriter err = new StringWriter();
    int code = Purser.run(new PrintWriter(out), new PrintWriter(err), arguments);
    return new Ran(code, out.toString(), err.toString());
  }

  private static Ran line(String command, String... more) {
    List<String> words = new ArrayList<>(List.of(command.strip().split("\\s+")));
    words.addAll(List.of(more));
    return purser(words.toArray(new String[0]));
  }

  // ---- reading

  static Stream<String> lists() {
    return Stream.of(
        "needs",
        "plan",
        "plan --date 2027-03-04",
        "runs",
        "runs --state planned,waiting --limit 20",
        "streams",
        "streams passenger",
        "next passenger/night-manifest --count 3",
        "windows tide/levels",
        "hosts",
        "alerts",
        "audit",
        "people",
        "tokens",
        "tokens --all",
        "calendars",
        "calendars brannoch-office --year 2027",
        "capacity",
        "holds",
        "watches",
        "watches --date 2027-03-04",
        "arrivals",
        "arrivals --unprocessed",
        "outlook --days 2",
        "outlook --days 2 --stream passenger/night-manifest",
        "why --stream passenger/night-manifest",
        "audit --by admin --what publish --from 2026-01-01",
        "runs --oldest-first --limit 5",
        "month --days 7",
        "hosts drain ledger --what-if",
        "find manif",
        "graph passenger/night-manifest");
  }

  @ParameterizedTest
  @MethodSource("lists")
  @Order(1)
  void aListIsReadableInEveryForm(String command) {
    Ran text = line(command);
    assertThat(text.code()).as(text.all()).isZero();
    assertThat(text.all()).isNotBlank();
    assertThat(INSIDES.matcher(text.all()).results().map(found -> found.group())).isEmpty();
    Ran json = line(command, "--output", "json");
    assertThat(json.code()).as(json.all()).isZero();
    JsonNode all = Harbour.JSON.readTree(json.out());
    assertThat(all.isArray() || all.isObject()).isTrue();
    assertThat(json.err()).isEmpty();
    all.forEach(one -> assertThat(all.isArray() && !one.isObject()).isFalse());
    Ran csv = line(command, "--output", "csv");
    assertThat(csv.code()).as(csv.all()).isZero();
    List<List<String>> rows = rows(csv.out());
    assertThat(rows).allSatisfy(row -> assertThat(row).hasSameSizeAs(rows.get(0)));
    assertThat(csv.out()).doesNotContain("~");
    sameNames(command.startsWith("graph") ? all.get("nodes") : all, rows.get(0));
    times(all);
  }

  /** What JSON calls by a name, CSV calls by the same. */
  private static void sameNames(JsonNode json, List<String> header) {
    for (JsonNode one : json.isArray() && !json.isEmpty() ? json : List.of(json)) {
      if (one.isObject() && !header.get(0).contains("change.")) {
        one.propertyNames()
            .forEach(
                name -> assertThat(header).anyMatch(cell -> (cell + ".").startsWith(name + ".")));
      }
    }
  }

  /** The fields of each row, by RFC 4180. */
  private static List<List<String>> rows(String csv) {
    List<List<String>> rows = new ArrayList<>();
    List<String> row = new ArrayList<>();
    StringBuilder field = new StringBuilder();
    boolean quoted = false;
    for (int i = 0; i < csv.length(); i++) {
      char c = csv.charAt(i);
      if (c == '"') {
        quoted = !quoted;
      } else if (!quoted && (c == ',' || c == '\n')) {
        row.add(field.toString());
        field.setLength(0);
        if (c == '\n') {
          rows.add(row);
          row = new ArrayList<>();
        }
      } else {
        field.append(c);
      }
    }
    assertThat(quoted).isFalse();
    return rows;
  }

  /** Whatever begins like an instant is one with an offset. */
  private static void times(JsonNode node) {
    if (node.isString() && node.asString().matches("\\d{4}-\\d\\d-\\d\\dT.*")) {
      assertThat(node.asString()).matches(INSTANT);
    }
    node.forEach(CommandsTest::times);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "plan",
        "runs",
        "show",
        "log",
        "why",
        "start",
        "values",
        "graph",
        "find",
        "streams",
        "next",
        "month",
        "pause",
        "resume",
        "windows",
        "login",
        "publish",
        "withdraw",
        "hosts",
        "alerts",
        "audit",
        "people",
        "tokens",
        "logout",
        "preview",
        "import",
        "calendars",
        "days",
        "doctor",
        "forget",
        "watches",
        "arrivals",
        "hold",
        "release",
        "holds",
        "start-now",
        "skip",
        "cancel",
        "rerun",
        "mark",
        "priority",
        "start-at",
        "approve",
        "refuse",
        "capacity",
        "check",
        "schema",
        "outlook",
        "rehearse"
      })
  @Order(1)
  void everyCommandHelpsWithAnExample(String command) {
    Ran help = purser(command, "--help");
    assertThat(help.code()).isZero();
    assertThat(help.out()).contains("Usage: purser " + command).contains("purser " + command + " ");
    assertThat(purser("--help").out()).contains(command);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          next passenger/nigt-manifest          | 1 | did you mean "passenger/night-manifest"
          next passenger/night-manifest --count 0 | 2 | count
          month --days 0                        | 2 | days
          runs --state runing                   | 2 | did you mean "running"
          runs --date 04.03.2027                | 2 | expected one such as 2027-03-04
          show nonsense                         | 2 | "nonsense" is not a run; expected one such as
          show passenger/nothing@2027-03-04     | 1 | passenger/nothing@2027-03-04
          why passenger/nothing@2027-03-04      | 1 | passenger/nothing@2027-03-04
          start passenger/nigt-manifest         | 2 | did you mean "passenger/night-manifest"
          start fleet/deck-plans --job nothing  | 2 | nothing
          pause nothing/here                    | 1 | there is no stream "nothing/here"
          pause tide/levels --until 2020-01-01  | 2 | 2020-01-01
          withdraw steam x                      | 2 | did you mean "stream"
          withdraw stream no/such               | 2 | no/such
          hosts drain nowhere --reason x        | 1 | nowhere
          calendars nothing --year 2027         | 1 | there is no calendar "nothing"
          calendars brannoch-office --year 99999 | 2 | 99999
          capacity nothing                      | 1 | nothing
          capacity ledger-slots --units -1      | 2 | units
          alerts acknowledge 999999             | 1 | 999999
          people add x --role king --password-file /dev/null | 2 | king
          people add newcomer --role viewer     | 2 | newcomer is new here and needs a first password
          people lock nobody-here               | 1 | there is nobody named "nobody-here"
          people remove nobody-here             | 1 | there is nobody named "nobody-here"
          tokens end 999999                     | 1 | you have no token 999999
          tokens new x --days 0                 | 2 | days must be at least 1
          start fleet/deck-plans --ignoring weather | 2 | a start cannot ignore "weather"
          graph no/such                         | 1 | no/such
          hold passenger/nothing@2027-03-04     | 1 | passenger/nothing@2027-03-04
          mark passenger/nothing@2027-03-04 --as done | 2 | done
          priority passenger/nothing@2027-03-04 --to high | 2 | high
          forget --stream passenger/* --to never | 2 | expected one such as 2027-03-04
          arrivals done x                       | 2 | x
          nonsense                              | 2 | nonsense
          """)
  @Order(1)
  void whatIsWrongIsSaidAndChangesNothing(String command, int code, String says) {
    long before = audited();
    Ran ran = line(command);
    assertThat(ran.code()).as(ran.all()).isEqualTo(code);
    assertThat(ran.all()).contains(says);
    assertThat(INSIDES.matcher(ran.all()).results().map(found -> found.group())).isEmpty();
    assertThat(audited()).isEqualTo(before);
  }

  private static long audited() {
    return Harbour.JSON.readTree(line("audit --output json").out()).size();
  }

  // ---- acting

  private static String state(String run) {
    return Harbour.JSON
        .readTree(line("show " + run + " --output json").out())
        .findValue("state")
        .asString();
  }

  private static void publish(String name, String text) throws IOException {
    Path file = Files.writeString(folder.resolve(name + ".yaml"), text);
    Ran ran = purser("publish", file.toString());
    assertThat(ran.code()).as(ran.all()).isZero();
  }

  private static String started(String stream, String job) {
    Ran ran = purser("start", stream, "--output", "json");
    assertThat(ran.code()).as(ran.all()).isZero();
    JsonNode all = Harbour.JSON.readTree(ran.out());
    for (JsonNode one : all.findParents("reference")) {
      if (one.get("reference").asString().contains("/" + job + "@")) {
        return one.get("reference").asString();
      }
    }
    throw new AssertionError(ran.out());
  }

  @Test
  @Order(2)
  void aRunIsHeldReleasedSkippedRerunAndMarked() throws IOException {
    publish(
        "hand",
        """
        stream: hand/work
        jobs:
          first: { host: ledger, run: "echo one; echo rows=7 >>$PURSER_VALUES; exit 4" }
          second: { host: ledger, run: "true", waits-for: first succeeded }
        """);
    String first = started("hand/work", "first");
    String second = first.replace("/first@", "/second@");
    Harbour.await("the failure", () -> state(first).equals("failed"), 30);
    assertThat(purser("log", first).out()).isEqualTo("one\n");
    assertThat(purser("values", first).out()).contains("rows", "7");
    assertThat(purser("why", second).out()).contains("hand/work/first", "failed");
    assertThat(purser("show", first).out()).contains("exit code 4");
    Ran whatIf = purser("mark", first, "--as", "succeeded", "--what-if");
    assertThat(whatIf.out()).contains(second);
    assertThat(state(first)).isEqualTo("failed");
    assertThat(purser("hold", second, "--reason", "wait").code()).isZero();
    assertThat(purser("show", second).out()).contains("held");
    assertThat(purser("priority", second, "--to", "80").code()).isZero();
    assertThat(purser("rerun", first, "--reason", "again").code()).isZero();
    Harbour.await(
        "the second failure", () -> attempts(first) == 2 && state(first).equals("failed"), 30);
    assertThat(purser("mark", first, "--as", "succeeded", "--reason", "done by hand").code())
        .isZero();
    assertThat(state(second)).isEqualTo("waiting");
    assertThat(purser("release", second).code()).isZero();
    Harbour.await("the second job", () -> state(second).equals("succeeded"), 30);
    Ran again = purser("skip", second);
    assertThat(again.code()).isEqualTo(1);
    assertThat(again.all()).contains("succeeded");
    assertThat(line("audit").out()).contains("done by hand", "hold", "release", "priority");
  }

  private static int attempts(String run) {
    return Harbour.JSON
        .readTree(line("show " + run + " --output json").out())
        .findValue("attempts")
        .size();
  }

  @Test
  @Order(2)
  void aQuestionIsAnsweredAndARefusalHoldsWhatFollows() throws IOException {
    publish(
        "ask",
        """
        stream: hand/ask
        jobs:
          may: { approve: "May the cars leave the quay?" }
          go: { host: ledger, run: "true", waits-for: may succeeded }
        """);
    String yes = started("hand/ask", "may");
    assertThat(purser("why", yes).out()).contains("May the cars leave the quay?");
    assertThat(purser("approve", yes, "--reason", "customs is done").code()).isZero();
    Harbour.await(
        "what follows", () -> state(yes.replace("/may@", "/go@")).equals("succeeded"), 30);
    String no = started("hand/ask", "may");
    assertThat(purser("refuse", no, "--reason", "not yet").code()).isZero();
    assertThat(state(no)).isEqualTo("failed");
    assertThat(state(no.replace("/may@", "/go@"))).isEqualTo("waiting");
    Ran late = purser("approve", no);
    assertThat(late.code()).isEqualTo(1);
  }

  @Test
  @Order(3)
  void aSiteIsLookedAfter() {
    assertThat(purser("hosts", "drain", "ledger", "--reason", "new disk").code()).isZero();
    assertThat(purser("hosts").out()).contains("new disk");
    assertThat(purser("hosts", "return", "ledger").code()).isZero();
    assertThat(purser("hosts").out()).doesNotContain("new disk");
    assertThat(purser("capacity", "ledger-slots", "--units", "5").code()).isZero();
    assertThat(purser("capacity", "ledger-slots").out()).contains("5");
    assertThat(purser("capacity", "ledger-slots", "--as-defined").code()).isZero();
    assertThat(purser("pause", "tide/levels", "--reason", "gauge out of order").out())
        .contains("paused by admin: gauge out of order");
    assertThat(purser("resume", "tide/levels").out()).contains("goes on");
    assertThat(purser("hold", "--whole-stream", "fleet/deck-plans", "--reason", "new ship").code())
        .isZero();
    assertThat(purser("holds").out()).contains("fleet/deck-plans", "new ship");
    assertThat(purser("release", "--whole-stream", "fleet/deck-plans").code()).isZero();
    assertThat(purser("forget", "--stream", "hand/*", "--to", "2020-01-01").out())
        .contains("nothing that is over and past");
    Ran doctor = purser("doctor");
    assertThat(doctor.code()).isIn(0, 1);
    assertThat(doctor.out()).contains("database", "agents", "what to do");
  }

  private static Ran login(String name, Path password, String... more) {
    List<String> all =
        new ArrayList<>(List.of("login", "--service", harbour.address(""), "--name", name));
    all.addAll(List.of("--password-file", password.toString()));
    all.addAll(List.of(more));
    return purser(all.toArray(String[]::new));
  }

  @Test
  @Order(4)
  void whoHasNotLoggedInOrMayNotIsToldSo() throws IOException {
    Path password = folder.resolve("password");
    assertThat(
            purser(
                    "people",
                    "add",
                    "vera",
                    "--role",
                    "viewer",
                    "--password-file",
                    password.toString())
                .code())
        .isZero();
    Path wrong = Files.writeString(folder.resolve("wrong"), "not-the-password");
    Ran refused =
        purser(
            "login",
            "--service",
            harbour.address(""),
            "--name",
            "vera",
            "--password-file",
            wrong.toString());
    assertThat(refused.code()).isEqualTo(1);
    assertThat(refused.all()).contains("name or password is wrong");
    Ran first = login("vera", password);
    assertThat(first.code()).isEqualTo(1);
    assertThat(first.all()).contains("this is a one-time password");
    Path own = Files.writeString(folder.resolve("own"), "a-password-of-her-own");
    assertThat(login("vera", password, "--new-password-file", own.toString()).code()).isZero();
    assertThat(line("tokens").all()).contains("purser client of");
    assertThat(line("people").all()).contains("this needs the role administrator");
    assertThat(line("logout").code()).isZero();
    assertThat(line("tokens").all()).contains("you are not logged in");
    assertThat(login("vera", own).code()).isZero();
    Ran publish = purser("publish", WORLD);
    assertThat(publish.code()).isEqualTo(1);
    assertThat(publish.all()).contains("this needs the role author; vera has the role viewer");
    assertThat(purser("runs").code()).isZero();
    Ran gone =
        purser(
            "login",
            "--service",
            "http://127.0.0.1:1",
            "--name",
            "vera",
            "--password-file",
            password.toString());
    assertThat(gone.code()).isEqualTo(3);
    assertThat(gone.all()).contains("cannot be reached");
  }
}
