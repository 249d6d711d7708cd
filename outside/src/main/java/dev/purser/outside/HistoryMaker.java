package dev.purser.outside;

import dev.purser.core.arrival.Checklist;
import dev.purser.core.board.Board;
import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.commitment.Promised;
import dev.purser.core.commitment.Promises;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.FileWatch;
import dev.purser.core.definition.Stream;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.forecast.History;
import dev.purser.core.forecast.Outcomes;
import dev.purser.core.forecast.Outlook;
import dev.purser.core.forecast.PromiseOutlook;
import dev.purser.core.forecast.Rehearsal;
import dev.purser.core.forecast.UsualOutcomes;
import dev.purser.core.history.PastRun;
import dev.purser.core.job.Command;
import dev.purser.core.job.Job;
import dev.purser.core.learning.DaySoFar;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.plan.RunReference;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.Ending;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import dev.purser.core.schedule.Window;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.sql.Timestamp;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SplittableRandom;
import java.util.TimeZone;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.flywaydb.core.Flyway;
import tools.jackson.databind.json.JsonMapper;

/**
 * A stand-in for 90 days of use: plays past business dates through the engine with drawn durations
 * and a few failures, and writes the runs into an empty database. Only for the demo.
 */
public final class HistoryMaker {
  private static final Pattern VALUE = Pattern.compile(" ([a-z]+)=(\\d+)");
  private static final double FAILURES = 0.03;

  private final Connection connection;
  private static final int FORETOLD_DAYS = 30;
  private static final int SAMPLES = 40;

  private final Definitions definitions;
  private final List<PastRun> past = new ArrayList<>();
  private final Map<RunReference, PastRun> byReference = new HashMap<>();
  private long lastId;
  private long lastArrival;

  private HistoryMaker(Connection connection, Definitions definitions) {
    this.connection = connection;
    this.definitions = definitions;
  }

  /** As far as the service's clock is, which reads the same variable. */
  private static Duration ahead() {
    return Duration.parse(System.getenv().getOrDefault("PURSER_CLOCK_OFFSET", "PT0S"));
  }

  /**
   * Makes history.
   *
   * @param args database address, user, password; directory of migrations; directory of
   *     definitions; how many days; the zone of the service
   */
  public static void main(String[] args) throws SQLException, IOException {
    TimeZone.setDefault(TimeZone.getTimeZone("UTC"));
    Flyway.configure()
        .dataSource(args[0], args[1], args[2])
        .locations("filesystem:" + args[3])
        .load()
        .migrate();
    List<SourceFile> files = new ArrayList<>();
    try (var all = Files.walk(Path.of(args[4]))) {
      for (Path file : all.filter(path -> path.toString().endsWith(".yaml")).sorted().toList()) {
        files.add(new SourceFile(file.toString(), Files.readString(file)));
      }
    }
    LocalDate today = LocalDate.now(Clock.offset(Clock.system(ZoneId.of(args[6])), ahead()));
    DefinitionCheck.Result result = DefinitionCheck.check(Definitions.none(), files, today);
    if (!result.isSound()) {
      throw new IllegalArgumentException(result.problems().toString());
    }
    try (Connection connection =
        DriverManager.getConnection(args[0] + "?useBulkStmts=true", args[1], args[2])) {
      connection.setAutoCommit(false);
      HistoryMaker maker = new HistoryMaker(connection, result.definitions());
      if (maker.isEmpty()) {
        for (int back = Integer.parseInt(args[5]); back > 0; back--) {
          maker.make(today.minusDays(back));
          maker.makeArrivals(today.minusDays(back));
        }
        for (int back = FORETOLD_DAYS; back > 0; back--) {
          maker.foretell(today.minusDays(back));
        }
        connection.commit();
        System.out.println("made " + maker.lastId + " runs of history");
      }
    }
  }

  private boolean isEmpty() throws SQLException {
    try (var statement = connection.createStatement();
        var found = statement.executeQuery("select count(*) from run")) {
      found.next();
      return found.getLong(1) == 0;
    }
  }

  /** A file for each watch that expects one, mostly in time. */
  private void makeArrivals(LocalDate date) throws SQLException {
    SplittableRandom random = new SplittableRandom(date.toEpochDay());
    try (PreparedStatement statement =
        connection.prepareStatement(
            "insert into arrival (id, identity, watch, place, path, business_date, size, modified,"
                + " file_key, checksum, found, ready, state, since, run, repeats, note) values"
                + " (?,?,?,?,?,?,?,?,'','',?,?,'used',?,0,0,'')")) {
      for (FileWatch watch : definitions.fileWatches()) {
        boolean wanted = Checklist.isExpected(watch, date, definitions.calendars());
        Instant by = watch.expected().map(one -> one.ends(date)).orElse(Instant.EPOCH);
        long early = 60_000L * (4 + random.nextInt(20)) - (random.nextInt(25) == 0 ? 2_400_000 : 0);
        for (int i = 0; wanted && watch.host().isPresent() && i < watch.whole().setOf(); i++) {
          Timestamp came = Timestamp.from(by.minusMillis(early + 1_000L * i));
          String part = String.valueOf((char) ('a' + i));
          String path = watch.pathOf(date).replaceAll("\\[[^]]*]", part).replace("*", "1");
          statement.setLong(1, ++lastArrival);
          statement.setString(2, String.format("%064x", lastArrival));
          statement.setString(3, watch.name());
          statement.setString(4, watch.host().get());
          statement.setString(5, path);
          statement.setString(6, date.toString());
          statement.setLong(7, 400 + random.nextInt(4_000));
          for (int place = 8; place <= 11; place++) {
            statement.setTimestamp(place, came);
          }
          statement.addBatch();
        }
      }
      statement.executeBatch();
    }
  }

