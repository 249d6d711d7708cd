package dev.purser.service.agent;

import dev.purser.core.event.BoardEvent;
import dev.purser.service.board.Began;
import dev.purser.service.board.Engine;
import dev.purser.service.outlook.ExpectedHosts;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.event.EventListener;
import org.springframework.stereotype.Component;

/**
 * Counts on hosts that have been lost for less than a minute; and, in the first minute after the
 * board was taken up, on those that were there when hosts were last seen or have just been
 * enrolled. Who has been away for longer is not expected: a promise that is stalled by it stays so.
 */
@Component
class BackSoon implements ExpectedHosts {
  private static final Logger LOG = LoggerFactory.getLogger(BackSoon.class);
  private static final Duration WITHIN = Duration.ofMinutes(1);

  /** Hosts are seen at the same time where no more than this lies between what is on record. */
  private static final Duration TOGETHER = Duration.ofMinutes(2);

  private final HostRecords records;
  private final Began began;
  private final Clock clock;
  private final Set<String> there = ConcurrentHashMap.newKeySet();
  private final Map<String, Instant> lost = new ConcurrentHashMap<>();

  BackSoon(HostRecords records, Began began, Clock clock) {
    this.records = records;
    this.began = began;
    this.clock = clock;
  }

  @EventListener
  void takenUp(Engine.TakenUp event) {
    there.clear();
    lost.clear();
  }

  @EventListener
  void committed(Engine.Committed committed) {
    for (BoardEvent event : committed.events()) {
      if (event instanceof BoardEvent.HostSeen one) {
        there.add(one.host());
        lost.remove(one.host());
      } else if (event instanceof BoardEvent.HostLost one && there.remove(one.host())) {
        lost.put(one.host(), Instant.ofEpochMilli(one.at()));
      }
    }
  }

  @Override
  public Set<String> expected() {
    Instant now = clock.instant();
    lost.values().removeIf(at -> at.plus(WITHIN).isBefore(now));
    Set<String> expected = new HashSet<>(lost.keySet());
    if (began.isWithin(WITHIN)) {
      expected.addAll(enrolled(now));
    }
    return expected;
  }

  private Set<String> enrolled(Instant now) {
    try {
      return expected(records.all(), now);
    } catch (RuntimeException e) {
      LOG.debug("cannot look up hosts just now", e);
      return Set.of();
    }
  }

  /** Those that were there when any was last seen, and those that were enrolled a moment ago. */
  static Set<String> expected(List<HostRow> rows, Instant now) {
    Optional<Instant> newest =
        rows.stream()
            .flatMap(row -> Optional.ofNullable(row.lastSeen).stream())
            .max(Comparator.naturalOrder());
    Set<String> expected = new HashSet<>();
    for (HostRow row : rows) {
      boolean wasThere =
          row.lastSeen != null && !row.lastSeen.isBefore(newest.orElseThrow().minus(TOGETHER));
      boolean isNew = row.lastSeen == null && !row.enrolled.isBefore(now.minus(WITHIN));
      if (wasThere || isNew) {
        expected.add(row.name);
      }
    }
    return expected;
  }
}
