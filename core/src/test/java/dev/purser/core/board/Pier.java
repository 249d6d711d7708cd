package dev.purser.core.board;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.forecast.Outlook;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.Action;
import dev.purser.core.run.Ending;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;

/** A small board to test on: one host unless said otherwise, and a stream of the test's own. */
public final class Pier {
  public static final LocalDate DATE = LocalDate.of(2027, 3, 4);
  public static final long DUE = Instant.parse("2027-03-04T20:30:00Z").toEpochMilli();
  static final String SITE =
      """
      host: quay-north
      labels: [quay]
      ---
      host: quay-south
      labels: [quay]
      ---
      host-group: quays
      labels: [quay]
      ---
      capacity: ledger-slots
      units: 1
      ---
      file-watch: harbour-feed
      host: quay-north
      path: /srv/in/feed-*.csv
      """;

  public final Board board = new Board();
  public final List<Instruction> instructions = new ArrayList<>();

  /** Kind and sentence of each alert that was opened, as it was told then. */
  public final List<String> alerts = new ArrayList<>();

  public final List<BoardEvent> events = new ArrayList<>();
  public final Definitions definitions;

  /** A board with the runs of stream {@code night}, whose jobs are given as YAML. */
  public Pier(String jobs) {
    this(definitions(jobs));
  }

  /** A board with the runs of the given definitions on {@link #DATE}, all hosts connected. */
  public Pier(Definitions definitions) {
    this.definitions = definitions;
    long before = DUE - 3_600_000;
    apply(Outlook.site(definitions, before));
    apply(new BoardEvent.HostSeen(before, "quay-north", java.util.Set.of()));
    apply(new BoardEvent.HostSeen(before, "quay-south", java.util.Set.of()));
    apply(new BoardEvent.RunsPlanned(before, specs(definitions, DATE, 1)));
  }

  public static Definitions definitions(String jobs) {
    String stream =
        "stream: night\n"
            + "schedule: { days: every day, at: \"21:30\", zone: Europe/Oslo }\n"
            + "jobs:\n"
            + jobs.indent(2);
    return read(SITE, stream);
  }

  public static Definitions read(String... texts) {
    List<SourceFile> files = new ArrayList<>();
    for (String text : texts) {
      files.add(new SourceFile("test.yaml", text));
    }
    DefinitionCheck.Result result =
        DefinitionCheck.check(Definitions.none(), files, DATE.minusDays(1));
    if (!result.isSound()) {
      throw new IllegalArgumentException(result.problems().toString());
    }
    return result.definitions();
  }

  public static List<RunSpec> specs(Definitions definitions, LocalDate date, long firstId) {
    List<RunSpec> specs = new ArrayList<>();
    for (PlannedRun run : new Planner(definitions).plan(date)) {
      long longAfter = run.job().usually().map(range -> range.high().toMillis()).orElse(0L);
      specs.add(new RunSpec(firstId + specs.size(), run, longAfter));
    }
    return specs;
  }

  public List<Instruction> apply(BoardEvent event) {
    events.add(event);
    List<Instruction> out = board.turn(event);
    instructions.addAll(out);
    for (Instruction instruction : out) {
      if (instruction instanceof Instruction.OpenAlert alert) {
        alerts.add(alert.kind() + " " + AlertWords.of(alert, board).text());
      }
    }
    return out;
  }

  public long id(String job) {
    return board.runs().stream()
        .filter(run -> run.run().reference().job().equals(job))
        .findFirst()
        .orElseThrow()
        .id();
  }

  public RunStatus status(String job) {
    return board.status(id(job)).orElseThrow();
  }

  public RunState state(String job) {
    return status(job).state();
  }

  public String why(String job) {
    return board.why(id(job)).sentence();
  }

  public Pier at(long minutesAfterDue) {
    apply(new BoardEvent.TimeReached(minute(minutesAfterDue)));
    return this;
  }

  public static long minute(long minutesAfterDue) {
    return DUE + minutesAfterDue * 60_000;
  }

  public Pier begin(String job) {
    apply(new BoardEvent.AttemptBegan(board.now(), id(job), status(job).attempts()));
    return this;
  }

  public Pier end(String job, int code) {
    apply(
        new BoardEvent.AttemptEnded(
            board.now(), id(job), status(job).attempts(), Ending.exited(code)));
    return this;
  }

  public List<Instruction> act(String job, Action action) {
    return apply(new BoardEvent.PersonActed(board.now(), id(job), action, "ida", "because"));
  }

  public List<Instruction> act(String job, Action action, long argument) {
    return apply(
        new BoardEvent.PersonActed(board.now(), id(job), action, "ida", "because", argument));
  }

  public Pier end(String job, int code, java.util.Map<String, String> values) {
    apply(
        new BoardEvent.AttemptEnded(
            board.now(),
            id(job),
            status(job).attempts(),
            Ending.exited(code),
            board.now(),
            values));
    return this;
  }

  /** Begins and ends well whatever has been sent to a host, until nothing more is. */
  public Pier finishAll() {
    for (int i = 0; i < 100; i++) {
      for (RunSpec run : board.runs()) {
        RunStatus status = board.status(run.id()).orElseThrow();
        if (status.state().isActive() && !run.run().job().isStep()) {
          apply(new BoardEvent.AttemptBegan(board.now(), run.id(), status.attempts()));
          apply(
              new BoardEvent.AttemptEnded(
                  board.now(), run.id(), status.attempts(), Ending.exited(0)));
        }
      }
    }
    return this;
  }

  public <T extends Instruction> List<T> given(Class<T> type) {
    return instructions.stream().filter(type::isInstance).map(type::cast).toList();
  }
}