  private void make(LocalDate date) throws SQLException {
    List<RunSpec> specs = new ArrayList<>();
    for (PlannedRun run : new Planner(definitions).plan(date)) {
      specs.add(new RunSpec(++lastId, run, 0));
    }
    if (specs.isEmpty()) {
      return;
    }
    long begin =
        specs.stream().mapToLong(run -> run.run().due().toEpochMilli()).min().orElseThrow() - 1;
    Board board = Outlook.boardOf(definitions, List.of(), Instant.ofEpochMilli(begin));
    Rehearsal rehearsal =
        new Rehearsal(board, new Ordinary(), new SplittableRandom(date.toEpochDay()));
    rehearsal.apply(new BoardEvent.RunsPlanned(begin, specs));
    rehearsal.play(begin + 3 * 86_400_000L);
    write(specs, rehearsal);
  }

  /** As usual, with a failure now and then; people answer within a few minutes. */
  private static final class Ordinary implements Outcomes {
    private final Outcomes usual = new UsualOutcomes(History.NONE);

    @Override
    public Outcome attempt(RunSpec run, int attempt, SplittableRandom random) {
      Outcome outcome = usual.attempt(run, attempt, random);
      return random.nextDouble() < FAILURES
          ? new Outcome(outcome.millis() / 2, Ending.exited(1 + random.nextInt(3)))
          : new Outcome(outcome.millis(), outcome.ending(), values(run, random));
    }

    /** What jobs hand back: about what their command says, as in rows=1200. */
    private static Map<String, String> values(RunSpec run, SplittableRandom random) {
      Map<String, String> values = new TreeMap<>();
      if (run.run().job().work() instanceof Command command) {
        Matcher matcher = VALUE.matcher(command.line());
        while (matcher.find()) {
          int about = Integer.parseInt(matcher.group(2));
          int spread = Math.max(1, about / 4);
          values.put(matcher.group(1), "" + (about + random.nextInt(spread) - spread / 2));
        }
      }
      return values;
    }

    @Override
    public FileOutcome file(String watch, LocalDate date, SplittableRandom random) {
      return new FileOutcome.After(20_000 + random.nextLong(60_000));
    }

    @Override
    public Optional<Answer> approval(RunSpec run, long asked, SplittableRandom random) {
      return Optional.of(new Answer(180_000L, true));
    }
  }

  /**
   * What would have been foretold of the first promises of a date at its beginning, by the same
   * forecast that the service makes; and what came of them.
   */
  private void foretell(LocalDate date) throws SQLException {
    Promises promises = new Promises(definitions, Map.of());
    try (PreparedStatement foretold =
            connection.prepareStatement(
                "insert into foretold (commitment, business_date, number, horizon, made, promised,"
                    + " p10, p50, p90, chance_late) values (?,?,?,'begin',?,?,?,?,?,?)");
        PreparedStatement ends =
            connection.prepareStatement(
                "insert into promise_end (commitment, business_date, number, promised, done) values"
                    + " (?,?,?,?,?)")) {
      DaySoFar begin = new DaySoFar(definitions, past, date, DaySoFar.beginning(definitions, date));
      List<Promised> promised =
          begin.promised(promises).stream().filter(one -> one.by().isPresent()).toList();
      for (PromiseOutlook outlook :
          begin.play(begin.learned(), promised, SAMPLES, date.toEpochDay()).promises()) {
        long done = done(outlook.promised());
        if (done > 0 && outlook.end() > 0) {
          int i = name(foretold, outlook.promised());
          foretold.setTimestamp(i++, Timestamp.from(outlook.promised().begin()));
          foretold.setTimestamp(i++, Timestamp.from(outlook.promised().by().orElseThrow()));
          foretold.setTimestamp(i++, new Timestamp(outlook.earliestEnd()));
          foretold.setTimestamp(i++, new Timestamp(outlook.end()));
          foretold.setTimestamp(i++, new Timestamp(outlook.latestEnd()));
          foretold.setDouble(i, outlook.chanceLate());
          foretold.addBatch();
          i = name(ends, outlook.promised());
          ends.setTimestamp(i++, Timestamp.from(outlook.promised().by().orElseThrow()));
          ends.setTimestamp(i, new Timestamp(done));
          ends.addBatch();
        }
      }
      foretold.executeBatch();
      ends.executeBatch();
    }
  }

  private static int name(PreparedStatement row, Promised promised) throws SQLException {
    row.setString(1, promised.commitment().name());
    row.setObject(2, promised.date());
    row.setInt(3, promised.number());
    return 4;
  }

