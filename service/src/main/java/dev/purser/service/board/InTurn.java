package dev.purser.service.board;

import dev.purser.core.board.BoardView;

/**
 * Something that decides together with the board, in the engine's turn and on its thread: what it
 * decides is written in the turn's transaction, and forgotten where that cannot be written.
 */
public interface InTurn {
  /** The board was taken up from the records: so is all else. */
  void takeUp(BoardView board, long now);

  /** Follows up what was applied in a turn, until nothing more follows. */
  void complete(Turn turn);
}
