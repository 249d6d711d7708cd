package dev.purser.service.action;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.event.Instruction;
import dev.purser.service.board.Turn;
import java.util.ArrayList;
import java.util.List;

/**
 * Something that a person wants done. A new kind is a class of its own: whether it can be done,
 * what the board is told of it, what is kept of it, and its line in the audit trail. Doing it and
 * looking ahead ask the same questions of it, so that both refuse alike.
 */
public interface Wish {
  /** What is done, as the audit trail says it. */
  String action();

  /** What it is done to, as the audit trail says it. */
  String about();

  /**
   * Whether it can be done as things are. What only the board can know, it refuses itself.
   *
   * @throws dev.purser.core.problem.NotUnderstood where it names what is not there
   * @throws Refused where it makes no sense now
   */
  void check(Asked asked);

  /** What the board is told of it. */
  List<BoardEvent> events(Asked asked);

  /** Does it, in a turn of the engine; what is kept of it is written with that turn. */
  default List<Instruction> carryOut(Asked asked, Turn turn) {
    List<Instruction> given = new ArrayList<>();
    events(asked).forEach(event -> given.addAll(turn.apply(event)));
    return given;
  }
}
