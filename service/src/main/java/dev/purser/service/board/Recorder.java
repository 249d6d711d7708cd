package dev.purser.service.board;

import dev.purser.service.active.GrowingWait;
import java.time.Clock;
import java.time.Duration;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.util.backoff.BackOffExecution;

/** Puts turns on record, one after the other, however long the database is away meanwhile. */
final class Recorder {
  private static final Logger LOG = LoggerFactory.getLogger(Recorder.class);
  private static final GrowingWait AGAIN =
      new GrowingWait(Duration.ofMillis(100), Duration.ofSeconds(2));
  private static final long AWAY_FOR_LONG_MILLIS = 20_000;

  private final EngineRecords records;
  private final Clock clock;
  private final Runnable cutOff;
  private volatile boolean away;
  private RuntimeException lastCause;
  private long turns;

  /**
   * Writes by the given records.
   *
   * @param cutOff is run once where the database has been away for so long that another service may
   *     be active by now
   */
  Recorder(EngineRecords records, Clock clock, Runnable cutOff) {
    this.records = records;
    this.clock = clock;
    this.cutOff = cutOff;
  }

  /** Whether the database could not be reached when it was asked last. */
  boolean isAway() {
    return away;
  }

  /** The database has answered somebody else. */
  void isThere() {
    away = false;
  }

  /** The database has not answered somebody else. */
  void isGone() {
    away = true;
  }

  /** Why the last turn that can never be written cannot. */
  RuntimeException lastCause() {
    return lastCause;
  }

  /** The turns of this service are counted from here. */
  void begin() {
    turns = 0;
  }

  /**
   * Writes a turn, however long that takes.
   *
   * @return false where it can never be written
   * @throws Lease.Lost where another service is the active one
   */
  boolean write(Turn turn) throws InterruptedException {
    turns++;
    BackOffExecution pauses = AGAIN.begin();
    long since = clock.millis();
    boolean isCut = false;
    while (true) {
      try {
        records.write(turn, turns);
        if (away) {
          LOG.info("the database is back");
          away = false;
        }
        return true;
      } catch (RuntimeException e) {
        if (e instanceof Lease.Lost lost) {
          away = false;
          throw lost;
        }
        if (!DatabaseAway.is(e)) {
          LOG.error("cannot record a turn; taking the board up again from the records", e);
          lastCause = e;
          waitForDatabase();
          return false;
        }
        if (!away) {
          LOG.warn("the database is away; holding what has come in: {}", e.getMessage());
          away = true;
        }
      }
      if (!isCut && clock.millis() - since > AWAY_FOR_LONG_MILLIS) {
        isCut = true;
        cutOff.run();
      }
      Thread.sleep(pauses.nextBackOff());
    }
  }

  void waitForDatabase() throws InterruptedException {
    while (!records.isThere()) {
      away = true;
      Thread.sleep(500);
    }
    away = false;
  }
}
