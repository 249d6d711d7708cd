package dev.purser.service.draft;

import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Named;
import dev.purser.core.definition.Stream;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.problem.Problem;
import dev.purser.core.problem.Shorten;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.trial.Others;
import dev.purser.core.trial.Trial;
import dev.purser.service.action.Actions;
import dev.purser.service.action.Start;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.definition.DefinitionRecords;
import dev.purser.service.definition.DefinitionRow;
import dev.purser.service.plan.Holds;
import dev.purser.service.plan.PlanKeeper;
import dev.purser.service.publish.Publisher;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;

/** Publishes drafts, and tries them before. */
@Component
public class DraftPublishing {
  private static final int MOST_NAMED = 6;

  private final Drafts drafts;
  private final Publisher publisher;
  private final DefinitionRecords records;
  private final Engine engine;
  private final Actions actions;
  private final PlanKeeper plan;

  DraftPublishing(
      Drafts drafts,
      Publisher publisher,
      DefinitionRecords records,
      Engine engine,
      Actions actions,
      PlanKeeper plan) {
    this.drafts = drafts;
    this.publisher = publisher;
    this.records = records;
    this.engine = engine;
    this.actions = actions;
    this.plan = plan;
  }

  /**
   * What came of a try.
   *
   * @param stream the path that it runs under; empty where it was not started
   * @param problems why it was not
   */
  public record Tried(String stream, List<Long> runs, List<Problem> problems) {}

  /** How a draft is tried: where, and whether what it asks of others counts. */
  public record How(String stream, Optional<String> host, Others others, String reason) {}

  /**
   * Looks whether a draft could be published as it stands, and changes nothing.
   *
   * @throws Drafts.Refused where something of it was published by others since its writer looked
   * @throws dev.purser.service.publish.Agreement.Missing where somebody else must agree first
   */
  public Publisher.Outcome check(DraftRow draft) {
    Publisher.Change change = change(draft);
    refuseOvertaken(draft, publisher.sketch(change.files()));
    publisher.refuseUnagreed(change);
    return publisher.check(change.files());
  }

  /** The paths of the streams in a draft; none where it cannot be read. */
  List<String> streamsOf(DraftRow draft) {
    try {
      return publisher.sketch(drafts.files(draft.id)).documents().stream()
          .filter(one -> one.kind() == Kind.STREAM)
          .map(Document::name)
          .toList();
    } catch (NotUnderstood e) {
      return List.of();
    }
  }

  private Publisher.Change change(DraftRow draft) {
    String origin = "draft " + draft.id + (draft.isAgreed() ? ", agreed by " + draft.agreedBy : "");
    return new Publisher.Change(drafts.files(draft.id), List.of(), origin)
        .agreedBy(draft.isAgreed() ? draft.agreedBy : "");
  }

  /**
   * Publishes a draft; it is gone once it is.
   *
   * @param holds from when
   * @throws Drafts.Refused where something of it was published by others since its writer looked
   */
  public Publisher.Outcome publish(
      DraftRow draft, Holds holds, AuditTrail.Actor actor, String reason) {
    Publisher.Change change = change(draft);
    refuseOvertaken(draft, publisher.sketch(change.files()));
    Publisher.Outcome outcome =
        publisher.publish(change.from(holds), Optional.empty(), actor, reason);
    if (outcome.sound()) {
      drafts.gone(draft.id);
      clear(draft.id, actor);
    }
    return outcome;
  }

  private void refuseOvertaken(DraftRow draft, Publisher.Sketch sketch) {
    List<String> since = new ArrayList<>();
    for (Document one : sketch.documents()) {
      boolean same =
          sketch.before().document(one.kind(), one.name()).filter(one::isSame).isPresent();
      Optional<DefinitionRow> now = records.at(one.kind(), one.name(), Long.MAX_VALUE);
      if (!same && now.filter(row -> row.revision > draft.seen).isPresent()) {
        since.add(
            one.kind().title()
                + " "
                + one.name()
                + (now.get().withdrawn ? " was withdrawn" : " was published")
                + " as revision "
                + now.get().revision
                + " by "
                + now.get().publishedBy);
      }
    }
    if (!since.isEmpty()) {
      throw new Drafts.Refused(
          Shorten.names(since, MOST_NAMED)
              + " after this draft was last saved; look at what they changed, take it into the"
              + " draft, and save it as one that has seen it");
    }
  }

  /** Tries a stream of a draft once: now, under a path of its own. */
  public Tried tryOnce(DraftRow draft, How how, AuditTrail.Actor actor) {
    Publisher.Sketch sketch = publisher.sketch(drafts.files(draft.id));
    if (!sketch.isSound()) {
      return new Tried("", List.of(), sketch.problems());
    }
    Document document = chosen(sketch.documents(), how.stream());
    how.host().ifPresent(this::checkHost);
    String path = Trial.path(draft.id, document.name());
    String text = Trial.text(document, path, how.host(), how.others());
    String origin = "a try of draft " + draft.id;
    Publisher.Outcome outcome =
        publisher.publish(
            new Publisher.Change(List.of(new SourceFile(path + ".yaml", text)), List.of(), origin)
                .asTrial(),
            Optional.empty(),
            actor,
            origin);
    if (!outcome.sound()) {
      return new Tried("", List.of(), outcome.problems());
    }
    int number = drafts.tried(draft.id, actor.name());
    List<Long> runs =
        actions.start(
            Start.of(path, Optional.empty(), plan.today()),
            Optional.of("draft " + draft.id + " try " + number),
            actor,
            how.reason());
    return new Tried(path, runs, List.of());
  }

  private void checkHost(String host) {
    List<String> known =
        engine.definitions().hosts().stream().map(one -> one.name()).sorted().toList();
    if (!known.contains(host)) {
      throw new NotUnderstood("there is no host \"" + host + "\"" + Nearest.hint(host, known));
    }
  }

  private static Document chosen(List<Document> documents, String wanted) {
    List<Document> streams = documents.stream().filter(one -> one.kind() == Kind.STREAM).toList();
    List<String> names = streams.stream().map(Document::name).toList();
    if (streams.isEmpty()) {
      throw new NotUnderstood("there is no stream in this draft to be tried");
    }
    if (wanted.isEmpty() && streams.size() > 1) {
      throw new NotUnderstood(
          "which stream is to be tried? "
              + Shorten.names(names, MOST_NAMED)
              + " are in this draft");
    }
    return streams.stream()
        .filter(one -> wanted.isEmpty() || one.name().equals(wanted))
        .findFirst()
        .orElseThrow(
            () ->
                new NotUnderstood(
                    "there is no stream \""
                        + wanted
                        + "\" in this draft"
                        + Nearest.hint(wanted, names)));
  }

  /** Takes what was made for its tries away; runs that are open go on. */
  public void clear(long draft, AuditTrail.Actor actor) {
    String tries = Trial.path(draft, "");
    List<Named> all =
        engine.definitions().streams().stream()
            .map(Stream::path)
            .filter(path -> path.startsWith(tries))
            .map(path -> new Named(Kind.STREAM, path))
            .toList();
    if (!all.isEmpty()) {
      publisher.publish(
          new Publisher.Change(List.of(), all, "draft " + draft + " is over").asTrial(),
          Optional.empty(),
          actor,
          "");
    }
  }
}
