package dev.purser.core.remote;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Connection;
import dev.purser.core.definition.ConnectionKind;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.SignInWay;
import dev.purser.core.job.Job;
import dev.purser.core.plan.Planner;
import dev.purser.core.problem.Problem;
import dev.purser.core.reading.SourceFile;
import java.math.BigInteger;
import java.time.Duration;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class RemoteServiceTest {
  private static final String CONNECTION =
      "{ connection: office, address: \"https://office.example\" }\n---\n";
  private static final String SERVICE =
      """
      remote-service: office
      connection: office
      operations:
        file:
          start:
            request: POST /filings
            json: { vessel: "${vessel}", crew: 12, safe: true, none: null, persons: { as-number: "${persons}" } }
            id: /id
          look:
            request: GET /filings/${remote.id}
            state: /state
            running: [queued, Working]
            succeeded: filed
            failed: refused
      """;
  private static final String STREAM =
      """
      ---
      stream: harbour/filings
      jobs:
        file:
          call: file of office
          parameters: { vessel: nordlys, persons: "3" }
      """;

  private static DefinitionCheck.Result check(String text) {
    return DefinitionCheck.check(
        Definitions.none(), List.of(new SourceFile("a.yaml", text)), LocalDate.of(2027, 3, 4));
  }

  private static List<String> errors(String text) {
    return check(text).problems().stream()
        .filter(Problem::isError)
        .map(problem -> problem.line() + ":" + problem.column() + " " + problem.message())
        .toList();
  }

  @Test
  void whatIsDescribedIsReadAsItIsMeant() {
    DefinitionCheck.Result result = check(CONNECTION + SERVICE + STREAM);
    assertThat(result.problems()).isEmpty();
    Operation file =
        result.definitions().remoteService("office").orElseThrow().operation("file").orElseThrow();
    assertThat(file.look().words())
        .containsEntry("working", Operation.Meaning.RUNNING)
        .containsEntry("refused", Operation.Meaning.FAILED);
    Object tree = ((Request.Json) file.start().request().body()).tree();
    assertThat(((Map<?, ?>) tree).get("crew")).isEqualTo(BigInteger.valueOf(12));
    assertThat(((Map<?, ?>) tree).get("safe")).isEqualTo(true);
    assertThat(((Map<?, ?>) tree).get("none")).isNull();
    Job job = result.definitions().stream("harbour/filings").orElseThrow().jobs().get(0);
    Call call = (Call) job.work();
    assertThat(file.asked(call)).containsExactly("vessel", "persons");
    assertThat(call.every()).isEqualTo(Duration.ofSeconds(10));
    assertThat(call.inWords()).isEqualTo("file of office");
  }

  /** What is changed in the description, and the end of what is said. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "id: /id                  | id: id                      | is not a place in JSON",
        "POST /filings            | FETCH /filings              | expected GET, POST, PUT, PATCH or DELETE",
        "POST /filings            | POST filings                | expected GET, POST, PUT, PATCH or DELETE",
        "succeeded: filed         | succeeded: queued           | means \"running\" already",
        "GET /filings/${remote.id}| GET /filings/${remote.ID}   | ${remote.ID} is not known here; did you mean",
        "connection: office       | connection: ofice           | unknown connection \"ofice\"; did you mean",
        "as-number: \"${persons}\"| as-number: \"${persons}\", x: 1 | stand alone",
        "failed: refused          | failed: refused, oops: x    | oops",
        "request: GET /filings    | text: x, request: GET /filings | a GET sends nothing",
        "id: /id                  | id: /id, headers: { Authorization: x } | signing in is the connection's",
        "vessel: \"${vessel}\"    | vessel: \"${value a of b}\" | cannot ask for the value of a job",
        "vessel: \"${vessel}\"    | vessel: \"${date + 1 fortnight}\" | fortnight"
      })
  void whatIsWrongInADescriptionIsSaid(String old, String now, String said) {
    boolean flow = now.contains(", ") && !now.contains("as-number");
    String text =
        flow ? SERVICE.replace(old, now.replace(", ", "\n      ")) : SERVICE.replace(old, now);
    assertThat(errors(CONNECTION + text)).isNotEmpty();
    assertThat(String.join("\n", errors(CONNECTION + text))).contains(said);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "call: file of office | call: file from office        | expected OPERATION of SERVICE",
        "call: file of office | call: fil of office           | calls \"fil\", which office does not have; did you mean",
        "call: file of office | call: file of ofice           | unknown remote service \"ofice\"; did you mean",
        "vessel: nordlys,     | x: y,                         | gives no \"vessel\", which file of office asks for",
        "call: file of office | call: follow file of office   | must know what runs there",
        "call: file of office | call: file of office~    id: x | \"id\" belongs to \"call: follow ...\"",
        "call: file of office | call: file of office~    unless-running: maybe | expected start, adopt, wait, skip",
        "call: file of office | call: file of office~    host: each of quays | this work goes through one agent",
        "call: file of office | call: file of office~    every: 2m~    growing-to: 1m | at least as long as \"every\"",
        "call: file of office | run: x                        | has no \"host\" to run on"
      })
  void whatIsWrongInACallIsSaid(String old, String now, String said) {
    String text = CONNECTION + SERVICE + STREAM.replace(old, now.replace("~", "\n"));
    assertThat(String.join("\n", errors(text))).contains(said);
  }

  @Test
  void aServiceThatIsCalledCannotBeTakenAway() {
    Definitions all = check(CONNECTION + SERVICE + STREAM).definitions();
    assertThat(
            DefinitionCheck.usersOf(all, dev.purser.core.definition.Kind.REMOTE_SERVICE, "office"))
        .containsExactly("harbour/filings/file");
    assertThat(DefinitionCheck.usersOf(all, dev.purser.core.definition.Kind.CONNECTION, "office"))
        .containsExactly("office");
  }

  // ---- connections

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "address: ftp://x                                   | is not an address",
        "address: 'https://ola:pw@x.example'                | without a user in it",
        "address: https://x, kind: htp                      | unknown kind of connection \"htp\"; did you mean",
        "address: https://x, sign-in: bearer                | sign-in bearer needs \"secret\"",
        "address: https://x, sign-in: oauth, secret: s      | unknown way to sign in \"oauth\"; did you mean",
        "address: https://x, sign-in: oauth2, secret: s, user: u | sign-in oauth2 needs \"token-address\"",
        "address: https://x, sign-in: header, secret: s     | sign-in header needs \"header\"",
        "address: https://x, header: X-Key                  | \"header\" belongs to sign-in header",
        "address: https://x, secret: s, secret-file: /f     | a secret stands in one place only",
        "address: https://x, proxy: p                       | expected HOST:PORT",
        "address: https://x, address-in: { test: sftp://y } | is not an address",
        "address: https://x, through: nowhere               | unknown host \"nowhere\"",
        "address: https://x, through: q, proxy: 'p:1'       | not both",
        "address: sftp://x, user: u                         | an sftp server is trusted by its key",
        "address: https://x, scope: a                       | \"scope\" belongs to sign-in oauth2"
      })
  void whatIsWrongInAConnectionIsSaid(String keys, String said) {
    assertThat(String.join("\n", errors("{ connection: c, " + keys + " }"))).contains(said);
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "/a/*.csv from shelf to /in on yard                     | looks for a pattern over http",
        "/a/b.csv from yard to /in on shelf                     | over http they can be had, not put",
        "/a/b.csv from shelf to /in on yard, afterwards: remove | a source can only be kept",
        "/a/b.csv from yard to /in on yard, sign-with: k, decrypt-with: k | sealed on their way, or opened, not both",
        "/a/b.csv from yard to /in on yard, encrypt-for: port.asc | expected the absolute path",
        "/a/b.csv from takings to /in on yard                   | which leads to a database"
      })
  void whatHttpAndDatabasesAreNotIsSaid(String transfer, String said) {
    String text =
        """
        { connection: shelf, kind: http, address: https://x }
        ---
        { connection: yard, address: https://y }
        ---
        { connection: takings, address: 'jdbc:mariadb://db/x' }
        ---
        { stream: s, jobs: { j: { transfer: %s } } }
        """;
    assertThat(String.join("\n", errors(text.formatted(transfer)))).contains(said);
  }

  @Test
  void aConnectionOfTodaysShapeMeansWhatItMeant() {
    Definitions all =
        check("{ connection: c, address: https://x, user: u, secret-file: /f }").definitions();
    Connection one = all.connection("c").orElseThrow();
    assertThat(one.kind()).isEqualTo(ConnectionKind.HTTP_UNSAID);
    assertThat(one.signIn().way()).isEqualTo(SignInWay.BASIC);
  }

  @Test
  void anAddressIsThatOfTheEnvironment() {
    Definitions all =
        check("{ connection: c, address: https://live, address-in: { test: https://test } }")
            .definitions();
    assertThat(all.connection("c").orElseThrow().address()).isEqualTo("https://live");
    assertThat(all.in("test").connection("c").orElseThrow().address()).isEqualTo("https://test");
  }

  @Test
  void ofAConnectionWithALimitEachRunHoldsOneUnit() {
    String limited = CONNECTION.replace("address:", "at-most: 2, address:");
    String text =
        limited
            + SERVICE
            + STREAM.replace(
                "jobs:", "schedule: { days: every day, at: \"21:30\", zone: UTC }\njobs:");
    Definitions all = check(text).definitions();
    assertThat(all.capacities())
        .extracting(one -> one.name() + " " + one.units())
        .containsExactly("connection office 2");
    LocalDate date = LocalDate.of(2027, 3, 4);
    assertThat(new Planner(all).plan(date))
        .extracting(run -> run.job().takes())
        .containsExactly(Map.of("connection office", 1));
  }
}
