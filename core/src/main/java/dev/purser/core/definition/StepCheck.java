package dev.purser.core.definition;

import dev.purser.core.calendar.Calendars;
import dev.purser.core.parameter.Parameters;
import dev.purser.core.parameter.Template;
import dev.purser.core.problem.Problem;
import dev.purser.core.schedule.Schedule;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Holds streams against the streams that they run as steps, and their parameters. */
final class StepCheck {
  private static final LocalDate ANY = LocalDate.of(2027, 3, 4);

  private final Definitions all;
  private final List<Problem> problems = new ArrayList<>();

  private final Map<String, List<Use>> uses = new HashMap<>();

  /** A step and the stream that it is in. */
  private record Use(Stream outer, Job step) {}

  StepCheck(Definitions all) {
    this.all = all;
    for (Stream outer : all.streams()) {
      for (Job job : outer.jobs()) {
        if (job.work() instanceof Work.OfStream inner) {
          uses.computeIfAbsent(inner.stream(), path -> new ArrayList<>()).add(new Use(outer, job));
        }
      }
    }
  }

  List<Problem> of(List<Document> documents) {
    for (Document document : documents) {
      if (document.value() instanceof Stream stream) {
        circle(stream.path(), new ArrayList<>())
            .ifPresent(
                circle ->
                    error(document, "a stream is a step of itself: " + String.join(" → ", circle)));
      }
    }
    if (problems.isEmpty()) {
      for (Document document : documents) {
        if (document.value() instanceof Stream stream) {
          names(document, stream);
          parts(document, stream);
          asked(document, stream);
          givenInCircles(document, stream);
        }
      }
    }
    return problems;
  }

  /** Parts are planned on the hosts that are defined: there must be enough of them. */
  private void parts(Document document, Stream stream) {
    for (Job job : stream.jobs()) {
      String group = job.placement().ofGroup().orElse("");
      if (!job.isInParts() || all.document(Kind.HOST_GROUP, group).isEmpty()) {
        continue;
      }
      List<String> hosts = all.membersOf(group);
      int asked = job.placement() instanceof Placement.SomeOf some ? some.count() : 1;
      int least = ((Work.Parts) job.work()).endsWell().least();
      int parts = job.placement() instanceof Placement.SomeOf ? asked : hosts.size();
      if (hosts.size() < asked) {
        error(
            document,
            "job \""
                + job.name()
                + "\" runs on "
                + job.placement()
                + ", but "
                + (hosts.isEmpty()
                    ? "no defined host belongs to that group"
                    : "only " + String.join(", ", hosts) + " of the defined hosts belong to it"));
      } else if (least > parts) {
        error(
            document,
            "job \""
                + job.name()
                + "\" needs at least "
                + least
                + " parts to succeed, but it has "
                + parts);
      }
    }
  }

  private void error(Document document, String message) {
    problems.add(Problem.error(document.file(), document.line(), 1, message));
  }

  private Optional<List<String>> circle(String path, List<String> trail) {
    if (trail.contains(path)) {
      List<String> circle = new ArrayList<>(trail.subList(trail.indexOf(path), trail.size()));
      circle.add(path);
      return Optional.of(circle);
    }
    trail.add(path);
    for (Job job : all.stream(path).map(Stream::jobs).orElse(List.of())) {
      if (job.work() instanceof Work.OfStream inner) {
        Optional<List<String>> found = circle(inner.stream(), trail);
        if (found.isPresent()) {
          return found;
        }
      }
    }
    trail.remove(trail.size() - 1);
    return Optional.empty();
  }

  /** The runs of a step are named by its path, so no stream may have that name. */
  private void names(Document document, Stream stream) {
    for (Job job : stream.jobs()) {
      if (job.isStep() && all.stream(stream.pathOf(job)).isPresent()) {
        error(
            document,
            "the step "
                + stream.pathOf(job)
                + " has the name of a stream; its runs could not be told apart: rename one of them");
      }
    }
    int slash = stream.path().lastIndexOf('/');
    if (slash > 0 && all.job(stream.path()).filter(Job::isStep).isPresent()) {
      error(
          document, "the stream " + stream.path() + " has the name of a step; rename one of them");
    }
  }

  /** What a stream asks for must be given by every entry of its schedule and by every step. */
  private void asked(Document document, Stream stream) {
    Set<String> known =
        new HashSet<>(
            all.levels(stream.department())
                .with(Parameters.Origin.STREAM, stream.parameters())
                .names());
    for (String name : stream.asksFor()) {
      for (int i = 0; i < stream.schedule().size(); i++) {
        Schedule entry = stream.schedule().get(i);
        if (!known.contains(name) && !entry.parameters().containsKey(name)) {
          error(
              document,
              stream.path()
                  + " asks for \""
                  + name
                  + "\", but entry "
                  + (i + 1)
                  + " of its schedule gives it no value; add it to that entry's parameters");
        }
      }
    }
    for (Job job : stream.jobs()) {
      if (job.work() instanceof Work.OfStream inner) {
        Stream used = all.stream(inner.stream()).orElseThrow();
        given(document, stream, job, used);
      }
    }
    for (Use use : uses.getOrDefault(stream.path(), List.of())) {
      if (!use.outer().path().equals(stream.path())) {
        given(document, use.outer(), use.step(), stream);
      }
    }
  }

  private void given(Document document, Stream outer, Job step, Stream used) {
    Set<String> known = new HashSet<>(used.parameters().keySet());
    known.addAll(all.levels(used.department()).names());
    known.addAll(step.parameters().keySet());
    for (String name : used.asksFor()) {
      if (!known.contains(name)) {
        error(
            document,
            "the step "
                + outer.pathOf(step)
                + " runs "
                + used.path()
                + ", which asks for \""
                + name
                + "\"; give it a value in the step's parameters");
      }
    }
  }

  /** Parameters whose values ask for each other. */
  private void givenInCircles(Document document, Stream stream) {
    List<Optional<Job>> users = new ArrayList<>(List.of(Optional.empty()));
    stream.jobs().stream()
        .filter(job -> !job.parameters().isEmpty() && !job.isStep())
        .forEach(job -> users.add(Optional.of(job)));
    for (Optional<Job> job : users) {
      Parameters values =
          all.levels(stream.department()).with(Parameters.Origin.STREAM, stream.parameters());
      for (Schedule entry : stream.schedule()) {
        values = values.with(Parameters.Origin.SCHEDULE, entry.parameters());
      }
      Map<String, String> map =
          new HashMap<>(
              values
                  .with(Parameters.Origin.JOB, job.map(Job::parameters).orElse(Map.of()))
                  .values());
      for (String name : List.copyOf(map.keySet())) {
        try {
          Template.fill(
              "${" + name + "}", ANY, Calendars.NONE, map, (value, of) -> Optional.of(""));
        } catch (Template.CircleException e) {
          error(document, stream.path() + ": " + e.getMessage());
          return;
        } catch (Template.TemplateException e) {
          // What is wrong with one value is told where that value is.
        }
      }
    }
  }
}
