package dev.purser.service.care;

import java.util.List;

/** Looks at one thing that Purser hangs on. A new thing is a class of its own. */
interface Look {
  /** What it looks at. */
  String about();

  /** What it found now. */
  List<Finding> find();

  /**
   * Whether what is not good is told as an alert of kind service. Where there is an alert of its
   * own already, it is not.
   */
  default boolean isTold() {
    return false;
  }

  /** Whether that holds for one of its findings; what passes by itself is not told. */
  default boolean isTold(Finding found) {
    return isTold() && found.level() != Finding.Level.GOOD;
  }
}
