package dev.purser.service.container;

import dev.purser.core.container.Container;
import dev.purser.core.definition.Connection;
import dev.purser.core.definition.Definitions;
import dev.purser.core.fill.Unfillable;
import dev.purser.core.job.Where;
import dev.purser.core.job.Work;
import dev.purser.core.run.Ending;
import dev.purser.core.run.RunState;
import dev.purser.core.values.HandedBack;
import dev.purser.remote.cluster.Cluster;
import dev.purser.remote.cluster.ClusterTrouble;
import dev.purser.remote.cluster.Piece;
import dev.purser.remote.cluster.Standing;
import dev.purser.remote.http.Road;
import dev.purser.service.Settings;
import dev.purser.service.board.Engine;
import dev.purser.service.call.Sites;
import dev.purser.service.output.OutputStore;
import dev.purser.service.secret.JobSecretPermits;
import dev.purser.service.work.Attempt;
import dev.purser.service.work.BegunAttempts;
import dev.purser.service.work.BlockingWorker;
import dev.purser.service.work.Reports;
import java.io.IOException;
import java.time.Clock;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/**
 * Has containers run in clusters. Each attempt has a job object with a name of its own, which
 * follows from the attempt: made again after a crash, it is there once. Its pod's log is the
 * output, its container's exit code the end; then its objects are taken away.
 */
@Component
public class ContainerWorker extends BlockingWorker {
  private static final Logger LOG = LoggerFactory.getLogger(ContainerWorker.class);
  private static final int AT_ONCE = 24;
  private static final long LOOKS_EVERY_MILLIS = 1_000;
  private static final long WHILE_STOPPING_MILLIS = 200;

  private final BegunAttempts records;
  private final Pieces pieces;
  private final Clusters clusters;
  private final Sites sites;
  private final JobSecretPermits secrets;
  private final Engine engine;
  private final OutputStore outputs;
  private final Reports reports;
  private final Settings settings;

  ContainerWorker(
      BegunAttempts records,
      Pieces pieces,
      Clusters clusters,
      Sites sites,
      JobSecretPermits secrets,
      Engine engine,
      OutputStore outputs,
      Reports reports,
      Settings settings,
      Clock clock) {
    super("containers", AT_ONCE, records, reports, clock);
    this.records = records;
    this.pieces = pieces;
    this.clusters = clusters;
    this.sites = sites;
    this.secrets = secrets;
    this.engine = engine;
    this.outputs = outputs;
    this.reports = reports;
    this.settings = settings;
  }

  /** A container that is followed here. */
  private static final class Followed extends Going {
    private volatile Piece piece;
    private volatile String pod = "";
    private volatile boolean stopTold;
    private volatile boolean forceDue;
    private boolean begun;
    private ContainerLog log;
    private String noteTold = "";

    /** Whether its objects have been seen, or it is on record that it ran. */
    private boolean seen;

    private boolean begunTold;

    Followed(Attempt attempt) {
      super(attempt);
      begunTold = attempt.status().state() == RunState.RUNNING;
      seen = begunTold;
    }
  }

  @Override
  protected Going going(Attempt attempt) {
    return new Followed(attempt);
  }

  @Override
  public boolean takes(Work work, Where where) {
    return work instanceof Container && where instanceof Where.InService;
  }

  /** Nothing but the log is in the output. */
  @Override
  protected void say(Going one, String line) {}

  @Override
  protected void carryOut(Going going) {
    Followed one = (Followed) going;
    try {
      if (one.piece == null) {
        one.piece = pieces.of(one.attempt());
        one.log = new ContainerLog(one.attempt(), outputs, reports, settings.keepOutput());
      }
      Cluster cluster = cluster(one);
      one.begun = one.begun || records.of(one.attempt().id(), one.attempt().number()).begun();
      if (one.begun || begins(one, cluster)) {
        follow(one, cluster, cluster.look(one.piece));
      }
    } catch (Unfillable e) {
      ends(one, Ending.Kind.NO_VALUE, e.getMessage());
    } catch (ClusterTrouble e) {
      trouble(one, e);
    } catch (IOException e) {
      if (e instanceof Road.BlockedException || one.seen) {
        Ending.Kind beyond = one.seen ? Ending.Kind.LOST : Ending.Kind.NOT_STARTED;
        away(one, e.getMessage(), connection(one.attempt()).bearsOutage(), beyond);
      } else {
        ends(one, Ending.Kind.NOT_STARTED, e.getMessage());
      }
    }
  }