  private long done(Promised promised) {
    long last = 0;
    for (RunReference end : promised.ends()) {
      PastRun run = byReference.get(end);
      if (run == null || run.outcome() != PastRun.Outcome.SUCCEEDED) {
        return 0;
      }
      last = Math.max(last, run.end());
    }
    return last;
  }

  private void remember(RunSpec spec, RunStatus status) {
    RunReference reference = spec.run().reference();
    boolean ran = status.state() == RunState.SUCCEEDED || status.state() == RunState.FAILED;
    if (ran && status.started() > 0) {
      PastRun run =
          new PastRun(
              reference.stream(),
              reference.job(),
              reference.date(),
              reference.number(),
              spec.due(),
              status.started(),
              status.ended(),
              status.state() == RunState.SUCCEEDED
                  ? PastRun.Outcome.SUCCEEDED
                  : PastRun.Outcome.FAILED,
              status.exitCode(),
              status.where().word(),
              1);
      past.add(run);
      byReference.put(reference, run);
    }
  }

  private void write(List<RunSpec> specs, Rehearsal rehearsal) throws SQLException {
    try (PreparedStatement runs =
            connection.prepareStatement(
                "insert into run values (?,?,?,?,?,?,?,?,?,0,?,'',?,?,?,false,0,?,'',?,?,?,?,?,?,"
                    + "null,?,?,'NO',?,'[]',null,'','run',null,?,?,'',"
                    + "null,-1,false,null,?,'',?,0)");
        PreparedStatement values =
            connection.prepareStatement("insert into run_value values (?,?,?,?)");
        PreparedStatement attempts =
            connection.prepareStatement("insert into attempt values (?,?,?,?,?,?,?,'',0,0,true)")) {
      for (RunSpec spec : specs) {
        RunStatus status = rehearsal.board().status(spec.id()).orElseThrow();
        if (status.state().isEnded()) {
          remember(spec, status);
          run(runs, spec, status);
          if (status.attempts() > 0) { // a step has none
            attempt(attempts, spec, status);
          }
          for (Map.Entry<String, String> value : status.values().entrySet()) {
            values.setLong(1, spec.id());
            values.setString(2, value.getKey());
            values.setInt(3, status.attempts());
            values.setString(4, value.getValue());
            values.addBatch();
          }
        }
      }
      runs.executeBatch();
      attempts.executeBatch();
      values.executeBatch();
    }
  }

  private void run(PreparedStatement row, RunSpec spec, RunStatus status) throws SQLException {
    PlannedRun run = spec.run();
    Stream stream = definitions.streamAt(run.reference().stream()).orElseThrow();
    int i = 1;
    row.setLong(i++, spec.id());
    row.setString(i++, stream.path());
    row.setString(i++, run.job().name());
    row.setString(i++, stream.title());
    row.setString(i++, run.job().title());
    row.setString(i++, stream.department());
    row.setString(i++, run.job().work().kind());
    row.setObject(i++, run.reference().date());
    row.setInt(i++, run.reference().number());
    row.setTimestamp(i++, Timestamp.from(run.due()));
    row.setTimestamp(i++, run.startBy().map(Timestamp::from).orElse(null));
    row.setTimestamp(i++, run.finishBy().map(Timestamp::from).orElse(null));
    row.setString(i++, run.zone().getId());
    row.setString(i++, status.state().word());
    row.setTimestamp(i++, new Timestamp(status.since()));
    row.setInt(i++, status.attempts());
    row.setInt(i++, status.budget());
    row.setString(i++, status.where().word());
    row.setTimestamp(i++, status.started() == 0 ? null : new Timestamp(status.started()));
    row.setTimestamp(i++, new Timestamp(status.ended()));
    row.setObject(i++, status.exitCode() < 0 ? null : status.exitCode());
    row.setString(i++, status.note());
    row.setBoolean(i++, status.notNeeded());
    Optional<Window> window = run.start().window();
    row.setTimestamp(i++, window.map(Window::start).map(Timestamp::from).orElse(null));
    row.setTimestamp(i++, window.map(Window::end).map(Timestamp::from).orElse(null));
    row.setString(i++, json(status.values()));
    row.setString(i, tags(stream, run.job()));
    row.addBatch();
  }

  private static String json(Map<String, String> values) {
    return values.isEmpty() ? null : JsonMapper.shared().writeValueAsString(values);
  }

  private static String tags(Stream stream, Job job) {
    Set<String> tags = new TreeSet<>(job.tags());
    tags.addAll(stream.tags());
    return tags.isEmpty() ? "" : "," + String.join(",", tags) + ",";
  }

  private static void attempt(PreparedStatement row, RunSpec spec, RunStatus status)
      throws SQLException {
    row.setLong(1, spec.id());
    row.setInt(2, status.attempts());
    row.setString(3, status.where().word());
    row.setTimestamp(4, new Timestamp(status.started()));
    row.setTimestamp(5, new Timestamp(status.started()));
    row.setTimestamp(6, new Timestamp(status.ended()));
    row.setInt(7, status.exitCode());
    row.addBatch();
  }
}
