package dev.purser.service.action;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.service.board.HostDrainRow;
import dev.purser.service.board.Turn;
import java.util.List;

/** To give a host no new work until it is returned; what runs on it goes on. */
public record Drain(String host) implements Wish {
  @Override
  public String action() {
    return "drain";
  }

  @Override
  public String about() {
    return "host " + host;
  }

  @Override
  public void check(Asked asked) {
    String before = asked.board().drainedHosts().get(host);
    if (before != null) {
      throw new Refused("host " + host + " is already " + before);
    }
  }

  @Override
  public List<BoardEvent> events(Asked asked) {
    return List.of(new BoardEvent.HostDrained(asked.now(), host, asked.note("drained")));
  }

  @Override
  public List<Instruction> carryOut(Asked asked, Turn turn) {
    HostDrainRow row = new HostDrainRow();
    row.host = host;
    row.note = asked.note("drained");
    row.who = asked.actor().name();
    row.since = asked.at();
    turn.also(session -> session.insert(row));
    return Wish.super.carryOut(asked, turn);
  }
}