  private Cluster cluster(Followed one) throws IOException {
    Attempt attempt = one.attempt();
    return clusters.of(sites.use(engine.definitions(), work(attempt).cluster(), attempt));
  }

  private static Container work(Attempt attempt) {
    return (Container) attempt.run().run().job().work();
  }

  private Connection connection(Attempt attempt) {
    Definitions all = engine.definitions();
    return all.connection(work(attempt).cluster()).orElseThrow();
  }

  // ---- beginning

  /** Has it made; gives false where it is over before. */
  private boolean begins(Followed one, Cluster cluster) throws ClusterTrouble {
    if (one.isStopped()) {
      over(one, new Ending(Ending.Kind.EXITED, 143, "stopped before it began"), Map.of());
      return false;
    }
    make(one, cluster);
    return true;
  }

  /** That it may be there is on record before it is. */
  private void make(Followed one, Cluster cluster) throws ClusterTrouble {
    Attempt attempt = one.attempt();
    Map<String, String> given = secrets.of(attempt, connection(attempt));
    records.begin(attempt.id(), attempt.number());
    cluster.make(Pieces.with(one.piece, given));
  }

  /** Of what is there already no refusal is the end: a token may be replaced meanwhile. */
  private void trouble(Followed one, ClusterTrouble e) {
    if (one.seen) {
      away(one, e.getMessage(), connection(one.attempt()).bearsOutage(), Ending.Kind.LOST);
      return;
    }
    switch (e.kind()) {
      case AWAY -> away(one, e.getMessage(), connection(one.attempt()).bearsOutage());
      case NO_ROOM -> {
        tell(one, "waits for room in " + one.piece.namespace() + ": " + e.getMessage());
        again(one);
      }
      case REFUSED -> ends(one, Ending.Kind.NOT_STARTED, e.getMessage());
    }
  }

  // ---- following

  private void follow(Followed one, Cluster cluster, Standing standing) throws ClusterTrouble {
    if (standing instanceof Standing.Gone) {
      gone(one, cluster);
      return;
    }
    if (standing instanceof Standing.NotOurs) {
      ends(
          one,
          Ending.Kind.NOT_STARTED,
          "there is a job object " + one.piece + " already, and it is not of this run");
      return;
    }
    one.seen = true;
    press(one, cluster);
    if (standing instanceof Standing.Waiting waiting) {
      waits(one, waiting);
    } else if (standing instanceof Standing.Running running) {
      runs(one, cluster, running);
    } else if (standing instanceof Standing.Refused refused) {
      ends(one, Ending.Kind.NOT_STARTED, refused.why());
    } else if (standing instanceof Standing.Ended ended) {
      began(one);
      read(one, cluster, ended.pod());
      ended(one, ended);
    } else if (standing instanceof Standing.Lost lost) {
      if (!lost.pod().isEmpty()) {
        lastOf(one, cluster, lost.pod());
      }
      ends(one, Ending.Kind.LOST, lost.why());
    }
  }

  /** Says what could not be said when it was asked to stop: the cluster may have been away. */
  private static void press(Followed one, Cluster cluster) throws ClusterTrouble {
    if (one.isStopped() && !one.stopTold) {
      cluster.stop(one.piece);
      one.stopTold = true;
    }
    if (one.forceDue) {
      cluster.force(one.piece);
    }
  }

  /** What was there and is not any more was ended by us, or by somebody else. */
  private void gone(Followed one, Cluster cluster) throws ClusterTrouble {
    if (one.isStopped()) {
      over(one, new Ending(Ending.Kind.EXITED, 143, "stopped"), Map.of());
    } else if (one.seen) {
      ends(one, Ending.Kind.LOST, "somebody took its job object " + one.piece + " away");
    } else {
      make(one, cluster); // before it could be made the service was cut off
      again(one);
    }
  }

  private void waits(Followed one, Standing.Waiting waiting) {
    if (waiting.cannotPull()) {
      away(one, waiting.why(), connection(one.attempt()).bearsOutage());
      return;
    }
    one.back();
    tell(one, waiting.why().isEmpty() ? "waits for a node" : "waits: " + waiting.why());
    again(one);
  }

