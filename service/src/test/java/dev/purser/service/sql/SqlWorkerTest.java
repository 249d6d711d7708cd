package dev.purser.service.sql;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.Action;
import dev.purser.core.run.RunState;
import dev.purser.core.sql.Dialect;
import dev.purser.core.sql.Sql;
import dev.purser.core.sql.SqlText;
import dev.purser.remote.sql.RowSink;
import dev.purser.remote.sql.Statements;
import dev.purser.service.OnRuns;
import dev.purser.service.TestDatabase;
import dev.purser.service.TestPostgres;
import dev.purser.service.action.Actions;
import dev.purser.service.action.Start;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.publish.Publisher;
import dev.purser.service.result.Results;
import dev.purser.service.secret.SecretPermits;
import dev.purser.service.secret.SecretSource;
import dev.purser.service.work.Attempt;
import dev.purser.service.work.BegunAttempts;
import java.io.IOException;
import java.math.BigInteger;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.time.Duration;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;
import org.springframework.beans.factory.annotation.Autowired;

/** Statements in a real MariaDB and a real PostgreSQL. */
class SqlWorkerTest extends OnRuns {
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");
  private static final AtomicInteger NUMBERS = new AtomicInteger();

  @Autowired private SqlWorker worker;
  @Autowired private Results results;
  @Autowired private BegunAttempts records;
  @Autowired private Engine engine;
  @Autowired private Publisher publisher;
  @Autowired private Actions actions;
  @Autowired private SecretPermits permits;

  /** Both kinds. */
  enum Which {
    MARIADB("select sleep(20)"),
    POSTGRES("select pg_sleep(20)");

    final String sleeps;

    Which(String sleeps) {
      this.sleeps = sleeps;
    }

    String url() {
      return this == MARIADB ? TestDatabase.url() : TestPostgres.url();
    }

    Connection open() throws SQLException {
      return DriverManager.getConnection(url(), "purser", "purser");
    }

    String one(String query) throws SQLException {
      try (Connection connection = open();
          Statement statement = connection.createStatement();
          ResultSet rows = statement.executeQuery(query)) {
        rows.next();
        return rows.getString(1);
      }
    }

    void doing(String... statements) throws SQLException {
      try (Connection connection = open();
          Statement statement = connection.createStatement()) {
        for (String text : statements) {
          statement.execute(text);
        }
      }
    }
  }

  /** A stream with one job, which is published under a name of its own. */
  private String published(Which which, String keys, String sql) {
    String secret = which == Which.MARIADB ? "the-maria" : "the-postgres";
    String stream = "sql/test-" + NUMBERS.incrementAndGet();
    String text =
        "connection: "
            + secret
            + "\naddress: \""
            + which.url()
            + "\"\nuser: purser\nsecret-file: "
            + file()
            + "\nbears-outage: 3s\n---\nstream: "
            + stream
            + "\nparameters: { port: \"brannoch's \\\\ \\\" ; -- x\", many: \"3\" }\njobs:\n  do:\n    database: "
            + secret
            + "\n"
            + (keys.isEmpty() ? "" : "    " + keys + "\n")
            + "    sql: |\n"
            + sql.indent(6);
    permits.allow(SecretSource.of("file", file(), which.url()), IDA, "");
    Publisher.Outcome outcome =
        publisher.publish(List.of(new SourceFile("a.yaml", text)), Optional.empty(), IDA, "test");
    assertThat(outcome.problems().stream().filter(problem -> problem.isError()).toList()).isEmpty();
    return stream;
  }

  private static String file() {
    java.nio.file.Path file = java.nio.file.Path.of(System.getProperty("java.io.tmpdir"));
    java.nio.file.Path secret = file.resolve("purser-test-database-secret");
    try {
      java.nio.file.Files.writeString(secret, "purser");
    } catch (IOException e) {
      throw new java.io.UncheckedIOException(e);
    }
    return secret.toString();
  }

  private long started(String stream) {
    return actions
        .start(
            new Start(
                stream, Optional.empty(), false, LocalDate.of(2027, 5, 4), Map.of(), Set.of()),
            Optional.empty(),
            IDA,
            "")
        .get(0);
  }

  private Attempt attempt(long run) {
    return engine.look(
        board -> new Attempt(board.run(run).orElseThrow(), board.status(run).orElseThrow()));
  }

  private long ended(String stream, RunState how) {
    long run = started(stream);
    ends(run, how);
    return run;
  }

  private List<List<Object>> rows(long run, int number) throws IOException {
    List<List<Object>> rows = new ArrayList<>();
    results.read(run, results.of(run, 0, number).orElseThrow(), 1_000, rows::add);
    return rows;
  }

  private static String table() {
    return "t" + NUMBERS.incrementAndGet();
  }

  // ---- what they do

