package dev.purser.service.call;

import dev.purser.core.definition.Definitions;
import dev.purser.core.fill.Unfillable;
import dev.purser.core.job.Where;
import dev.purser.core.job.Work;
import dev.purser.core.pursuit.Pursuit;
import dev.purser.core.remote.Call;
import dev.purser.core.remote.Operation;
import dev.purser.core.run.Ending;
import dev.purser.service.board.Engine;
import dev.purser.service.work.Attempt;
import dev.purser.service.work.Fillings;
import dev.purser.service.work.Reports;
import dev.purser.service.work.Worker;
import jakarta.annotation.PreDestroy;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/** Carries out calls of remote services: all of them on a few threads. */
@Component
public class CallWorker implements Worker {
  private static final Logger LOG = LoggerFactory.getLogger(CallWorker.class);
  private static final int THREADS = 4;
  private static final long AGAIN_MILLIS = 2_000;

  private final RemoteCalls records;
  private final Fillings fillings;
  private final Reports reports;
  private final Engine engine;
  private final Sites sites;
  private final Clock clock;
  private final Map<RemoteCallRow.Key, Follower> going = new ConcurrentHashMap<>();
  private final ScheduledExecutorService threads;

  CallWorker(
      RemoteCalls records,
      Fillings fillings,
      Reports reports,
      Engine engine,
      Sites sites,
      Clock clock) {
    this.records = records;
    this.fillings = fillings;
    this.reports = reports;
    this.engine = engine;
    this.sites = sites;
    this.clock = clock;
    this.threads =
        Executors.newScheduledThreadPool(
            THREADS,
            work -> {
              Thread thread = new Thread(work, "remote calls");
              thread.setDaemon(true);
              return thread;
            });
  }

  @PreDestroy
  void close() {
    letGo();
    threads.shutdownNow();
  }

  @Override
  public boolean takes(Work work, Where where) {
    return work instanceof Call && where instanceof Where.InService;
  }

  @Override
  public void start(Attempt attempt) {
    threads.execute(() -> orAgain(attempt, () -> begin(attempt)));
  }

  @Override
  public void takeUp(Attempt attempt) {
    threads.execute(() -> orAgain(attempt, () -> begin(attempt)));
  }

  /** What fails for want of the database is tried again. */
  private void orAgain(Attempt attempt, Runnable work) {
    try {
      work.run();
    } catch (RuntimeException e) {
      LOG.warn("a call cannot go on now, and is tried again: {}", String.valueOf(e.getMessage()));
      if (!threads.isShutdown()) {
        threads.schedule(() -> orAgain(attempt, work), AGAIN_MILLIS, TimeUnit.MILLISECONDS);
      }
    }
  }

  private void begin(Attempt attempt) {
    if (!isStill(attempt)) {
      return; // it was let go, and another service has it, or it is over
    }
    Definitions definitions = engine.definitions();
    Call call = call(attempt);
    Optional<RemoteCalls.Kept> kept = records.of(attempt.id(), attempt.number());
    if (kept.isPresent()) {
      follow(attempt, call, kept.get()).takeUp();
      return;
    }
    try {
      Operation operation =
          operation(definitions, call)
              .orElseThrow(
                  () ->
                      new Unfillable(
                          "there is no operation " + call.operation() + " of " + call.service()));
      RemoteCalls.Kept fresh = fresh(attempt, call, operation);
      records.begin(attempt.id(), attempt.number(), call, fresh);
      follow(attempt, call, fresh).begin();
    } catch (Unfillable e) {
      reports.ended(attempt, new Ending(Ending.Kind.NO_VALUE, -1, e.getMessage()), Map.of());
    }
  }

  /** By the board, as it stands now. */
  private boolean isStill(Attempt attempt) {
    return engine.look(
        board ->
            board
                .status(attempt.id())
                .filter(
                    status -> status.attempts() == attempt.number() && status.state().isActive())
                .isPresent());
  }

  private Call call(Attempt attempt) {
    Call call = (Call) attempt.run().run().job().work();
    Definitions all = engine.definitions();
    return all.remoteService(call.service())
        .flatMap(service -> all.connection(service.connection()))
        .map(connection -> call.over(connection.bearsOutage()))
        .orElse(call);
  }

  static Optional<Operation> operation(Definitions definitions, Call call) {
    return definitions
        .remoteService(call.service())
        .flatMap(service -> service.operation(call.operation()));
  }

  /** Fills in all that its requests may ask for, now: what comes later does not change it. */
  private RemoteCalls.Kept fresh(Attempt attempt, Call call, Operation operation) {
    Map<String, String> filled = new LinkedHashMap<>();
    String id =
        fillings.of(
            attempt,
            filling -> {
              for (String inner : operation.asked(call)) {
                filled.put(inner, filling.text("${" + inner + "}"));
              }
              return filling.text(call.id());
            });
    if (call.follows() && !call.id().isEmpty() && id.isBlank()) {
      throw new Unfillable("the id of what is to be followed is empty");
    }
    Pursuit pursuit =
        Pursuit.begins(call, UUID.randomUUID().toString(), id.strip(), clock.instant());
    return new RemoteCalls.Kept(pursuit, filled);
  }

  private Follower follow(Attempt attempt, Call call, RemoteCalls.Kept kept) {
    Follower follower = new Follower(this, attempt, call, kept);
    Follower before = going.put(key(attempt), follower);
    if (before != null) {
      before.letGo();
    }
    return follower;
  }

  private static RemoteCallRow.Key key(Attempt attempt) {
    return new RemoteCallRow.Key(attempt.id(), attempt.number());
  }

  @Override
  public void stop(Attempt attempt, Duration grace) {
    Instant forced = clock.instant().plus(grace);
    threads.execute(() -> stop(attempt, forced));
  }

  /** It may be asked to stop before it is on record: then once it is, if it ever is. */
  private void stop(Attempt attempt, Instant forced) {
    Follower follower = going.get(key(attempt));
    if (follower != null) {
      follower.stop(forced);
    } else if (!threads.isShutdown() && isStill(attempt)) {
      threads.schedule(() -> stop(attempt, forced), AGAIN_MILLIS / 20, TimeUnit.MILLISECONDS);
    }
  }

  @Override
  public void letGo() {
    going.values().forEach(Follower::letGo);
    going.clear();
  }

  void gone(Attempt attempt, Follower follower) {
    going.remove(key(attempt), follower);
  }

  /**
   * A person says what nobody else can: as what a run is known there, or that it did not begin.
   *
   * @param id empty where it did not begin
   * @return false where nobody asks that of this run
   */
  public boolean said(long run, String id) {
    Optional<Follower> asked =
        going.entrySet().stream()
            .filter(one -> one.getKey().run() == run && one.getValue().asksPerson())
            .map(Map.Entry::getValue)
            .findFirst();
    asked.ifPresent(follower -> follower.said(id));
    return asked.isPresent();
  }

  // ---- what a follower needs

  RemoteCalls records() {
    return records;
  }

  Reports reports() {
    return reports;
  }

  Definitions definitions() {
    return engine.definitions();
  }

  Sites sites() {
    return sites;
  }

  ScheduledExecutorService threads() {
    return threads;
  }

  Instant now() {
    return clock.instant();
  }
}
