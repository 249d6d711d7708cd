package dev.purser.core.check;

import dev.purser.core.definition.Capacity;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.HostGroup;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Approval;
import dev.purser.core.job.Job;
import dev.purser.core.problem.Problem;
import dev.purser.core.schedule.Durations;
import java.time.Duration;
import java.time.LocalTime;
import java.util.List;
import java.util.Optional;

/**
 * What is allowed but can hardly be meant: each is a warning at the definition that says it, and
 * publishing goes on.
 */
final class DoubtCheck {
  private final Definitions all;
  private final List<Problem> problems;

  DoubtCheck(Definitions all, List<Problem> problems) {
    this.all = all;
    this.problems = problems;
  }

  void of(List<Document> documents) {
    for (Document document : documents) {
      if (document.value() instanceof Stream stream) {
        stream.jobs().forEach(job -> of(document, stream.pathOf(job), job));
      } else if (document.value() instanceof HostGroup group) {
        empty(document, group);
      } else if (document.value() instanceof Capacity capacity) {
        overlapping(document, capacity);
      }
    }
  }

  private void of(Document document, String path, Job job) {
    Optional<Duration> shortest = job.usually().map(Durations.Range::low);
    if (isLess(job.stopAfter(), shortest)) {
      warn(
          document,
          job,
          path
              + " usually takes "
              + job.usually().orElseThrow()
              + ", but stop-after ends it after "
              + Durations.print(job.stopAfter().orElseThrow()));
    }
    if (job.work() instanceof Approval approval) {
      Approval.Answering answering = approval.answering();
      if (answering.remind().isPresent() && !isLess(answering.remind(), answering.lapses())) {
        answering
            .lapses()
            .ifPresent(
                lapses ->
                    warn(
                        document,
                        job,
                        "nobody would be reminded of "
                            + path
                            + ": it lapses after "
                            + Durations.print(lapses)
                            + ", and the reminder is due after "
                            + Durations.print(answering.remind().orElseThrow())));
      }
    }
  }

  private static boolean isLess(Optional<Duration> one, Optional<Duration> other) {
    return one.isPresent() && other.isPresent() && one.get().compareTo(other.get()) < 0;
  }

  private void empty(Document document, HostGroup group) {
    if (all.membersOf(group.name()).isEmpty()) {
      warn(
          document,
          "the host group \""
              + group.name()
              + "\" is empty: no host has "
              + (group.labels().size() == 1 ? "the label " : "all the labels ")
              + String.join(", ", group.labels().stream().sorted().toList()));
    }
  }

  /** Of spans that overlap the first counts, which is easily the wrong one. */
  private void overlapping(Document document, Capacity capacity) {
    List<Capacity.Span> spans = capacity.spans();
    for (int i = 0; i < spans.size(); i++) {
      Capacity.Span later = spans.get(i);
      Optional<Capacity.Span> earlier =
          spans.subList(0, i).stream().filter(span -> span.overlaps(later)).findFirst();
      if (earlier.isPresent()) {
        warn(
            document,
            "the spans "
                + inWords(earlier.get())
                + " and "
                + inWords(later)
                + " of the capacity \""
                + capacity.name()
                + "\" overlap; where both hold, the first counts: "
                + earlier.get().units()
                + " units");
        return;
      }
    }
  }

  private static String inWords(Capacity.Span span) {
    return span.from()
        + " to "
        + (span.to().equals(LocalTime.MIDNIGHT) ? "24:00" : span.to().toString());
  }

  private void warn(Document document, Job job, String message) {
    problems.add(document.warning(job, message));
  }

  private void warn(Document document, String message) {
    problems.add(document.warning(message));
  }
}