  @ParameterizedTest
  @EnumSource(Which.class)
  void valuesAreBoundRowsAreKeptAndASingleRowComesBack(Which which) throws Exception {
    String table = table();
    which.doing("create table " + table + " (port varchar(60), day date, n integer)");
    String sql =
        """
        insert into T values (${port}, ${date}, ${many});
        insert into T values (null, ${date - 1 day}, 4);
        select port, day, n, n / 2.0 as half from T order by n;
        select count(*) as total, sum(n) as sum_of_n from T
        """
            .replace("T", table);
    long run = ended(published(which, "", sql), RunState.SUCCEEDED);
    assertThat(which.one("select port from " + table + " where n = 3"))
        .isEqualTo("brannoch's \\ \" ; -- x");
    assertThat(which.one("select day from " + table + " where n = 3")).isEqualTo("2027-05-04");
    assertThat(status(run).values())
        .containsEntry("total", "2")
        .containsEntry("sum_of_n", "7")
        .containsEntry("rows", "1");
    List<List<Object>> rows = rows(run, 1);
    assertThat(rows.get(0).subList(0, 3))
        .isEqualTo(List.of("brannoch's \\ \" ; -- x", "2027-05-04", BigInteger.valueOf(3)));
    assertThat(rows.get(1).get(0)).isNull();
    assertThat(output(run)).contains("line 1, insert: 1 row").contains("line 3, select: 2 rows");
  }

  @ParameterizedTest
  @EnumSource(Which.class)
  void ofATransactionThatFailsNothingStays(Which which) throws Exception {
    String table = table();
    which.doing("create table " + table + " (n integer primary key)");
    String sql = "insert into T values (1);\n\ninsert into T\n  values (1);".replace("T", table);
    long run = ended(published(which, "", sql), RunState.FAILED);
    assertThat(which.one("select count(*) from " + table)).isEqualTo("0");
    assertThat(status(run).note()).contains("line 3: ").containsIgnoringCase("duplicate");
  }

  @ParameterizedTest
  @EnumSource(Which.class)
  void eachItsOwnStaysAsFarAsItCame(Which which) throws Exception {
    String table = table();
    which.doing("create table " + table + " (n integer primary key)");
    String sql = "insert into T values (1);\ninsert into T values (1);".replace("T", table);
    long run = ended(published(which, "transaction: each", sql), RunState.FAILED);
    assertThat(which.one("select count(*) from " + table)).isEqualTo("1");
    assertThat(status(run).note()).contains("the one before it is committed");
  }

  @ParameterizedTest
  @EnumSource(Which.class)
  void whereItIsWrongIsSaid(Which which) {
    long run =
        ended(published(which, "", "select 1;\nselect\n  nothing\nfrom nowhere"), RunState.FAILED);
    assertThat(status(run).note()).containsPattern("line [24]: ").contains("nowhere");
  }

  @ParameterizedTest
  @EnumSource(Which.class)
  void whatIsStoppedIsStoppedInTheDatabase(Which which) throws Exception {
    String table = table();
    which.doing("create table " + table + " (n integer)");
    String sql = "insert into " + table + " values (1);\n" + which.sleeps;
    long run = started(published(which, "", sql));
    await().atMost(SOON).until(() -> output(run).contains("insert"));
    long began = System.nanoTime();
    engine.tell(now -> new BoardEvent.PersonActed(now, run, Action.CANCEL, "ida", "", 0)).join();
    ends(run, RunState.CANCELLED);
    assertThat(Duration.ofNanos(System.nanoTime() - began)).isLessThan(Duration.ofSeconds(9));
    assertThat(which.one("select count(*) from " + table)).isEqualTo("0");
  }

  @Test
  void whatOnlyReadsMayNotWrite() throws Exception {
    Which.POSTGRES.doing(
        "create or replace function sly() returns integer language sql as"
            + " 'create table sly_table (n integer); select 1'");
    long run = ended(published(Which.POSTGRES, "", "select sly()"), RunState.FAILED);
    assertThat(status(run).note()).contains("read-only transaction");
  }

  @Test
  void moreRowsThanAreWantedAreCountedAndNotKept() throws Exception {
    String sql = "select n, 'x' from generate_series(1, 5000) as n";
    long run = ended(published(Which.POSTGRES, "keep-rows: 4500", sql), RunState.SUCCEEDED);
    Results.Result result = results.of(run, 0, 1).orElseThrow();
    assertThat(result.found()).isEqualTo(5_000);
    assertThat(result.kept()).isEqualTo(4_500);
    List<List<Object>> rows = new ArrayList<>();
    results.read(run, result, 10_000, rows::add);
    assertThat(rows).hasSize(4_500);
    assertThat(rows.get(4_499)).isEqualTo(Arrays.asList(BigInteger.valueOf(4_500), "x"));
    assertThat(output(run)).contains("of 5000 rows").contains("not all of them are kept");
  }

