package dev.purser.service.commitment;

import dev.purser.core.advice.Causes;
import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.AlertSubject;
import dev.purser.core.run.RunSpec;
import dev.purser.service.board.Engine;
import dev.purser.service.run.MomentRow;
import dev.purser.service.run.RunRecords;
import jakarta.persistence.EntityManager;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Why a run waited, from what was put on record meanwhile: a hold, or a host that was away. */
@Component
class WhyWaited implements Causes.Records {
  private static final String HELD = "held by ";
  private static final String RELEASED = "released by ";

  private final Engine engine;
  private final RunRecords records;
  private final EntityManager rows;

  WhyWaited(Engine engine, RunRecords records, EntityManager rows) {
    this.engine = engine;
    this.records = records;
    this.rows = rows;
  }

  @Override
  @Transactional(readOnly = true)
  public Optional<String> whyWaited(RunSpec run, long from, long to) {
    Instant since = Instant.ofEpochMilli(from);
    Instant until = Instant.ofEpochMilli(to);
    String held = "";
    for (MomentRow moment : records.moments(run.id())) {
      if (moment.note.startsWith(HELD) && moment.at.isBefore(until)) {
        held = moment.note;
      } else if (moment.note.startsWith(RELEASED) && moment.at.isBefore(since)) {
        held = "";
      }
    }
    if (!held.isEmpty()) {
      return Optional.of("was " + held);
    }
    Set<String> hosts = engine.look(board -> Set.copyOf(board.hostsFor(run.id())));
    return away(since, until).stream()
        .filter(hosts::contains)
        .findFirst()
        .map(host -> "waited for the host " + host + ", which was away");
  }

  /** The hosts that were away at some time between. */
  private List<String> away(Instant from, Instant to) {
    return rows
        .createQuery(
            "select a.reference from AlertRow a where a.kind = :kind and a.about = :about"
                + " and a.opened < :to and (a.closed is null or a.closed > :from) order by a.id",
            String.class)
        .setParameter("kind", AlertKind.HOST.word())
        .setParameter("about", AlertSubject.HOST.word())
        .setParameter("from", from)
        .setParameter("to", to)
        .getResultList()
        .stream()
        .map(reference -> reference.substring(reference.indexOf(' ') + 1))
        .toList();
  }
}
