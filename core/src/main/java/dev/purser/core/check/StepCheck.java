package dev.purser.core.check;

import dev.purser.core.calendar.Calendars;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Job;
import dev.purser.core.job.OfStream;
import dev.purser.core.parameter.Given;
import dev.purser.core.parameter.Parameters;
import dev.purser.core.parameter.PlaceholderText;
import dev.purser.core.problem.Problem;
import dev.purser.core.reading.Keys;
import dev.purser.core.reading.WorkKinds;
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

  private static final long MOST_RUNS = 100_000;

  private final Definitions all;

  /** By a stream: the longest way to a step below it. No stream is a step of itself by now. */
  private final Map<String, String> waysBelow = new HashMap<>();

  /** By a stream: how many runs a start of it has, with those below; no more than one too many. */
  private final Map<String, Long> runsOf = new HashMap<>();

  private final List<Problem> problems = new ArrayList<>();

  private final Map<String, List<Use>> uses = new HashMap<>();

  /** Streams that are looked at themselves: what is wrong with their steps is told there. */
  private final Set<String> looked = new HashSet<>();

  /** A step and the stream that it is in. */
  private record Use(Stream outer, Job step) {}

  StepCheck(Definitions all) {
    this.all = all;
    for (Stream outer : all.streams()) {
      for (Job job : outer.jobs()) {
        if (job.work() instanceof OfStream inner) {
          uses.computeIfAbsent(inner.stream(), path -> new ArrayList<>()).add(new Use(outer, job));
        }
      }
    }
  }

  List<Problem> of(List<Document> documents) {
    documents.forEach(document -> looked.add(document.name()));
    for (Document document : documents) {
      if (document.value() instanceof Stream stream) {
        names(document, stream);
        lengths(document, stream);
        amount(document, stream);
        for (Job job : stream.jobs()) {
          WorkKinds.of(job.work())
              .check(job, stream, all, message -> problems.add(document.error(job, message)));
        }
        asked(document, stream);
        givenInCircles(document, stream);
      }
    }
    return problems;
  }

  private void error(Document document, String message) {
    problems.add(document.error(message));
  }

  /** The runs of a step are named by its path, so no stream may have that name. */
  private void names(Document document, Stream stream) {
    for (Job job : stream.jobs()) {
      if (job.isStep() && all.stream(stream.pathOf(job)).isPresent()) {
        problems.add(
            document.error(
                job,
                "the step "
                    + stream.pathOf(job)
                    + " has the name of a stream; its runs could not be told apart: rename one of"
                    + " them"));
      }
    }
    int slash = stream.path().lastIndexOf('/');
    if (slash > 0 && all.job(stream.path()).filter(Job::isStep).isPresent()) {
      error(
          document, "the stream " + stream.path() + " has the name of a step; rename one of them");
    }
  }

  /** The runs below steps are named by the whole way to them. */
  private void lengths(Document document, Stream stream) {
    String longest = stream.path() + longestBelow(stream);
    if (longest.length() > Keys.LONGEST_PATH) {
      error(
          document,
          "the step "
              + longest
              + " has a name of more than "
              + Keys.LONGEST_PATH
              + " characters; shorten the names on the way to it");
    }
  }

  /** Steps of steps become many quickly: two in each of twenty streams are a million. */
  private void amount(Document document, Stream stream) {
    long runs = runsOf(stream);
    if (runs > MOST_RUNS) {
      error(
          document,
          "a start of "
              + stream.path()
              + " would have more than "
              + MOST_RUNS
              + " runs, with those of its steps; divide it");
    }
  }

  private long runsOf(Stream stream) {
    Long known = runsOf.get(stream.path());
    if (known != null) {
      return known;
    }
    long runs = 0;
    for (Job job : stream.jobs()) {
      long below =
          job.work() instanceof OfStream step
              ? all.stream(step.stream()).map(this::runsOf).orElse(0L)
              : 0;
      runs = Math.min(runs + 1 + below, MOST_RUNS + 1);
    }
    runsOf.put(stream.path(), runs);
    return runs;
  }

  /** The longest way from a stream to a step in it, or in its steps. */
  private String longestBelow(Stream stream) {
    String known = waysBelow.get(stream.path());
    if (known != null) {
      return known;
    }
    String longest = "";
    for (Job job : stream.jobs()) {
      if (job.isStep()) {
        String below =
            job.work() instanceof OfStream step
                ? all.stream(step.stream()).map(this::longestBelow).orElse("")
                : "";
        String way = "/" + job.name() + below;
        longest = way.length() > longest.length() ? way : longest;
      }
    }
    waysBelow.put(stream.path(), longest);
    return longest;
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
      if (job.work() instanceof OfStream inner) {
        Stream used = all.stream(inner.stream()).orElseThrow();
        given(stream, job, used).ifPresent(message -> problems.add(document.error(job, message)));
      }
    }
    for (Use use : uses.getOrDefault(stream.path(), List.of())) {
      if (!looked.contains(use.outer().path())) {
        given(use.outer(), use.step(), stream)
            .ifPresent(message -> problems.add(document.error(message)));
      }
    }
  }

  private Optional<String> given(Stream outer, Job step, Stream used) {
    Set<String> known = new HashSet<>(used.parameters().names());
    known.addAll(all.levels(used.department()).names());
    known.addAll(step.parameters().names());
    List<String> lacking = used.asksFor().stream().filter(name -> !known.contains(name)).toList();
    return lacking.isEmpty()
        ? Optional.empty()
        : Optional.of(
            "the step "
                + outer.pathOf(step)
                + " runs "
                + used.path()
                + ", which asks for \""
                + String.join("\" and \"", lacking)
                + "\"; give "
                + (lacking.size() == 1 ? "it a value" : "them values")
                + " in the step's parameters");
  }

  /** Parameters whose values ask for each other. */
  private void givenInCircles(Document document, Stream stream) {
    List<Optional<Job>> users = new ArrayList<>(List.of(Optional.empty()));
    stream.jobs().stream()
        .filter(job -> !job.parameters().names().isEmpty() && !job.isStep())
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
                  .with(Parameters.Origin.JOB, job.map(Job::parameters).orElse(Given.NONE))
                  .values());
      for (String name : List.copyOf(map.keySet())) {
        try {
          PlaceholderText.fill(
              "${" + name + "}", ANY, Calendars.NONE, map, (value, of) -> Optional.of(""));
        } catch (PlaceholderText.CircleException e) {
          error(document, stream.path() + ": " + e.getMessage());
          return;
        } catch (PlaceholderText.PlaceholderException e) {
          // What is wrong with one value is told where that value is.
        }
      }
    }
  }
}
