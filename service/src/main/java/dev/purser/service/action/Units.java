package dev.purser.service.action;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.problem.Shorten;
import dev.purser.service.board.CapacityChangeRow;
import dev.purser.service.board.Turn;
import java.util.List;
import org.hibernate.StatelessSession;

/**
 * To change how many units a capacity has, with effect at once.
 *
 * @param units -1 for as many as are defined
 */
public record Units(String capacity, int units) implements Wish {
  private static final int REASON = 1_000;

  @Override
  public String action() {
    return units < 0 ? "as defined" : units + " units";
  }

  @Override
  public String about() {
    return "capacity " + capacity;
  }

  @Override
  public void check(Asked asked) {
    List<String> names = asked.definitions().capacities().stream().map(one -> one.name()).toList();
    if (!names.contains(capacity)) {
      throw new NotUnderstood(
          "there is no capacity \"" + capacity + "\"" + Nearest.hint(capacity, names));
    }
    if (units > 1_000_000) {
      throw new NotUnderstood("a capacity has at most 1000000 units");
    }
  }

  @Override
  public List<BoardEvent> events(Asked asked) {
    return List.of(new BoardEvent.CapacitySet(asked.now(), capacity, units));
  }

  @Override
  public List<Instruction> carryOut(Asked asked, Turn turn) {
    CapacityChangeRow row = new CapacityChangeRow();
    row.capacity = capacity;
    row.units = units;
    row.who = asked.actor().name();
    row.since = asked.at();
    String reason = asked.reason();
    row.reason = Shorten.text(reason, REASON);
    turn.also(session -> write(session, row));
    return Wish.super.carryOut(asked, turn);
  }

  private static void write(StatelessSession session, CapacityChangeRow row) {
    session
        .createMutationQuery("delete from CapacityChangeRow c where c.capacity = :name")
        .setParameter("name", row.capacity)
        .executeUpdate();
    if (row.units >= 0) {
      session.insert(row);
    }
  }
}
