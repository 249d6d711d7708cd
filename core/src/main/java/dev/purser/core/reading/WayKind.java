package dev.purser.core.reading;

import dev.purser.core.definition.Way;
import java.util.List;

/** One way to reach a recipient, as it stands in files: a room of its own. */
interface WayKind {
  /** Its name, as the way has it and {@code by-way} names it. */
  String name();

  /** The keys that it brings to a recipient. */
  Keys keys();

  /**
   * Reads it; what is wrong goes to the page.
   *
   * @param recipient the whole recipient
   * @param user the recipient's name, for mentions
   */
  List<Way> read(Fields recipient, Page page, Mentions mentions, String user);
}
