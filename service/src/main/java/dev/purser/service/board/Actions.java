package dev.purser.service.board;

import dev.purser.core.board.Action;
import dev.purser.core.board.BoardEvent;
import dev.purser.core.board.Instruction;
import dev.purser.core.definition.Job;
import dev.purser.core.definition.Stream;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.service.Settings;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.run.RunRow;
import jakarta.persistence.Entity;
import jakarta.persistence.EntityManager;
import jakarta.persistence.Id;
import jakarta.persistence.Table;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;

/** What people do to runs, each with its entry in the audit trail. */
@Component
public class Actions {
  private final Engine engine;
  private final EntityManager rows;
  private final AuditTrail audit;
  private final Settings settings;
  private final Clock clock;

  Actions(Engine engine, EntityManager rows, AuditTrail audit, Settings settings, Clock clock) {
    this.engine = engine;
    this.rows = rows;
    this.audit = audit;
    this.settings = settings;
    this.clock = clock;
  }

  /** An action that makes no sense now; nothing was done. */
  public static final class Refused extends RuntimeException {
    private static final long serialVersionUID = 1L;

    Refused(String reason) {
      super(reason);
    }
  }

  /**
   * Acts on a run.
   *
   * @throws Refused where the action makes no sense for the run as it is now
   */
  public void act(RunRow run, Action action, AuditTrail.Actor actor, String reason) {
    engine
        .ask(
            turn -> {
              List<Instruction> given =
                  turn.apply(
                      new BoardEvent.PersonActed(turn.now(), run.id, action, actor.name(), reason));
              given.stream()
                  .filter(Instruction.Refused.class::isInstance)
                  .map(Instruction.Refused.class::cast)
                  .findFirst()
                  .ifPresent(
                      refused -> {
                        throw new Refused(refused.reason());
                      });
              turn.also(
                  session ->
                      session.insert(audit.entry(actor, action.word(), run.reference(), reason)));
              return true;
            })
        .join();
  }

  /**
   * Starts a stream, or one job of it, by hand.
   *
   * @param key the same key starts the same runs only once
   * @return the ids of the runs
   * @throws IllegalArgumentException where there is no such stream or job
   */
  public List<Long> start(
      String stream,
      Optional<String> job,
      LocalDate date,
      Optional<String> key,
      AuditTrail.Actor actor,
      String reason) {
    return engine.ask(turn -> start(turn, stream, job, date, key, actor, reason)).join();
  }

  private List<Long> start(
      Turn turn,
      String path,
      Optional<String> jobName,
      LocalDate date,
      Optional<String> key,
      AuditTrail.Actor actor,
      String reason) {
    Optional<StartKeyRow> before =
        key.map(k -> rows.find(StartKeyRow.class, actor.name() + " " + k));
    if (before.isPresent()) {
      return Arrays.stream(before.get().runs.split(",")).map(Long::valueOf).toList();
    }
    Stream stream =
        turn.definitions().stream(path)
            .orElseThrow(() -> new IllegalArgumentException("there is no stream \"" + path + "\""));
    Optional<Job> job =
        jobName.map(
            name ->
                stream
                    .job(name)
                    .orElseThrow(
                        () ->
                            new IllegalArgumentException(
                                "stream " + path + " has no job \"" + name + "\"")));
    Planner planner = new Planner(turn.definitions());
    // Windows are known by their number: a start by hand must not take that of one to come.
    int least = stream.hasWindows() ? planner.starts(stream, date, date).size() + 1 : 1;
    List<PlannedRun> runs =
        planner.byHand(
            stream,
            job,
            date,
            Math.max(least, nextNumber(turn, path, date)),
            Instant.ofEpochMilli(turn.now()),
            settings.zone());
    List<Long> ids = turn.plan(runs);
    turn.also(
        session -> {
          session.insert(
              audit.entry(
                  actor,
                  "start",
                  path + jobName.map(n -> "/" + n).orElse("") + "@" + date,
                  reason));
          key.ifPresent(k -> session.insert(keyRow(actor.name() + " " + k, ids)));
        });
    return ids;
  }

  private int nextNumber(Turn turn, String stream, LocalDate date) {
    Integer recorded =
        rows.createQuery(
                "select max(r.number) from RunRow r where r.stream = :stream"
                    + " and r.businessDate = :date",
                Integer.class)
            .setParameter("stream", stream)
            .setParameter("date", date)
            .getSingleResult();
    int onBoard =
        turn.board().runs().stream()
            .map(run -> run.run().reference())
            .filter(run -> run.stream().equals(stream) && run.date().equals(date))
            .mapToInt(run -> run.number())
            .max()
            .orElse(0);
    return Math.max(recorded == null ? 0 : recorded, onBoard) + 1;
  }

  private StartKeyRow keyRow(String key, List<Long> ids) {
    StartKeyRow row = new StartKeyRow();
    row.startKey = key;
    row.runs = ids.stream().map(String::valueOf).collect(Collectors.joining(","));
    row.at = clock.instant();
    return row;
  }

  /** What a start by hand made, so that the same request makes it once. */
  @Entity
  @Table(name = "start_key")
  static class StartKeyRow {
    @Id String startKey;

    @org.hibernate.annotations.JdbcTypeCode(org.hibernate.type.SqlTypes.LONGVARCHAR)
    @jakarta.persistence.Column(columnDefinition = "mediumtext")
    String runs;

    Instant at;
  }
}
