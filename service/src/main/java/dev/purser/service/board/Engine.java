package dev.purser.service.board;

import dev.purser.core.board.Board;
import dev.purser.core.board.BoardEvent;
import dev.purser.core.board.BoardView;
import dev.purser.core.board.Instruction;
import dev.purser.core.definition.Definitions;
import dev.purser.core.forecast.Outlook;
import dev.purser.service.Settings;
import dev.purser.service.active.Active;
import dev.purser.service.active.NotNow;
import io.micrometer.core.instrument.Counter;
import io.micrometer.core.instrument.Gauge;
import io.micrometer.core.instrument.MeterRegistry;
import io.micrometer.core.instrument.Timer;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.ReentrantLock;
import java.util.function.Function;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.context.SmartLifecycle;
import org.springframework.stereotype.Component;

/**
 * The one writer. It takes what has come in, applies it to the board, writes all that has changed
 * in one transaction, and only then lets the instructions out and answers those who asked. While
 * the database is away it holds the batch and tries again; what it can never write makes it take up
 * the board anew from the records.
 */
@Component
public class Engine implements SmartLifecycle, Active {
  private static final Logger LOG = LoggerFactory.getLogger(Engine.class);
  private static final int BATCH = 2_000;
  private static final int MOST_ASKED = 20_000;

  /** Agents hold back what was not answered: more than a few hundred each never come. */
  private static final int MOST_NEWS = 500_000;

  private static final long STAND_BY_MILLIS = 500;
  private static final long LET_OTHERS_FIRST_MILLIS = 15_000;
  private static final long AWAY_FOR_LONG_MILLIS = 20_000;
  private static final long LONGEST_NAP_MILLIS = 1_000;

  private final EngineRecords records;
  private final Lease lease;
  private final boolean standby;
  private final ApplicationEventPublisher publisher;
  private final Clock clock;
  private final List<InTurn> inTurn;
  private final long missedMillis;
  private final Counter eventCount;
  private final Timer turnTime;
  private final Timer writeTime;
  private final Inbox<Asked<?>> inbox = new Inbox<>(MOST_ASKED, MOST_NEWS);
  private final ReentrantLock boardLock = new ReentrantLock();

  private volatile Board board = new Board();
  private volatile Definitions definitions = Definitions.none();
  private volatile long revision;
  private volatile boolean running;
  private volatile boolean active;
  private volatile boolean databaseAway;
  private volatile long lastTurn;
  private long lastLook;
  private boolean justTakenUp;
  private long lastRenewed;
  private long began;
  private long turns;
  private Thread loop;

  Engine(
      EngineRecords records,
      Lease lease,
      ApplicationEventPublisher publisher,
      Clock clock,
      Settings settings,
      List<InTurn> inTurn,
      MeterRegistry meters) {
    this.inTurn = inTurn;
    this.records = records;
    this.lease = lease;
    this.standby = settings.standby();
    this.publisher = publisher;
    this.clock = clock;
    this.missedMillis = settings.missedAfter().toMillis();
    this.eventCount = meters.counter("purser.board.events");
    this.turnTime =
        Timer.builder("purser.engine.turn").publishPercentiles(0.5, 0.99).register(meters);
    this.writeTime =
        Timer.builder("purser.engine.write").publishPercentiles(0.5, 0.99).register(meters);
    Gauge.builder("purser.board.runs", () -> board.size()).register(meters);
    Gauge.builder("purser.engine.inbox", inbox::size).register(meters);
    Gauge.builder("purser.engine.active", () -> active ? 1 : 0).register(meters);
    Gauge.builder("purser.engine.epoch", lease::epoch).register(meters);
    Gauge.builder("purser.engine.database.away", () -> databaseAway ? 1 : 0).register(meters);
  }

  /** What somebody asks of the engine; it is carried out on the engine's thread. */
  public interface Task<T> {
    /**
     * Does it.
     *
     * @throws RuntimeException to refuse: nothing of this task may have been applied by then
     */
    T carryOut(Turn turn);
  }

