package dev.purser.service.action;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.service.board.Turn;
import java.util.List;

/** To give a drained host work again. */
public record TakeBack(String host) implements Wish {
  @Override
  public String action() {
    return "return";
  }

  @Override
  public String about() {
    return "host " + host;
  }

  @Override
  public void check(Asked asked) {
    if (!asked.board().drainedHosts().containsKey(host)) {
      throw new Refused("host " + host + " is not drained");
    }
  }

  @Override
  public List<BoardEvent> events(Asked asked) {
    return List.of(new BoardEvent.HostReturned(asked.now(), host));
  }

  @Override
  public List<Instruction> carryOut(Asked asked, Turn turn) {
    turn.also(
        session ->
            session
                .createMutationQuery("delete from HostDrainRow d where d.host = :host")
                .setParameter("host", host)
                .executeUpdate());
    return Wish.super.carryOut(asked, turn);
  }
}
