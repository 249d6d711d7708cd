package dev.purser.core.plan;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.StartsOn;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Job;
import dev.purser.core.parameter.Parameters;
import dev.purser.core.prerequisite.Prerequisite;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.schedule.Schedule;
import dev.purser.core.schedule.StartTimes;
import dev.purser.core.schedule.Window;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/** Works out what a person starts by hand. */
final class HandStart {
  private final Definitions definitions;
  private final RunMaker maker;

  HandStart(Definitions definitions, RunMaker maker) {
    this.definitions = definitions;
    this.maker = maker;
  }

  /**
   * Runs that a person starts by hand. Nobody asks on which days they are due; {@code not-before}
   * and {@code only-on} of the jobs count unless the person says otherwise. They have the
   * parameters of the schedule's first entry, and upon them those that the person gives; where it
   * has windows, they are about the last one of the date that has ended, out of order.
   *
   * @throws NotUnderstood where a parameter has no value, or one is given that nothing asks for:
   *     the message names it
   */
  List<PlannedRun> runs(Stream stream, Planner.ByHand wanted) {
    Optional<Schedule> entry = stream.schedule().stream().findFirst();
    ZoneId zone = entry.map(Schedule::zone).orElse(wanted.zone());
    PlannedRun.Start start =
        entry
            .flatMap(first -> lastWindow(stream, first, wanted.date(), wanted.at()))
            .map(PlannedRun.Start::about)
            .orElse(PlannedRun.Start.PLAIN);
    Parameters values =
        entry
            .map(first -> maker.values(stream, first))
            .orElseGet(() -> maker.values(stream))
            .with(Parameters.Origin.START, wanted.parameters());
    refuseWrongParameters(stream, wanted, values);
    Set<String> chosen = chosen(stream, wanted);
    Set<String> assumed = new HashSet<>();
    stream.jobs().stream()
        .filter(job -> wanted.andFollowing() && !chosen.contains(job.name()))
        .forEach(job -> assumed.add(stream.pathOf(job)));
    LocalTime dayBegins = entry.map(Schedule::dayBegins).orElse(LocalTime.MIDNIGHT);
    boolean waits = !wanted.ignoring().contains(StartCondition.NOT_BEFORE);
    RunMaker.Facts facts =
        new RunMaker.Facts(
            wanted.date(),
            wanted.number(),
            start,
            zone,
            (at, time) ->
                waits ? StartTimes.notBefore(zone, dayBegins, wanted.date(), at, time) : at);
    boolean onlyOn = !wanted.ignoring().contains(StartCondition.ONLY_ON);
    RunMaker.Body body =
        maker
        .new Body(stream, wanted.date(), wanted.date(), new RunMaker.DaysThatCount(false, onlyOn));
    List<PlannedRun> runs = new ArrayList<>();
    for (RunMaker.JobDays days : body.jobs) {
      if (chosen.contains(days.job().name())) {
        boolean waived = wanted.job().filter(days.job()::equals).isPresent();
        body.add(days, facts, wanted.at(), "", values, waived, assumed, runs);
      }
    }
    return runs;
  }

  private void refuseWrongParameters(Stream stream, Planner.ByHand wanted, Parameters values) {
    for (String name : stream.asksFor()) {
      if (values.of(name).isEmpty()) {
        throw new NotUnderstood(
            stream.path()
                + " asks for the parameter \""
                + name
                + "\", and nothing gives it a value; give one with the start");
      }
    }
    if (stream.startsOn().isPresent() && values.of(StartsOn.PATH).isEmpty()) {
      throw new NotUnderstood(
          stream.path()
              + " starts on files of "
              + stream.startsOn().get().watch()
              + "; to start it by hand, say which: give "
              + StartsOn.PATH
              + " and "
              + StartsOn.HOST
              + " with the start");
    }
    Set<String> known = new TreeSet<>(definitions.parameterNames(stream, Optional.empty()));
    stream.schedule().forEach(entry -> known.addAll(entry.parameters().keySet()));
    stream.jobs().forEach(job -> known.addAll(job.parameters().names()));
    for (String name : wanted.parameters().keySet()) {
      if (!known.contains(name)) {
        throw new NotUnderstood(
            stream.path() + " has no parameter \"" + name + "\"" + Nearest.hint(name, known));
      }
      if (values.of(name).filter(Parameters.Effective::shell).isPresent()) {
        throw new NotUnderstood(
            "\""
                + name
                + "\" of "
                + stream.path()
                + " is a piece of a command line (shell: yes), which only its author changes, in the"
                + " definition; start without it");
      }
    }
  }

  /** The names of the jobs that a start by hand means. */
  private static Set<String> chosen(Stream stream, Planner.ByHand wanted) {
    Set<String> chosen = new LinkedHashSet<>();
    if (wanted.job().isEmpty()) {
      stream.jobs().forEach(job -> chosen.add(job.name()));
      return chosen;
    }
    chosen.add(wanted.job().get().name());
    boolean grows = wanted.andFollowing();
    while (grows) {
      grows = false;
      for (Job job : stream.jobs()) {
        boolean follows =
            job.waitsFor().map(Prerequisite::targets).orElse(List.of()).stream()
                .anyMatch(target -> isOneOf(stream, chosen, target.name()));
        grows |= follows && chosen.add(job.name());
      }
    }
    return chosen;
  }

  private static boolean isOneOf(Stream stream, Set<String> names, String named) {
    return names.contains(named)
        || names.stream().anyMatch(name -> named.equals(stream.path() + "/" + name))
        || names.stream().anyMatch(name -> named.startsWith(stream.path() + "/" + name + "/"));
  }

  /** The last window of a date that has ended, or its first: what a start by hand is about. */
  private Optional<Window> lastWindow(Stream stream, Schedule entry, LocalDate date, Instant at) {
    if (!entry.hasWindows()) {
      return Optional.empty();
    }
    List<StartTimes.Start> starts = StartTimes.of(entry, date, definitions.calendarsOf(stream));
    return starts.stream()
        .filter(start -> !start.at().isAfter(at))
        .reduce((earlier, later) -> later)
        .or(() -> starts.stream().findFirst())
        .flatMap(StartTimes.Start::window)
        .map(
            window -> new Window(window.start(), window.end(), Optional.empty(), Optional.empty()));
  }
}