  /** A task and who waits for its result. */
  private record Asked<T>(Task<T> task, CompletableFuture<T> answer) {}

  /**
   * What a batch has changed, told after it is on record.
   *
   * @param events what the board was told, in order: a like board, told the same, gives the same
   *     instructions
   */
  public record Committed(
      List<Turn.Change> changes, List<BoardEvent> events, List<Instruction> instructions) {}

  /** The board was taken up from the records: agents must say anew what they know. */
  public record TakenUp() {}

  /** This service decides no more: another has become the active one. */
  public record SteppedDown() {}

  /** The database has been away for so long that another service may be active by now. */
  public record CutOff() {}

  /**
   * Asks for something to be done.
   *
   * @return the result, once it is on record
   */
  public <T> CompletableFuture<T> ask(Task<T> task) {
    Asked<T> asked = new Asked<>(task, new CompletableFuture<>());
    return active && inbox.ask(asked) ? asked.answer() : refused();
  }

  private <T> CompletableFuture<T> refused() {
    return CompletableFuture.failedFuture(
        new NotNow(
            active
                ? "the engine has too much to do; try again in a moment"
                : "this service stands by: " + lease.inWords()));
  }

  /**
   * Takes news from an agent; it comes after what people ask.
   *
   * @return the result, once it is on record
   */
  public <T> CompletableFuture<T> hear(Task<T> task) {
    Asked<T> asked = new Asked<>(task, new CompletableFuture<>());
    return active && inbox.tell(asked) ? asked.answer() : refused();
  }

  /** Tells the board of an event, with the time at which it is applied. */
  public CompletableFuture<List<Instruction>> tell(
      java.util.function.LongFunction<BoardEvent> event) {
    return ask(turn -> turn.apply(event.apply(turn.now())));
  }

  /** Looks at the board; the answer must not keep it. Never waits for the database. */
  public <T> T look(Function<BoardView, T> question) {
    boardLock.lock();
    try {
      return question.apply(board);
    } finally {
      boardLock.unlock();
    }
  }

  /** The definitions in force. */
  public Definitions definitions() {
    return definitions;
  }

  /** The revision of the definitions in force. */
  public long revision() {
    return revision;
  }

  /** Whether the engine decides and can write; or stands by, and could. */
  public boolean isWell() {
    return running && !databaseAway && clock.millis() - lastTurn < 30_000;
  }

  /** Whether the database cannot be reached just now. */
  public boolean isDatabaseAway() {
    return databaseAway;
  }

  @Override
  public boolean isActive() {
    return active;
  }

  /** Counts the services that have been active on the records; 0 before this one was. */
  public long epoch() {
    return lease.epoch();
  }

  /** What waits to be done. */
  public int backlog() {
    return inbox.size();
  }

  @Override
  public void start() {
    running = true;
    began = clock.millis();
    lastTurn = began;
    if (!standby && lease.tryTake()) {
      takeUp();
      turns = 0;
      active = true;
    }
    loop = new Thread(this::loop, "engine");
    loop.start();
  }

  @Override
  public void stop() {
    running = false;
    if (loop != null) {
      loop.interrupt();
      try {
        loop.join(10_000);
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
      }
    }
    if (active) {
      active = false;
      lease.giveUp();
    }
  }

  @Override
  public boolean isRunning() {
    return running;
  }

  @Override
  public int getPhase() {
    return Integer.MIN_VALUE + 1_000; // before the web server takes requests, and after it stops
  }

