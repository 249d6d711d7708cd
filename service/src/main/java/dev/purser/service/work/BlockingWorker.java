package dev.purser.service.work;

import dev.purser.core.run.Ending;
import dev.purser.core.schedule.Durations;
import jakarta.annotation.PreDestroy;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/**
 * A worker whose attempts wait: each has a thread while it does something. What fails for want of
 * our own database is tried again until it is on record; a far side that is away is borne.
 */
public abstract class BlockingWorker implements Worker {
  private static final Logger LOG = LoggerFactory.getLogger(BlockingWorker.class);
  private static final long AGAIN_MILLIS = 2_000;
  private static final int STOPS_AT_ONCE = 4;

  private final BegunAttempts records;
  private final Reports reports;
  private final Clock clock;
  private final Set<Going> going = ConcurrentHashMap.newKeySet();
  private final ScheduledExecutorService threads;
  private final ScheduledExecutorService stops;

  /**
   * Makes one.
   *
   * @param name of its threads
   * @param atOnce how many attempts do something at once
   */
  protected BlockingWorker(
      String name, int atOnce, BegunAttempts records, Reports reports, Clock clock) {
    this.records = records;
    this.reports = reports;
    this.clock = clock;
    this.threads = threads(atOnce, name);
    this.stops = threads(STOPS_AT_ONCE, name + " that stop");
  }

  private static ScheduledExecutorService threads(int count, String name) {
    return Executors.newScheduledThreadPool(
        count,
        work -> {
          Thread thread = new Thread(work, name);
          thread.setDaemon(true);
          return thread;
        });
  }

  /** An attempt that is going on here. */
  public static class Going {
    private final Attempt attempt;
    private Instant awaySince;
    private volatile BegunAttempts.Ended ended;

    /** Whether it is known that no end of it was on record before. */
    private boolean lookedUp;

    private volatile boolean stopped;
    private volatile boolean letGo;
    private volatile boolean dead;
    private volatile boolean busy;

    /** For an attempt. */
    protected Going(Attempt attempt) {
      this.attempt = attempt;
    }

    /** Which it is. */
    public Attempt attempt() {
      return attempt;
    }

    /** Whether it was asked to stop. */
    public boolean isStopped() {
      return stopped;
    }

    /** Whether another service has it now: nothing more is done and said. */
    public boolean isLetGo() {
      return letGo;
    }

    /** Whether all is as if the process had ended: not even its end is put on record. */
    public boolean isDead() {
      return dead;
    }

    /** The far side is there. */
    public void back() {
      awaySince = null;
    }
  }

  /** Carries out an attempt, or goes on with it; what it throws has it called again soon. */
  protected abstract void carryOut(Going one);

  /** What is known of an attempt while it goes on here. */
  protected Going going(Attempt attempt) {
    return new Going(attempt);
  }

  /**
   * Asks what an attempt does to end; it has been told that it is stopped. On a thread of its own.
   */
  protected void interrupt(Going one) {}

  /** Cuts off what an attempt does: its grace is over, or the process ends. */
  protected void cut(Going one) {}

  @PreDestroy
  void close() {
    cutOff();
    threads.shutdownNow();
    stops.shutdownNow();
  }

  /** As where the process ends: what goes on breaks, and nothing more is known here. */
  public final synchronized void cutOff() {
    for (Going one : going) {
      one.letGo = true;
      one.dead = true;
      cut(one);
    }
    going.clear();
  }

  /** What is still at it here, since before it was let go, simply goes on. */
  @Override
  public synchronized void start(Attempt attempt) {
    for (Going one : of(attempt)) {
      if (one.busy) {
        one.letGo = false;
        return;
      }
    }
    Going one = going(attempt);
    going.add(one);
    threads.execute(() -> orAgain(one));
  }

  private List<Going> of(Attempt attempt) {
    return going.stream()
        .filter(one -> one.attempt.id() == attempt.id() && one.attempt.number() == attempt.number())
        .toList();
  }

