package dev.purser.core.check;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Stream;
import dev.purser.core.definition.Waits;
import dev.purser.core.job.Job;
import dev.purser.core.job.OfStream;
import dev.purser.core.problem.Problem;
import java.util.Collection;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;

/**
 * Looks for definitions that lean on themselves; each circle is told whole, at one of its members.
 */
final class CircleCheck {
  private final Definitions all;
  private final List<Problem> problems;

  CircleCheck(Definitions all, List<Problem> problems) {
    this.all = all;
    this.problems = problems;
  }

  private void look(
      Map<String, Document> from, Function<String, Collection<String>> next, String message) {
    Set<String> done = new HashSet<>();
    for (Map.Entry<String, Document> one : from.entrySet()) {
      Circles.from(one.getKey(), next, done)
          .ifPresent(
              circle -> {
                String guilty =
                    circle.stream().filter(from::containsKey).findFirst().orElse(one.getKey());
                error(from.get(guilty), guilty, message + ": " + String.join(" → ", circle));
              });
    }
  }

  /** At the job that it is about where there is one, else at the definition. */
  private void error(Document document, String name, String message) {
    Optional<Job> job =
        document.value() instanceof Stream stream && name.startsWith(stream.path() + "/")
            ? stream.job(name.substring(stream.path().length() + 1))
            : Optional.empty();
    problems.add(
        job.map(found -> document.error(found, message)).orElseGet(() -> document.error(message)));
  }

  private void error(Document document, String message) {
    problems.add(document.error(message));
  }

  /** Prerequisites. */
  void ofPrerequisites(List<Document> documents) {
    Map<String, Document> jobs = new LinkedHashMap<>();
    for (Document document : documents) {
      if (document.value() instanceof Stream stream) {
        stream.jobs().forEach(job -> jobs.put(stream.pathOf(job), document));
      }
    }
    look(jobs, this::waitedFor, "prerequisites go in a circle");
  }

  private Collection<String> waitedFor(String path) {
    return all.job(path)
        .map(job -> Waits.waitedFor(all, path.substring(0, path.lastIndexOf('/')), job))
        .orElse(Set.of());
  }

  /** Streams that are steps of streams. */
  void ofSteps(List<Document> documents) {
    Map<String, Document> streams = new LinkedHashMap<>();
    for (Document document : documents) {
      if (document.value() instanceof Stream stream) {
        streams.put(stream.path(), document);
      }
    }
    look(streams, this::inner, "a stream is a step of itself");
  }

  private Collection<String> inner(String path) {
    return all.stream(path).map(Stream::jobs).orElse(List.of()).stream()
        .filter(job -> job.work() instanceof OfStream)
        .map(job -> ((OfStream) job.work()).stream())
        .toList();
  }

  /** Calendars and periods; and two calendars of one name. */
  void ofCalendars(List<Document> documents) {
    Map<String, Document> nodes = new LinkedHashMap<>();
    for (Document document : documents) {
      boolean calendar =
          document.kind() == Kind.HOLIDAY_CALENDAR || document.kind() == Kind.BUSINESS_CALENDAR;
      if (calendar || document.kind() == Kind.PERIOD) {
        nodes.put((calendar ? "" : "period ") + document.name(), document);
      }
      boolean both =
          all.calendars().holidays(document.name()).isPresent()
              && all.calendars().business(document.name()).isPresent();
      if (calendar && both) {
        error(
            document,
            "a holiday calendar and a business calendar are both named \""
                + document.name()
                + "\"; a rule could not tell them apart");
      }
    }
    look(nodes, all.calendars()::leansOn, "calendars are built on themselves");
  }
}
