package dev.purser.service.api.view;

import dev.purser.core.definition.Commitment;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Stream;
import dev.purser.core.preview.FieldChanges;
import dev.purser.core.preview.Preview;
import dev.purser.service.commitment.Commitments;
import dev.purser.service.plan.OpenRun;
import dev.purser.service.plan.Pauses;
import dev.purser.service.publish.Publisher;
import dev.purser.wire.api.ScheduleViews;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** Makes views of what a change would do. */
public final class PreviewViews {
  private static final int MOST_CHANGES = 400;
  private static final int MOST_OPEN = 500;

  private PreviewViews() {}

  /**
   * As the API shows it; of very many changes the first, with how many there are.
   *
   * @param pauses tells of which streams nothing would start
   * @param commitments tells on what promises rest
   */
  public static ScheduleViews.PreviewView view(
      Publisher.Previewed previewed, Pauses pauses, Commitments commitments) {
    Optional<Preview.Result> runs = previewed.runs();
    return new ScheduleViews.PreviewView(
        previewed.outcome().sound(),
        previewed.revision(),
        runs.map(Preview.Result::from).orElse(null),
        runs.map(Preview.Result::to).orElse(null),
        java.util.stream.Stream.concat(
                previewed.changed().stream().map(document -> view(document, previewed)),
                previewed.gone().stream().map(PreviewViews::gone))
            .toList(),
        runs.map(result -> result.runs(Preview.What.GAINED)).orElse(0),
        runs.map(result -> result.runs(Preview.What.LOST)).orElse(0),
        runs.map(result -> result.runs(Preview.What.MOVED)).orElse(0),
        runs.map(Preview.Result::streams).orElse(List.of()).stream()
            .map(change -> view(change, isPaused(change.stream(), previewed, pauses)))
            .toList(),
        previewed.touched().stream()
            .map(one -> new ScheduleViews.TouchedRun(one.reference(), one.what()))
            .toList(),
        previewed.open().stream().limit(MOST_OPEN).map(PreviewViews::view).toList(),
        Math.max(0, previewed.open().size() - MOST_OPEN),
        promises(previewed, commitments),
        previewed.outcome().problems().stream().map(ProblemViews::view).toList());
  }

  private static ScheduleViews.OpenRunView view(OpenRun one) {
    return new ScheduleViews.OpenRunView(
        one.run().run().reference().toString(),
        one.state().word(),
        one.what().word(),
        one.because());
  }

  private static List<String> promises(Publisher.Previewed previewed, Commitments commitments) {
    if (!previewed.outcome().sound()) {
      return List.of();
    }
    Definitions after = previewed.after();
    return previewed.changed().stream()
        .map(Document::value)
        .filter(Commitment.class::isInstance)
        .map(value -> commitments.wouldKeep(after, (Commitment) value))
        .toList();
  }

  private static ScheduleViews.DefinitionChange view(
      Document document, Publisher.Previewed previewed) {
    Document old = previewed.before().document(document.kind(), document.name()).orElse(null);
    return new ScheduleViews.DefinitionChange(
        document.kind().word(),
        document.name(),
        old == null ? "added" : "changed",
        FieldChanges.between(old, document).stream()
            .map(one -> new ScheduleViews.FieldChange(one.field(), one.before(), one.after()))
            .toList(),
        old == null ? "" : old.whole(),
        document.whole());
  }

  private static ScheduleViews.DefinitionChange gone(Document document) {
    return new ScheduleViews.DefinitionChange(
        document.kind().word(), document.name(), "withdrawn", List.of(), document.whole(), "");
  }

  private static boolean isPaused(String path, Publisher.Previewed previewed, Pauses pauses) {
    Optional<Stream> old = previewed.before().stream(path);
    return previewed.changed().stream()
        .map(Document::value)
        .filter(Stream.class::isInstance)
        .map(Stream.class::cast)
        .filter(stream -> stream.path().equals(path))
        .findFirst()
        .map(stream -> pauses.isPausedAfter(stream, old))
        .orElseGet(() -> pauses.all().containsKey(path));
  }

  private static ScheduleViews.StreamChange view(Preview.StreamChange change, boolean paused) {
    List<Preview.StartChange> all = change.changes();
    return new ScheduleViews.StreamChange(
        change.stream(),
        change.title(),
        change.runs(Preview.What.GAINED),
        change.runs(Preview.What.LOST),
        change.runs(Preview.What.MOVED),
        paused,
        Math.max(0, all.size() - MOST_CHANGES),
        all.stream().limit(MOST_CHANGES).map(PreviewViews::view).toList());
  }

  private static ScheduleViews.StartChange view(Preview.StartChange change) {
    return new ScheduleViews.StartChange(
        change.what().name().toLowerCase(Locale.ROOT),
        change.date(),
        change.at(),
        change.toDate(),
        change.toAt(),
        change.runs(),
        change.reason(),
        change.guess(),
        RunViews.word(change.shift()));
  }
}