  private void takeUp() {
    long begun = System.nanoTime();
    EngineRecords.Found found = records.load();
    Board fresh = new Board();
    long now = clock.millis();
    fresh.apply(Outlook.site(found.definitions(), found.lastEventAt()));
    found.standing().forEach(fresh::apply);
    // Taken up at the time of the records: what fell due since is decided in the first turn, whose
    // instructions are recorded and let out like all others.
    fresh.apply(new BoardEvent.RunsRestored(found.lastEventAt(), found.runs()));
    boardLock.lock();
    try {
      board = fresh;
      definitions = found.definitions();
      revision = found.revision();
    } finally {
      boardLock.unlock();
    }
    inTurn.forEach(one -> one.takeUp(fresh, now));
    justTakenUp = true;
    lastTurn = now;
    LOG.info(
        "taken up {} runs at revision {} in {} ms",
        fresh.size(),
        revision,
        TimeUnit.NANOSECONDS.toMillis(System.nanoTime() - begun));
  }

  /** A host with work on it whose agent never comes back is away from now on. */
  private static void countAsAway(Turn turn) {
    for (String host : turn.board().hostsAtWork()) {
      turn.apply(new BoardEvent.HostLost(turn.now(), host));
    }
  }

  private void loop() {
    while (running) {
      try {
        if (active) {
          List<Asked<?>> batch = nextBatch();
          long begun = System.nanoTime();
          turn(batch);
          if (!batch.isEmpty()) {
            turnTime.record(System.nanoTime() - begun, TimeUnit.NANOSECONDS);
          }
          renew();
        } else {
          standBy();
        }
      } catch (InterruptedException e) {
        return;
      } catch (RuntimeException e) {
        LOG.error("the engine could not take a turn", e);
      }
    }
  }

  /** Waits until the active service is gone, and takes its place. */
  private void standBy() throws InterruptedException {
    Thread.sleep(STAND_BY_MILLIS);
    lastTurn = clock.millis();
    boolean mayTake = !standby || lease.wasSeenHeld() || lastTurn - began > LET_OTHERS_FIRST_MILLIS;
    try {
      boolean taken = mayTake ? lease.tryTake() : lease.look();
      databaseAway = false;
      if (taken) {
        LOG.warn("this service is the active one now, of epoch {}", lease.epoch());
        takeUp();
        turns = 0;
        active = true;
        publisher.publishEvent(new TakenUp());
      }
    } catch (RuntimeException e) {
      if (!databaseAway) {
        LOG.warn("cannot look after the lease while standing by: {}", e.getMessage());
      }
      databaseAway = true;
    }
  }

  private void renew() {
    long now = clock.millis();
    if (!active || now - lastRenewed < Lease.RENEW_MILLIS) {
      return;
    }
    try {
      lease.renew();
      lastRenewed = now;
    } catch (Lease.Lost e) {
      stepDown(List.of());
    } catch (RuntimeException e) {
      LOG.debug("cannot renew the lease just now", e);
      lastRenewed = now; // the next turn finds out
    }
  }

