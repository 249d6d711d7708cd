package dev.purser.core.event;

import java.util.ArrayList;
import java.util.List;

/** What has been instructed since it was last taken. */
public final class Instructions {
  private List<Instruction> all = List.of();

  /** Adds one, as the last. */
  public void add(Instruction instruction) {
    if (all.isEmpty()) {
      all = new ArrayList<>();
    }
    all.add(instruction);
  }

  /** All that were added, which are forgotten here. */
  public List<Instruction> take() {
    List<Instruction> taken = all;
    all = List.of();
    return taken;
  }
}
