package dev.purser.service.publish;

import dev.purser.core.definition.Document;
import dev.purser.core.definition.Made;
import dev.purser.core.problem.Shorten;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Turn;
import dev.purser.service.definition.DefinitionRow;
import dev.purser.service.definition.PublicationRow;
import java.time.Clock;
import org.springframework.stereotype.Component;

/** Puts on record what a publication changes, whatever kind of publication it is. */
@Component
class OnRecord {
  private final AuditTrail audit;
  private final Clock clock;

  OnRecord(AuditTrail audit, Clock clock) {
    this.audit = audit;
    this.clock = clock;
  }

  /** Puts a document on record as it is from a revision on. */
  void write(
      Turn turn, long revision, Document document, boolean withdrawn, AuditTrail.Actor actor) {
    turn.also(
        session -> {
          DefinitionRow row = new DefinitionRow();
          row.kind = document.kind().word();
          row.name = document.name();
          row.revision = revision;
          row.withdrawn = withdrawn;
          row.text = document.text();
          row.file = document.file();
          row.madeBy = document.made().map(Made::by).orElse("");
          row.publishedAt = clock.instant();
          row.publishedBy = actor.name();
          session.insert(row);
          session.insert(
              audit.entry(
                  actor,
                  withdrawn ? "withdraw" : "publish",
                  document.kind().word() + " " + document.name(),
                  "revision " + revision));
        });
  }

  /** Puts an act of publishing on record. */
  void publication(Turn turn, long revision, String origin, AuditTrail.Actor actor, String reason) {
    PublicationRow row = new PublicationRow();
    row.revision = revision;
    row.at = clock.instant();
    row.who = actor.name();
    row.reason = Shorten.text(reason, 1_000);
    row.origin = Shorten.text(origin, 1_000);
    turn.also(session -> session.insert(row));
  }
}
