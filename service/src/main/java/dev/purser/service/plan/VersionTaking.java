package dev.purser.service.plan;

import dev.purser.core.board.BoardView;
import dev.purser.core.event.Instruction;
import dev.purser.service.board.InTurn;
import dev.purser.service.board.Turn;
import java.util.ArrayList;
import java.util.List;
import org.springframework.stereotype.Component;

/** Runs whose attempts were stopped to be replaced take the definitions that are in force then. */
@Component
class VersionTaking implements InTurn {
  private static final String DONE = "versions taken up to";

  @Override
  public void takeUp(BoardView board, long now) {}

  @Override
  public void complete(Turn turn) {
    int from = turn.noted(DONE) instanceof Integer place ? place : 0;
    int to = turn.instructionCount();
    List<Long> runs = new ArrayList<>();
    Instruction.Some found =
        new Instruction.Some() {
          @Override
          public Void visit(Instruction.TakeVersion one) {
            runs.add(one.run());
            return null;
          }
        };
    turn.instructionsFrom(from).forEach(one -> one.accept(found));
    turn.note(DONE, to);
    if (!runs.isEmpty()) {
      OpenRuns open = new OpenRuns(turn.board(), turn.definitions(), turn.definitions());
      turn.redefine(
          runs.stream().flatMap(id -> turn.board().run(id).stream()).toList(),
          open::renewed,
          "takes revision " + turn.revision());
    }
  }
}
