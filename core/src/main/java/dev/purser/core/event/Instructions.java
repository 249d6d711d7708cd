package dev.purser.core.event;

import java.util.ArrayList;
import java.util.List;

/** What has been instructed since it was last taken. */
public final class Instructions {
  private static final List<Instruction> NONE = List.of();

  private List<Instruction> all = NONE;

  /** Adds one, as the last. */
  public void add(Instruction instruction) {
    if (all == NONE) {
      all = new ArrayList<>();
    }
    all.add(instruction);
  }

  /** Hands all that were added to the visitor, in order, and forgets them. It must not add any. */
  public void drain(Instruction.Visitor<?> visitor) {
    if (!all.isEmpty()) {
      for (int i = 0; i < all.size(); i++) {
        all.get(i).accept(visitor);
      }
      all.clear();
    }
  }

  /** All that were added, which are forgotten here. */
  public List<Instruction> take() {
    List<Instruction> taken = all;
    all = NONE;
    return taken;
  }
}