  /** Another is active: nothing that is not on record was done here. */
  private void stepDown(List<Asked<?>> batch) {
    LOG.warn("another service has become the active one; this one stands by");
    active = false;
    List<Asked<?>> all = new ArrayList<>(batch);
    try {
      all.addAll(inbox.take(0, Integer.MAX_VALUE));
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
    NotNow cause = new NotNow("another service has become the active one; ask that one");
    all.forEach(asked -> asked.answer().completeExceptionally(cause));
    publisher.publishEvent(new SteppedDown());
  }

  private List<Asked<?>> nextBatch() throws InterruptedException {
    long nap = Math.max(0, Math.min(board.nextWake() - clock.millis(), LONGEST_NAP_MILLIS));
    return inbox.take(nap, BATCH);
  }

  private void turn(List<Asked<?>> batch) throws InterruptedException {
    lastTurn = clock.millis();
    boolean wasAway = lastTurn - lastLook > missedMillis;
    lastLook = lastTurn;
    boolean isDue = board.nextWake() <= lastTurn;
    if (batch.isEmpty() && !isDue && !justTakenUp) {
      return;
    }
    Turn turn = new Turn(board, definitions, revision, records, lastTurn);
    List<Runnable> answers = new ArrayList<>();
    boolean isWhole;
    boardLock.lock();
    try {
      if (wasAway) {
        turn.apply(new BoardEvent.StartsMissed(turn.now(), lastTurn - missedMillis));
      }
      turn.apply(new BoardEvent.TimeReached(lastTurn));
      if (justTakenUp) {
        justTakenUp = false;
        countAsAway(turn);
      }
      for (Asked<?> asked : batch) {
        answers.add(carryOut(asked, turn));
      }
      isWhole = complete(turn);
      definitions = turn.definitions();
      revision = turn.revision();
    } finally {
      boardLock.unlock();
    }
    eventCount.increment(turn.applied().size());
    boolean recorded;
    try {
      long begun = System.nanoTime();
      recorded = isWhole && record(turn);
      writeTime.record(System.nanoTime() - begun, TimeUnit.NANOSECONDS);
    } catch (Lease.Lost e) {
      stepDown(batch);
      return;
    }
    lastRenewed = lastTurn;
    if (recorded) {
      publisher.publishEvent(new Committed(turn.changes(), turn.applied(), turn.instructions()));
      answers.forEach(Runnable::run);
    } else {
      NotNow cause = new NotNow("this could not be put on record and was not done");
      batch.forEach(asked -> asked.answer().completeExceptionally(cause));
      takeUpAgain();
      publisher.publishEvent(new TakenUp());
    }
  }

  /**
   * Decides, and has other rooms follow up, until nothing more follows; false where that cannot be
   * told.
   */
  private boolean complete(Turn turn) throws InterruptedException {
    try {
      do {
        inTurn.forEach(one -> one.complete(turn));
        turn.decide();
        inTurn.forEach(one -> one.complete(turn));
      } while (!turn.isDecided());
      return true;
    } catch (RuntimeException e) {
      LOG.error("cannot follow up a turn; taking all up again from the records", e);
      waitForDatabase();
      return false;
    }
  }

  /** What was decided last is not on record: nothing may be decided upon it. */
  private void takeUpAgain() throws InterruptedException {
    while (true) {
      try {
        takeUp();
        return;
      } catch (RuntimeException e) {
        LOG.warn("cannot take up the records just now: {}", e.toString());
        waitForDatabase();
        Thread.sleep(500);
      }
    }
  }

  private static <T> Runnable carryOut(Asked<T> asked, Turn turn) {
    try {
      T result = asked.task().carryOut(turn);
      return () -> asked.answer().complete(result);
    } catch (RuntimeException e) {
      return () -> asked.answer().completeExceptionally(e);
    }
  }

  /** Writes a turn; false where it can never be written. */
  private boolean record(Turn turn) throws InterruptedException {
    turns++;
    long pause = 100;
    long since = clock.millis();
    boolean cutOff = false;
    while (true) {
      try {
        records.write(turn, turns);
        if (databaseAway) {
          LOG.info("the database is back");
          databaseAway = false;
        }
        return true;
      } catch (RuntimeException e) {
        if (e instanceof Lease.Lost lost) {
          databaseAway = false;
          throw lost;
        }
        if (!EngineRecords.isAway(e)) {
          LOG.error("cannot record a turn; taking the board up again from the records", e);
          waitForDatabase();
          return false;
        }
        if (!databaseAway) {
          LOG.warn("the database is away; holding what has come in: {}", e.getMessage());
          databaseAway = true;
        }
      }
      if (!cutOff && clock.millis() - since > AWAY_FOR_LONG_MILLIS) {
        cutOff = true;
        publisher.publishEvent(new CutOff());
      }
      Thread.sleep(pause);
      pause = Math.min(pause * 2, 2_000);
    }
  }

  private void waitForDatabase() throws InterruptedException {
    while (!records.isThere()) {
      databaseAway = true;
      Thread.sleep(500);
    }
    databaseAway = false;
  }
}