  /** As where our own database is away while rows come in. */
  @ParameterizedTest
  @EnumSource(Which.class)
  void whatCannotBeKeptIsNotCommitted(Which which) throws Exception {
    String table = table();
    which.doing("create table " + table + " (n integer)");
    String text = "insert into " + table + " values (1); select 1";
    RowSink away =
        new RowSink() {
          @Override
          public void say(String line) {}

          @Override
          public void begin(int number, List<String> columns) {
            throw new IllegalStateException("away");
          }

          @Override
          public void row(List<Object> values) {}

          @Override
          public void end(long rows, boolean whole) {}
        };
    try (Connection connection = which.open()) {
      Statements.End end =
          new Statements(
                  connection,
                  new Sql(text, "x", true, "", 10),
                  Optional.empty(),
                  SqlText.read(text, Dialect.of(which.url())),
                  Map.of(),
                  away)
              .run("a");
      assertThat(end.outcome()).isEqualTo(Statements.Outcome.NOT_KEPT);
    }
    assertThat(which.one("select count(*) from " + table)).isEqualTo("0");
  }

  @Test
  void aProcedureGivesItsRows() throws Exception {
    Which.MARIADB.doing(
        "drop procedure if exists settle",
        "create procedure settle(d varchar(20)) begin select d as day, 7 as settled; end");
    long run = ended(published(Which.MARIADB, "", "call settle(${date})"), RunState.SUCCEEDED);
    assertThat(status(run).values())
        .containsEntry("settled", "7")
        .containsEntry("day", "2027-05-04");
  }

  @ParameterizedTest
  @EnumSource(Which.class)
  void whatAProcedureGivesOutAreValues(Which which) throws Exception {
    String name = "close_day_" + which.name().toLowerCase(java.util.Locale.ROOT);
    which.doing(
        "drop procedure if exists " + name,
        which == Which.MARIADB
            ? "create procedure "
                + name
                + "(d varchar(20), out total int) begin set total = 42; end"
            : "create procedure "
                + name
                + "(d varchar, out total int) language plpgsql as $$ begin total := 42; end $$");
    long run =
        ended(published(which, "", "call " + name + "(${date}, ${out total})"), RunState.SUCCEEDED);
    assertThat(status(run).values()).containsEntry("total", "42");
  }

  @ParameterizedTest
  @CsvSource({
    "MARIADB, select count(*) from %s where n = 1, false",
    "POSTGRES, select count(*) from %s where n = 1, false",
    "POSTGRES, select n from %s where n = ${many}, true",
    "MARIADB, select n from %s where n = 1, false",
    "POSTGRES, select n > 5 from %s, false",
    "MARIADB, select max(n) from %s, true"
  })
  void aQueryDecidesWhetherThereIsAnythingToDo(Which which, String query, boolean does)
      throws Exception {
    String table = table();
    which.doing("create table " + table + " (n integer)", "insert into " + table + " values (3)");
    String check = "only-if: \"" + query.formatted(table) + "\"";
    long run = started(published(which, check, "delete from " + table));
    await().atMost(SOON).until(() -> state(run).isEnded());
    assertThat(state(run)).isEqualTo(does ? RunState.SUCCEEDED : RunState.SKIPPED);
    assertThat(which.one("select count(*) from " + table)).isEqualTo(does ? "0" : "1");
  }

  // ---- away, and cut off

  @Test
  void aDatabaseThatIsAwayIsBorneAndThenItHasNotStarted() {
    String stream = published(Which.MARIADB, "", "select 1");
    String text =
        "connection: the-maria\naddress: jdbc:mariadb://127.0.0.1:1/x\nuser: purser\nsecret-file: "
            + file()
            + "\nbears-outage: 3s";
    publisher.publish(List.of(new SourceFile("a.yaml", text)), Optional.empty(), IDA, "test");
    permits.allow(SecretSource.of("file", file(), "jdbc:mariadb://127.0.0.1:1"), IDA, "");
    long run = ended(stream, RunState.FAILED);
    assertThat(output(run)).contains("the-maria is away").contains("borne for 3s");
    assertThat(status(run).note()).contains("could not be started");
  }

  @ParameterizedTest
  @EnumSource(Which.class)
  void aConnectionThatBreaksInTheMiddleIsMadeAnewAndNothingIsDoneTwice(Which which)
      throws Exception {
    String table = table();
    which.doing("create table " + table + " (n integer)");
    String sql = "insert into " + table + " values (1);\n" + which.sleeps.replace("20", "2");
    long run = started(published(which, "", sql));
    await().atMost(SOON).until(() -> output(run).contains("insert"));
    String kill =
        which == Which.POSTGRES
            ? "select pg_terminate_backend("
                + which.one(
                    "select pid from pg_stat_activity where query like '%pg_sleep(2)%'"
                        + " and pid <> pg_backend_pid()")
                + ")"
            : "kill "
                + which.one(
                    "select id from information_schema.processlist where info like"
                        + " '%sleep(2)%' and id <> connection_id()");
    which.doing(kill);
    ends(run, RunState.SUCCEEDED);
    assertThat(which.one("select count(*) from " + table)).isEqualTo("1");
    assertThat(output(run)).contains("is away: line 2: ");
  }