  private void runs(Followed one, Cluster cluster, Standing.Running running) throws ClusterTrouble {
    one.back();
    began(one);
    tell(one, "runs as " + running.pod() + " on " + running.node());
    one.pod = running.pod();
    read(one, cluster, running.pod());
    again(one, one.isStopped() ? WHILE_STOPPING_MILLIS : LOOKS_EVERY_MILLIS);
  }

  /** A log that we may not read, or that is gone, is no end of what it belongs to. */
  private void read(Followed one, Cluster cluster, String pod) throws ClusterTrouble {
    try {
      one.log.take(cluster, one.piece.namespace(), pod);
    } catch (ClusterTrouble e) {
      if (e.kind() == ClusterTrouble.Kind.AWAY) {
        throw e;
      }
      LOG.info("the log of run {} cannot be read: {}", one.attempt().id(), e.getMessage());
    }
  }

  private void began(Followed one) {
    if (!one.begunTold) {
      reports.began(one.attempt());
      one.begunTold = true;
    }
  }

  private void tell(Followed one, String note) {
    if (!note.equals(one.noteTold)) {
      reports.told(one.attempt(), note, false);
      one.noteTold = note;
    }
  }

  // ---- its end

  private void ended(Followed one, Standing.Ended ended) {
    HandedBack back = HandedBack.of(ended.message());
    String stopped = one.isStopped() ? "stopped" : "";
    String note =
        ended.code() == 0 ? back.problem() : ended.reason().isEmpty() ? stopped : ended.reason();
    over(one, new Ending(Ending.Kind.EXITED, ended.code(), note), back.values());
  }

  /** Of a pod that the cluster ended the log may be gone with it. */
  private void lastOf(Followed one, Cluster cluster, String pod) {
    try {
      one.log.take(cluster, one.piece.namespace(), pod);
    } catch (ClusterTrouble e) {
      LOG.debug("the rest of a log cannot be had", e);
    }
  }

  private void ends(Followed one, Ending.Kind how, String why) {
    boolean stopped = one.isStopped() && how == Ending.Kind.LOST;
    over(
        one,
        stopped ? new Ending(Ending.Kind.EXITED, 143, "stopped") : new Ending(how, -1, why),
        Map.of());
  }

  /** Its end is on record; what cannot be taken away now stays in the cluster. */
  @Override
  protected void clear(Going going) {
    Followed one = (Followed) going;
    try {
      Piece piece = one.piece == null ? pieces.of(one.attempt()) : one.piece;
      if (records.of(one.attempt().id(), one.attempt().number()).begun()) {
        cluster(one).remove(piece);
      }
    } catch (IOException | Unfillable e) {
      LOG.info(
          "the objects of run {} stay in its cluster: {}", going.attempt().id(), e.getMessage());
    }
  }

  // ---- stopping

  @Override
  protected void interrupt(Going going) {
    Followed one = (Followed) going;
    one.stopTold = acts(one, Cluster::stop);
    lastWords(one);
  }

  /** A pod that ends is soon gone with its log: until the next look comes, it is read from here. */
  private void lastWords(Followed one) {
    try {
      for (long waited = 0; waited < LOOKS_EVERY_MILLIS; waited += WHILE_STOPPING_MILLIS) {
        if (!one.pod.isEmpty() && !one.isLetGo()) {
          one.log.take(cluster(one), one.piece.namespace(), one.pod);
        }
        TimeUnit.MILLISECONDS.sleep(WHILE_STOPPING_MILLIS);
      }
    } catch (IOException e) {
      LOG.debug("the rest of a log cannot be had", e);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  @Override
  protected void cut(Going going) {
    if (going.isStopped() && !going.isDead()) {
      Followed one = (Followed) going;
      one.forceDue = true;
      acts(one, Cluster::force);
    }
  }

  private interface Act {
    void on(Cluster cluster, Piece piece) throws ClusterTrouble;
  }

  /** Gives false where it could not be said now: the next look says it. */
  private boolean acts(Followed one, Act act) {
    try {
      if (one.piece != null && !one.isLetGo()) {
        act.on(cluster(one), one.piece);
        return true;
      }
    } catch (IOException e) {
      LOG.info("run {} is stopped at the next look: {}", one.attempt().id(), e.getMessage());
    }
    return false;
  }
}
