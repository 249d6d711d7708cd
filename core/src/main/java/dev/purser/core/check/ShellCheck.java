package dev.purser.core.check;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Job;
import dev.purser.core.job.OfStream;
import dev.purser.core.job.OnlyIf;
import dev.purser.core.parameter.Parameters;
import dev.purser.core.parameter.PlaceholderText;
import dev.purser.core.parameter.ShellLine;
import dev.purser.core.parameter.ShellPlace;
import dev.purser.core.problem.Problem;
import dev.purser.core.schedule.Schedule;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * What becomes of parameters in command lines: each is one word, unless its author declared it a
 * piece of the line, which no schedule entry and no step may replace.
 */
final class ShellCheck {
  private final Definitions all;
  private final List<Problem> problems;

  ShellCheck(Definitions all, List<Problem> problems) {
    this.all = all;
    this.problems = problems;
  }

  void of(List<Document> documents) {
    for (Document document : documents) {
      if (document.kind() == Kind.STREAM) {
        of(document, (Stream) document.value());
      }
    }
  }

  private void of(Document document, Stream stream) {
    Parameters own =
        all.levels(stream.department()).with(Parameters.Origin.STREAM, stream.parameters());
    for (int i = 0; i < stream.schedule().size(); i++) {
      String who = "entry " + (i + 1) + " of the schedule of " + stream.path();
      refuse(document, who, stream.schedule().get(i).parameters(), own);
    }
    for (Job job : stream.jobs()) {
      if (job.work() instanceof OfStream inner) {
        step(document, stream, job, inner.stream());
      }
      job.work().shellLines().forEach(line -> words(document, stream, job, line, own));
      job.onlyIf()
          .filter(OnlyIf.Command.class::isInstance)
          .map(check -> ((OnlyIf.Command) check).line())
          .ifPresent(line -> words(document, stream, job, line, own));
    }
  }

  private void step(Document document, Stream stream, Job step, String used) {
    if (!step.parameters().shell().isEmpty()) {
      String name = step.parameters().shell().iterator().next();
      error(
          document,
          "the step "
              + stream.pathOf(step)
              + " cannot declare \""
              + name
              + "\" shell text; declare it so in the stream "
              + used);
    }
    all.stream(used)
        .ifPresent(
            inner ->
                refuse(
                    document,
                    "the step " + stream.pathOf(step),
                    step.parameters().texts(),
                    all.levels(inner.department())
                        .with(Parameters.Origin.STREAM, inner.parameters())));
  }

  private void refuse(
      Document document, String who, Map<String, String> given, Parameters declared) {
    for (String name : given.keySet()) {
      if (declared.of(name).filter(Parameters.Effective::shell).isPresent()) {
        error(
            document,
            who
                + " gives a value to \""
                + name
                + "\", which is declared shell text (shell: yes): only its author's value stands in"
                + " a command line; leave it out, or take \"shell: yes\" away");
      }
    }
  }

  /** Values that a shell would read otherwise if they were pieces of the line. */
  private void words(Document document, Stream stream, Job job, String line, Parameters own) {
    Set<String> told = new HashSet<>();
    for (ShellLine.Found found : ShellLine.values(line)) {
      for (Schedule entry : entries(stream)) {
        Parameters values =
            (entry == null ? own : own.with(Parameters.Origin.SCHEDULE, entry.parameters()))
                .with(Parameters.Origin.JOB, job.parameters());
        Optional<Parameters.Effective> value = values.of(found.inside());
        if (value.isPresent() && changes(value.get(), found.place()) && told.add(found.inside())) {
          warn(document, stream.pathOf(job), found, value.get());
        }
      }
    }
  }

  private static List<Schedule> entries(Stream stream) {
    List<Schedule> entries = new ArrayList<>(stream.schedule());
    if (entries.isEmpty()) {
      entries.add(null);
    }
    return entries;
  }

  private static boolean changes(Parameters.Effective value, ShellPlace place) {
    return !value.shell() && place.reads(PlaceholderText.withoutPlaceholders(value.value()));
  }

  private void warn(
      Document document, String user, ShellLine.Found found, Parameters.Effective value) {
    String name = found.inside();
    String message =
        "${"
            + name
            + "} is one word here, though its value \""
            + value.value()
            + "\" ("
            + value.origin().word()
            + ") holds what a shell reads; where the shell is to read it, write "
            + name
            + ": { value: …, shell: yes }"
            + (found.place() == ShellPlace.BARE ? ", else \"${" + name + "}\" in quotes" : "");
    problems.add(
        document.mentions().stream()
            .filter(one -> one.what() == Document.What.PARAMETER)
            .filter(one -> one.user().equals(user) && one.name().equals(name))
            .findFirst()
            .map(one -> Problem.warning(document.file(), one.line(), one.column(), message))
            .orElseGet(() -> document.warning(message)));
  }

  private void error(Document document, String message) {
    problems.add(document.error(message));
  }
}
