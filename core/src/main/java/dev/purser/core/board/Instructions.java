package dev.purser.core.board;

import java.util.ArrayList;
import java.util.List;

/** What has been instructed since it was last taken. */
final class Instructions {
  private List<Instruction> all = List.of();

  void add(Instruction instruction) {
    if (all.isEmpty()) {
      all = new ArrayList<>();
    }
    all.add(instruction);
  }

  List<Instruction> take() {
    List<Instruction> taken = all;
    all = List.of();
    return taken;
  }
}
