package dev.purser.service.action;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.run.HoldScope;
import dev.purser.service.board.Turn;
import java.util.List;

/** To let a job, stream or department go on. */
public record Release(HoldScope scope) implements Wish {
  @Override
  public String action() {
    return "release";
  }

  @Override
  public String about() {
    return scope.toString();
  }

  @Override
  public void check(Asked asked) {
    if (!asked.board().holds().containsKey(scope)) {
      throw new Refused("the " + scope + " is not held");
    }
  }

  @Override
  public List<BoardEvent> events(Asked asked) {
    return List.of(new BoardEvent.HoldLifted(asked.now(), scope));
  }

  @Override
  public List<Instruction> carryOut(Asked asked, Turn turn) {
    turn.also(
        session ->
            session
                .createMutationQuery(
                    "delete from StandingHoldRow h where h.kind = :kind and h.name = :name")
                .setParameter("kind", scope.kind().word())
                .setParameter("name", scope.name())
                .executeUpdate());
    return Wish.super.carryOut(asked, turn);
  }
}