  @Override
  public void takeUp(Attempt attempt) {
    start(attempt);
  }

  private void orAgain(Going one) {
    if (!begins(one)) {
      return;
    }
    try {
      if (one.ended == null && !one.lookedUp) {
        records
            .of(one.attempt.id(), one.attempt.number())
            .ended()
            .ifPresent(ended -> one.ended = ended);
        one.lookedUp = true;
      }
      if (one.ended != null) {
        put(one);
      } else {
        carryOut(one);
      }
    } catch (RuntimeException e) {
      LOG.warn("run {} cannot go on now, and is tried again: {}", one.attempt.id(), e.getMessage());
      again(one);
    } finally {
      one.busy = false;
    }
  }

  private synchronized boolean begins(Going one) {
    one.busy = !one.letGo && !threads.isShutdown();
    if (!one.busy) {
      going.remove(one);
    }
    return one.busy;
  }

  /** Writes a line of its own into the output. */
  protected void say(Going one, String line) {
    reports.output(one.attempt, line);
  }

  /** Clears away what an attempt has left behind, once its end is on record. */
  protected void clear(Going one) {}

  /** Goes on with it a little later. */
  protected void again(Going one) {
    again(one, AGAIN_MILLIS);
  }

  /** Goes on with it after so many milliseconds. */
  protected void again(Going one, long millis) {
    if (!threads.isShutdown()) {
      threads.schedule(() -> orAgain(one), millis, TimeUnit.MILLISECONDS);
    }
  }

  /** The far side is away: borne for so long, and told once. */
  protected void away(Going one, String why, Duration bears) {
    away(one, why, bears, Ending.Kind.NOT_STARTED);
  }

  /**
   * The same.
   *
   * @param beyond how it ends where it was away for longer than is borne
   */
  protected void away(Going one, String why, Duration bears, Ending.Kind beyond) {
    if (one.dead) {
      return;
    }
    Instant now = clock.instant();
    if (one.awaySince == null) {
      say(one, why + "; borne for " + Durations.print(bears) + "\n");
      reports.told(one.attempt, why, false);
      one.awaySince = now;
    }
    if (now.isBefore(one.awaySince.plus(bears))) {
      again(one);
    } else {
      String text = why + ", for " + Durations.print(bears);
      over(one, new Ending(beyond, -1, text), Map.of());
    }
  }

  /** It has ended. Of one that was let go it is put on record, for whoever takes it up. */
  protected void over(Going one, Ending ending, Map<String, String> values) {
    if (one.dead) {
      return;
    }
    one.ended = new BegunAttempts.Ended(ending, values);
    if (one.letGo) {
      records.end(one.attempt.id(), one.attempt.number(), one.ended);
    }
    if (!isGone(one)) {
      put(one);
    }
  }

  /** It may have been taken up here again while its end was put on record. */
  private synchronized boolean isGone(Going one) {
    if (one.letGo) {
      going.remove(one);
    }
    return one.letGo;
  }

  /** Until it is on record. */
  private void put(Going one) {
    Attempt attempt = one.attempt;
    records.end(attempt.id(), attempt.number(), one.ended);
    clear(one);
    reports
        .ended(attempt, one.ended.ending(), one.ended.values())
        .whenComplete(
            (done, failure) -> {
              if (failure == null) {
                going.remove(one);
              } else {
                again(one);
              }
            });
  }

  @Override
  public void stop(Attempt attempt, Duration grace) {
    for (Going one : of(attempt)) {
      one.stopped = true;
      stops.execute(() -> interrupt(one));
      stops.schedule(() -> cut(one), grace.toMillis(), TimeUnit.MILLISECONDS);
    }
  }

  @Override
  public synchronized void letGo() {
    going.forEach(one -> one.letGo = true);
    going.removeIf(one -> !one.busy);
  }
}
