package dev.purser.service.action;

import dev.purser.core.board.BoardView;
import dev.purser.core.check.Bypassed;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.job.Job;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.run.RunSpec;
import dev.purser.service.Settings;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Turn;
import dev.purser.service.people.Secrets;
import jakarta.persistence.Entity;
import jakarta.persistence.EntityManager;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;

/** Starts by hand: which runs they are, and that the same request makes them once. */
@Component
class Starts {
  private final EntityManager rows;
  private final AuditTrail audit;
  private final Settings settings;

  Starts(EntityManager rows, AuditTrail audit, Settings settings) {
    this.rows = rows;
    this.audit = audit;
    this.settings = settings;
  }

  /** Starts in a turn; the ids of the runs, those of before where the key is known. */
  List<Long> carryOut(Start wish, Optional<String> key, Asked asked, Turn turn) {
    Optional<String> whole = key.map(k -> asked.actor().name() + " " + k);
    Optional<StartKeyRow> before = whole.flatMap(k -> before(k, turn));
    if (before.isPresent()) {
      return before.get().ids(wish);
    }
    List<Long> ids = turn.plan(byHand(asked, wish));
    Optional<StartKeyRow> row = whole.map(k -> keyRow(k, ids, wish, asked.at()));
    row.ifPresent(one -> turn.note(noteOf(one.startKey), one));
    turn.also(
        session -> {
          session.insert(audit.entry(asked.actor(), "start", wish.about(), asked.reason()));
          row.ifPresent(session::insert);
        });
    return ids;
  }

  /** What the key has started: on record, or in this turn, which is not on record yet. */
  private Optional<StartKeyRow> before(String key, Turn turn) {
    Object now = turn.noted(noteOf(key));
    return Optional.ofNullable(now == null ? rows.find(StartKeyRow.class, key) : (StartKeyRow) now);
  }

  private static String noteOf(String key) {
    return "start key " + key;
  }

  /** The same, as the board would be told of it: with ids that no run has. */
  List<BoardEvent> events(Start wish, Asked asked) {
    List<RunSpec> specs = new ArrayList<>();
    for (PlannedRun run : byHand(asked, wish)) {
      specs.add(new RunSpec(-1L - specs.size(), run, 0));
    }
    return List.of(new BoardEvent.RunsPlanned(asked.now(), specs));
  }

  /** Whoever starts a job alone does not ask what it waits for: nor those who alone may answer. */
  private static void refuseBypass(
      Definitions definitions, Stream stream, Optional<Job> job, String who) {
    job.flatMap(one -> Bypassed.by(definitions, stream, one, who))
        .ifPresent(
            question -> {
              throw new Refused(
                  stream.pathOf(job.orElseThrow())
                      + " cannot be started alone: it follows the question "
                      + question.path()
                      + ", which only "
                      + String.join(", ", question.by())
                      + " may decide; start the whole stream, and the question is asked");
            });
  }

  private List<PlannedRun> byHand(Asked asked, Start wish) {
    Definitions definitions = asked.definitions();
    BoardView board = asked.board();
    Instant at = asked.at();
    Stream stream =
        definitions.stream(wish.stream())
            .orElseThrow(() -> new NotUnderstood(noStream(definitions, wish.stream())));
    Optional<Job> job =
        wish.job()
            .map(
                name ->
                    stream
                        .job(name)
                        .orElseThrow(
                            () ->
                                new NotUnderstood(
                                    "stream "
                                        + wish.stream()
                                        + " has no job \""
                                        + name
                                        + "\""
                                        + Nearest.hint(
                                            name,
                                            stream.jobs().stream().map(Job::name).toList()))));
    refuseBypass(definitions, stream, job, asked.actor().name());
    Planner planner = new Planner(definitions);
    // Windows are known by their number: a start by hand must not take that of one to come.
    int least =
        stream.hasWindows() ? planner.starts(stream, wish.date(), wish.date()).size() + 1 : 1;
    return planner.byHand(
        stream,
        new Planner.ByHand(
            job,
            wish.andFollowing(),
            wish.parameters(),
            wish.date(),
            Math.max(least, nextNumber(board, wish.stream(), wish.date())),
            at,
            settings.zone(),
            wish.ignoring()));
  }

  private static String noStream(Definitions definitions, String path) {
    return definitions.streamAt(path).isPresent()
        ? path
            + " runs as a step of another stream; start that one, or the step's own stream by its"
            + " name"
        : "there is no stream \""
            + path
            + "\""
            + Nearest.hint(path, definitions.streams().stream().map(Stream::path).toList());
  }

  private int nextNumber(BoardView board, String stream, LocalDate date) {
    Integer recorded =
        rows.createQuery(
                "select max(r.number) from RunRow r where r.stream = :stream"
                    + " and r.businessDate = :date",
                Integer.class)
            .setParameter("stream", stream)
            .setParameter("date", date)
            .getSingleResult();
    int onBoard =
        board.runs().stream()
            .map(run -> run.run().reference())
            .filter(run -> run.stream().equals(stream) && run.date().equals(date))
            .mapToInt(run -> run.number())
            .max()
            .orElse(0);
    return Math.max(recorded == null ? 0 : recorded, onBoard) + 1;
  }

  /** A digest of all that makes a request what it is. */
  private static String requestOf(Start wish) {
    String all =
        String.join(
            "\n",
            wish.stream(),
            wish.job().orElse(""),
            String.valueOf(wish.andFollowing()),
            wish.date().toString(),
            new TreeMap<>(wish.parameters()).toString());
    return Secrets.hash(all);
  }

  private static StartKeyRow keyRow(String key, List<Long> ids, Start wish, Instant at) {
    StartKeyRow row = new StartKeyRow();
    row.startKey = key;
    row.request = requestOf(wish);
    row.runs = ids.stream().map(String::valueOf).collect(Collectors.joining(","));
    row.at = at;
    return row;
  }

  /** What a start by hand made, so that the same request makes it once. */
  @Entity
  @Table(name = "start_key")
  static class StartKeyRow {
    @Id String startKey;

    /** What was asked, as a digest; empty for those of before it was kept. */
    String request;

    /**
     * What it has started.
     *
     * @throws Refused where something else was asked with the same key
     */
    List<Long> ids(Start wish) {
      if (!request.isEmpty() && !request.equals(requestOf(wish))) {
        throw new Refused(
            "this key has started something else before; give each request a key of its own");
      }
      return Arrays.stream(runs.split(",")).map(Long::valueOf).toList();
    }

    @org.hibernate.annotations.JdbcTypeCode(org.hibernate.type.SqlTypes.LONGVARCHAR)
    @jakarta.persistence.Column(columnDefinition = "mediumtext")
    String runs;

    Instant at;
  }
}
