package dev.purser.service.board;

import dev.purser.core.board.Board;
import dev.purser.core.board.BoardView;
import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.forecast.Outlook;
import dev.purser.service.Settings;
import dev.purser.service.active.Active;
import dev.purser.service.active.LastResort;
import dev.purser.service.active.NotNow;
import io.micrometer.core.instrument.Counter;
import io.micrometer.core.instrument.Gauge;
import io.micrometer.core.instrument.MeterRegistry;
import io.micrometer.core.instrument.Timer;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
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

  /** A turn takes as long only where the loop hangs. */
  private static final long LONGEST_TURN_MILLIS = 120_000;

  private final Inbox<Asked<?>> inbox = new Inbox<>(MOST_ASKED, MOST_NEWS);
  private final InForce inForce = new InForce();

  private final LastResort lastResort;

  private volatile boolean running;
  private volatile boolean active;
  private final Recorder recorder;
  private final Aside aside;
  private volatile long lastTurn;
  private long lastLook;
  private boolean justTakenUp;
  private long began;
  private Thread loop;

  Engine(
      EngineRecords records,
      Lease lease,
      ApplicationEventPublisher publisher,
      Clock clock,
      Settings settings,
      List<InTurn> inTurn,
      LastResort lastResort,
      MeterRegistry meters) {
    this.lastResort = lastResort;
    this.inTurn = inTurn;
    this.records = records;
    this.lease = lease;
    this.standby = settings.standby();
    this.publisher = publisher;
    this.recorder = new Recorder(records, clock, () -> publisher.publishEvent(new CutOff()));
    this.aside = new Aside(records);
    this.clock = clock;
    this.missedMillis = settings.missedAfter().toMillis();
    this.eventCount = meters.counter("purser.board.events");
    this.turnTime =
        Timer.builder("purser.engine.turn").publishPercentiles(0.5, 0.99).register(meters);
    this.writeTime =
        Timer.builder("purser.engine.write").publishPercentiles(0.5, 0.99).register(meters);
    Gauge.builder("purser.board.runs", () -> inForce.board().size()).register(meters);
    Gauge.builder("purser.engine.inbox", inbox::size).register(meters);
    Gauge.builder("purser.engine.active", () -> active ? 1 : 0).register(meters);
    Gauge.builder("purser.engine.epoch", lease::epoch).register(meters);
    Gauge.builder("purser.engine.database.away", () -> recorder.isAway() ? 1 : 0).register(meters);
  }

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
   * @return the result, once it is on record; {@link NotNow} where that takes too long
   */
  public <T> CompletableFuture<T> ask(Task<T> task) {
    Asked<T> asked = new Asked<>(task);
    return active && inbox.ask(asked) ? asked.inTime() : refused();
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
    Asked<T> asked = new Asked<>(task);
    return active && inbox.tell(asked) ? asked.answer() : refused();
  }

  /**
   * Takes news that must come to an end: what is too much for the records is said shorter.
   *
   * @param instead is done where the news can never be put on record
   */
  public <T> CompletableFuture<T> hear(Task<T> task, Task<T> instead) {
    Asked<T> asked = new Asked<>(task, instead);
    return active && inbox.tell(asked) ? asked.answer() : refused();
  }

  /** Tells the board of an event, with the time at which it is applied. */
  public CompletableFuture<List<Instruction>> tell(
      java.util.function.LongFunction<BoardEvent> event) {
    return ask(turn -> turn.apply(event.apply(turn.now())));
  }

  /**
   * Looks at the board; the answer must not keep it. Never waits for the database.
   *
   * @throws NotNow where the engine is busy with the board for too long
   */
  public <T> T look(Function<BoardView, T> question) {
    return inForce.look(question);
  }

  /** The definitions in force. */
  public Definitions definitions() {
    return inForce.definitions();
  }

  /** The revision of the definitions in force. */
  public long revision() {
    return inForce.revision();
  }

  /** Whether the engine decides and can write; or stands by, and could. */
  public boolean isWell() {
    return running && !recorder.isAway() && clock.millis() - lastTurn < 30_000;
  }

  /** Whether its loop goes round: a database that is away is waited for, and no reason to end. */
  public boolean isAlive() {
    return !running || recorder.isAway() || clock.millis() - lastTurn < LONGEST_TURN_MILLIS;
  }

  /** Whether the database cannot be reached just now. */
  public boolean isDatabaseAway() {
    return recorder.isAway();
  }

  @Override
  public boolean isActive() {
    return active;
  }

  @Override
  public boolean isSure() {
    return active && lease.isSure();
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
      recorder.begin();
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
    inForce.replace(fresh, found.definitions(), found.revision());
    inTurn.forEach(one -> one.takeUp(fresh, now));
    justTakenUp = true;
    lastTurn = now;
    LOG.info(
        "taken up {} runs at revision {} in {} ms",
        fresh.size(),
        found.revision(),
        TimeUnit.NANOSECONDS.toMillis(System.nanoTime() - begun));
  }

  /** A host with work on it whose agent never comes back is away from now on. */
  private static void countAsAway(Turn turn) {
    for (String host : turn.board().hostsAtWork()) {
      turn.apply(new BoardEvent.HostLost(turn.now(), host));
    }
  }

  /** However it ends while it should run, the process ends with it. */
  private void loop() {
    try {
      while (running) {
        takeTurns();
      }
    } catch (InterruptedException e) {
      if (running) {
        lastResort.end("the engine was interrupted", e);
      }
    } catch (Throwable e) {
      lastResort.end("the engine cannot go on", e);
    }
  }

  private void takeTurns() throws InterruptedException {
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
    } catch (RuntimeException e) {
      LOG.error("the engine could not take a turn", e);
    }
  }

  /** Waits until the active service is gone, and takes its place. */
  private void standBy() throws InterruptedException {
    Thread.sleep(STAND_BY_MILLIS);
    lastTurn = clock.millis();
    boolean mayTake = !standby || lease.wasSeenHeld() || lastTurn - began > LET_OTHERS_FIRST_MILLIS;
    try {
      boolean taken = mayTake ? lease.tryTake() : lease.look();
      recorder.isThere();
      if (taken) {
        LOG.warn("this service is the active one now, of epoch {}", lease.epoch());
        takeUp();
        recorder.begin();
        active = true;
        publisher.publishEvent(new TakenUp());
      }
    } catch (RuntimeException e) {
      if (!recorder.isAway()) {
        LOG.warn("cannot look after the lease while standing by: {}", e.getMessage());
      }
      recorder.isGone();
    }
  }

  private void renew() {
    try {
      if (active) {
        lease.renewWhereDue();
      }
    } catch (Lease.Lost e) {
      stepDown(List.of());
    } catch (RuntimeException e) {
      LOG.debug("cannot renew the lease just now", e); // the next turn finds out
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
    long nap =
        Math.max(0, Math.min(inForce.board().nextWake() - clock.millis(), LONGEST_NAP_MILLIS));
    return inbox.take(nap, BATCH);
  }

  private void turn(List<Asked<?>> batch) throws InterruptedException {
    lastTurn = clock.millis();
    boolean wasAway = lastTurn - lastLook > missedMillis;
    lastLook = lastTurn;
    boolean isDue = inForce.board().nextWake() <= lastTurn;
    if (batch.isEmpty() && !isDue && !justTakenUp) {
      return;
    }
    Turn turn =
        new Turn(inForce.board(), inForce.definitions(), inForce.revision(), records, lastTurn);
    List<Asked<?>> carriedOut = new ArrayList<>();
    List<Runnable> answers = new ArrayList<>();
    boolean isWhole;
    inForce.hold();
    try {
      aside.hold(turn);
      if (wasAway) {
        turn.apply(new BoardEvent.StartsMissed(turn.now(), lastTurn - missedMillis));
      }
      turn.apply(new BoardEvent.TimeReached(lastTurn));
      if (justTakenUp) {
        justTakenUp = false;
        countAsAway(turn);
      }
      for (Asked<?> asked : batch) {
        if (asked.begun().compareAndSet(false, true)) { // else nobody waits for it any more
          carriedOut.add(asked);
          answers.add(asked.carryOut(turn));
        }
      }
      isWhole = complete(turn);
      inForce.define(turn.definitions(), turn.revision());
    } finally {
      inForce.letGo();
    }
    eventCount.increment(turn.applied().size());
    boolean recorded;
    try {
      long begun = System.nanoTime();
      recorded = isWhole && recorder.write(turn);
      writeTime.record(System.nanoTime() - begun, TimeUnit.NANOSECONDS);
    } catch (Lease.Lost e) {
      stepDown(batch);
      return;
    }
    if (recorded) {
      aside.isHeld();
      lease.turnIsOnRecord();
      publisher.publishEvent(new Committed(turn.changes(), turn.applied(), turn.instructions()));
      answers.forEach(Runnable::run);
    } else {
      boolean byTime = isWhole && carriedOut.size() < 2 && aside.lookFor(turn);
      takeUpAgain();
      publisher.publishEvent(new TakenUp());
      if (!byTime && carriedOut.isEmpty()) {
        Thread.sleep(500); // the same comes again, until somebody has mended it
      }
      if (byTime) {
        again(carriedOut);
      } else {
        eachForItself(carriedOut); // who was told that nothing was done is not in it
      }
    }
  }

  /** What kept the turn from the records is set aside: what was asked beside it is done now. */
  private void again(List<Asked<?>> batch) throws InterruptedException {
    List<Asked<?>> asked = new ArrayList<>();
    batch.forEach(one -> asked.add(one.again()));
    turn(asked);
  }

  /** One of them cannot be put on record: each is done by itself, and that one is refused. */
  private void eachForItself(List<Asked<?>> batch) throws InterruptedException {
    if (batch.size() > 1) {
      for (Asked<?> one : batch) {
        turn(List.of(one.again()));
      }
      return;
    }
    for (Asked<?> one : batch) {
      Optional<? extends Asked<?>> other = one.other();
      if (other.isPresent()) {
        turn(List.of(other.get()));
      } else {
        one.answer().completeExceptionally(new NotRecorded(recorder.lastCause()));
      }
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
      recorder.waitForDatabase();
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
        recorder.waitForDatabase();
        Thread.sleep(500);
      }
    }
  }
}
