package dev.purser.service.action;

import dev.purser.core.board.BoardView;
import dev.purser.core.definition.Definitions;
import dev.purser.core.problem.Shorten;
import dev.purser.service.audit.AuditTrail;
import java.time.Instant;

/**
 * Who wants something, and how things stand while it is looked at.
 *
 * @param now epoch milliseconds
 * @param reason may be empty
 */
public record Asked(
    BoardView board, Definitions definitions, long now, AuditTrail.Actor actor, String reason) {
  private static final int NOTE = 1_200;

  /** By whom and why, as the end of a sentence: {@code held by ida: works on the quay}. */
  String note(String done) {
    String note = done + " by " + actor.name() + (reason.isBlank() ? "" : ": " + reason);
    return Shorten.text(note, NOTE);
  }

  Instant at() {
    return Instant.ofEpochMilli(now);
  }
}
