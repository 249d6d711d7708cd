package dev.purser.service.care;

import dev.purser.service.SiteClock;
import dev.purser.service.board.Engine;
import jakarta.persistence.EntityManager;
import java.net.InetAddress;
import java.net.UnknownHostException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/**
 * Looks after the other services on this database: whether there is still one that could take over,
 * and whether this one has done so. One that was stopped on purpose is forgotten after a day.
 */
@Component
@Transactional
public class FellowLook implements Look {
  private static final Duration SILENT = Duration.ofMinutes(1);
  private static final Duration FORGOTTEN = Duration.ofDays(1);
  private static final Duration TOLD_FOR = Duration.ofHours(1);
  private static final String ALONE = ": no other service could take over now";

  private final EntityManager rows;
  private final Engine engine;
  private final SiteClock siteClock;
  private final Clock clock;
  private final String self;
  private volatile Instant tookOver = Instant.EPOCH;
  private volatile String from = "";

  FellowLook(
      EntityManager rows,
      Engine engine,
      SiteClock siteClock,
      Clock clock,
      @Value("${server.port:0}") String port) {
    this.rows = rows;
    this.engine = engine;
    this.siteClock = siteClock;
    this.clock = clock;
    this.self = hostName() + ":" + port;
  }

  private static String hostName() {
    try {
      return InetAddress.getLocalHost().getHostName();
    } catch (UnknownHostException e) {
      return "unknown-host";
    }
  }

  /** Gives a sign of life, and notes from whom it took over. */
  @Scheduled(fixedDelay = 10_000, initialDelay = 2_000)
  public void sign() {
    sign(self, engine.isActive());
  }

  void sign(String name, boolean active) {
    Instant now = clock.instant();
    FellowRow own = rows.find(FellowRow.class, name);
    if (own == null) {
      own = new FellowRow();
      own.name = name;
      own.seen = now;
      rows.persist(own);
    }
    if (active) {
      for (FellowRow one : others(name)) {
        if (one.active) {
          one.active = false;
          tookOver = now;
          from = one.name;
        }
      }
    }
    own.active = active;
    own.seen = now;
  }

  private List<FellowRow> others(String name) {
    return rows.createQuery(
            "from FellowRow f where f.name <> :name and f.seen > :since order by f.name",
            FellowRow.class)
        .setParameter("name", name)
        .setParameter("since", clock.instant().minus(FORGOTTEN))
        .getResultList();
  }

  @Override
  public String about() {
    return "services";
  }

  @Override
  public boolean isTold() {
    return true;
  }

  @Override
  @Transactional(readOnly = true)
  public List<Finding> find() {
    Instant now = clock.instant();
    List<Finding> all = new ArrayList<>();
    if (tookOver.plus(TOLD_FOR).isAfter(now)) {
      all.add(
          Finding.look(
              "taking over",
              "this service, " + self + ", has taken over from " + from + " at " + tookOver,
              "see why the other one stopped; what ran goes on"));
    }
    List<FellowRow> others = others(self);
    List<FellowRow> silent =
        others.stream().filter(one -> one.seen.plus(SILENT).isBefore(now)).toList();
    for (FellowRow one : silent) {
      all.add(
          Finding.look(
              "standing by: " + one.name,
              "it has been silent since "
                  + siteClock.at(one.seen)
                  + (silent.size() == others.size() ? ALONE : ""),
              "start it again; one that was stopped for good is forgotten after a day"));
    }
    if (silent.isEmpty() && !others.isEmpty()) {
      all.add(Finding.good("standing by", "another service could take over: " + names(others)));
    }
    return all;
  }

  private static String names(List<FellowRow> all) {
    return String.join(", ", all.stream().map(one -> one.name).toList());
  }
}