  /** Lets go in the middle, as a service that is killed, and takes up again. */
  private void cutOff(long run) {
    await().atMost(SOON).until(() -> output(run).contains("insert"));
    worker.cutOff();
    worker.takeUp(attempt(run));
  }

  @ParameterizedTest
  @EnumSource(Which.class)
  void cutOffInTheMiddleItIsDoneOnceWhereARecordTells(Which which) throws Exception {
    String table = table();
    which.doing(
        "create table " + table + " (n integer)",
        "create table " + table + "_done (attempt varchar(200) primary key)");
    String sql = "insert into " + table + " values (1);\n" + which.sleeps.replace("20", "1");
    long run = started(published(which, "records-in: " + table + "_done", sql));
    cutOff(run);
    ends(run, RunState.SUCCEEDED);
    assertThat(which.one("select count(*) from " + table)).isEqualTo("1");
    assertThat(which.one("select count(*) from " + table + "_done")).isEqualTo("1");
    worker.takeUp(attempt(run)); // it is over: nothing is done
    assertThat(which.one("select count(*) from " + table)).isEqualTo("1");
  }

  @ParameterizedTest
  @EnumSource(Which.class)
  void whatWasCommittedBeforeTheCutIsKnownByItsRecord(Which which) throws Exception {
    String table = table();
    which.doing(
        "create table " + table + " (n integer)",
        "create table " + table + "_done (attempt varchar(200) primary key)");
    String stream =
        published(which, "records-in: " + table + "_done", "insert into " + table + " values (1)");
    String reference = stream + "/do@2027-05-04#1 1";
    which.doing("insert into " + table + "_done values ('" + reference + "')");
    long run = ended(stream, RunState.SUCCEEDED);
    assertThat(which.one("select count(*) from " + table)).isEqualTo("0");
    assertThat(status(run).note()).contains("had been committed before Purser was cut off");
  }

  @ParameterizedTest
  @EnumSource(Which.class)
  void withoutARecordItIsLostAndNotDoneAgain(Which which) throws Exception {
    String table = table();
    which.doing("create table " + table + " (n integer)");
    String sql = "insert into " + table + " values (1);\n" + which.sleeps.replace("20", "2");
    long run = started(published(which, "", sql));
    cutOff(run);
    ends(run, RunState.FAILED);
    assertThat(status(run).note()).contains("was lost").contains("records-in");
    assertThat(which.one("select count(*) from " + table)).isEqualTo("0");
  }

  @ParameterizedTest
  @EnumSource(Which.class)
  void whatIsLetGoAndTakenUpHereRunsOn(Which which) throws Exception {
    String table = table();
    which.doing("create table " + table + " (n integer)");
    String sql = "insert into " + table + " values (1);\n" + which.sleeps.replace("20", "2");
    long run = started(published(which, "", sql));
    await().atMost(SOON).until(() -> output(run).contains("insert"));
    worker.letGo(); // our own database was away for a moment
    worker.takeUp(attempt(run));
    ends(run, RunState.SUCCEEDED);
    assertThat(which.one("select count(*) from " + table)).isEqualTo("1");
  }

  @Test
  void whatIsLetGoLeavesItsEndOnRecord() throws Exception {
    String table = table();
    Which.POSTGRES.doing("create table " + table + " (n integer)");
    String sql = "insert into " + table + " values (1);\nselect pg_sleep(1)";
    long run = started(published(Which.POSTGRES, "", sql));
    await().atMost(SOON).until(() -> output(run).contains("insert"));
    worker.letGo();
    await().atMost(SOON).until(() -> records.of(run, 1).ended().isPresent());
    assertThat(state(run)).isEqualTo(RunState.RUNNING);
    worker.takeUp(attempt(run));
    ends(run, RunState.SUCCEEDED);
    assertThat(Which.POSTGRES.one("select count(*) from " + table)).isEqualTo("1");
  }

  @Test
  void whatOnlyReadsIsSimplyDoneAgain() {
    long run = started(published(Which.POSTGRES, "", "select 1 as insert;\nselect pg_sleep(1)"));
    await().atMost(SOON).until(() -> output(run).contains("insert"));
    worker.cutOff();
    worker.takeUp(attempt(run));
    ends(run, RunState.SUCCEEDED);
  }
}
