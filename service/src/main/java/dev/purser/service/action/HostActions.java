package dev.purser.service.action;

import dev.purser.core.board.BoardEvent;
import dev.purser.core.board.BoardView;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.board.HostDrainRow;
import java.time.Clock;
import org.springframework.stereotype.Component;

/** What people do to hosts. */
@Component
public class HostActions {
  private final Engine engine;
  private final AuditTrail audit;
  private final Clock clock;

  HostActions(Engine engine, AuditTrail audit, Clock clock) {
    this.engine = engine;
    this.audit = audit;
    this.clock = clock;
  }

  /**
   * Gives a host no new work until it is returned; what runs on it goes on.
   *
   * @throws Actions.Refused where it is drained already
   */
  public void drain(String host, AuditTrail.Actor actor, String reason) {
    HostDrainRow row = new HostDrainRow();
    row.host = host;
    String note = "drained by " + actor.name() + (reason.isBlank() ? "" : ": " + reason);
    row.note = note.length() > 1_200 ? note.substring(0, 1_200) : note;
    row.who = actor.name();
    row.since = clock.instant();
    engine
        .ask(
            turn -> {
              String before = turn.board().drainedHosts().get(host);
              if (before != null) {
                throw new Actions.Refused("host " + host + " is already " + before);
              }
              turn.apply(new BoardEvent.HostDrained(turn.now(), host, row.note));
              turn.also(session -> session.insert(row));
              turn.also(s -> s.insert(audit.entry(actor, "drain", "host " + host, reason)));
              return true;
            })
        .join();
  }

  /**
   * Gives a drained host work again.
   *
   * @throws Actions.Refused where it is not drained
   */
  public void takeBack(String host, AuditTrail.Actor actor, String reason) {
    engine
        .ask(
            turn -> {
              BoardView board = turn.board();
              if (!board.drainedHosts().containsKey(host)) {
                throw new Actions.Refused("host " + host + " is not drained");
              }
              turn.apply(new BoardEvent.HostReturned(turn.now(), host));
              turn.also(
                  session ->
                      session
                          .createMutationQuery("delete from HostDrainRow d where d.host = :host")
                          .setParameter("host", host)
                          .executeUpdate());
              turn.also(s -> s.insert(audit.entry(actor, "return", "host " + host, reason)));
              return true;
            })
        .join();
  }
}
