package dev.purser.core.check;

import dev.purser.core.commitment.Lineage;
import dev.purser.core.commitment.Promised;
import dev.purser.core.commitment.Promises;
import dev.purser.core.definition.Commitment;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Stream;
import dev.purser.core.definition.Waits;
import dev.purser.core.job.Job;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.problem.Problem;
import dev.purser.core.schedule.Durations;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** Promises that can never be kept, that promise nothing, or of which nobody would be told. */
final class CommitmentCheck {
  private static final int DAYS_AHEAD = 400;
  private static final int MOST_ROUNDS = 30;
  private static final DateTimeFormatter HH_MM = DateTimeFormatter.ofPattern("HH:mm");

  private final Definitions all;
  private final LocalDate today;
  private final List<Problem> problems;
  private final Promises promises;

  CommitmentCheck(Definitions all, LocalDate today, List<Problem> problems) {
    this.all = all;
    this.today = today;
    this.problems = problems;
    this.promises = new Promises(all, Map.of());
  }

  void of(List<Document> documents) {
    for (Document document : documents) {
      if (document.value() instanceof Commitment commitment) {
        of(document, commitment);
      }
    }
  }

  private void of(Document document, Commitment commitment) {
    List<String> cuts = new ArrayList<>(commitment.beginsAfter());
    cuts.addAll(commitment.leaveOut());
    for (String cut : cuts) {
      if (Lineage.names(cut, commitment.of())) {
        problems.add(
            document.error(
                "the end job " + commitment.of() + " is itself left out of its lineage by " + cut));
        return;
      }
    }
    Lineage lineage = promises.lineage(commitment);
    for (String cut : cuts) {
      if (lineage.cutOff().stream().noneMatch(path -> Lineage.names(cut, path))) {
        problems.add(
            document.warning(
                commitment.of() + " does not need " + cut + ": leaving it out changes nothing"));
      }
    }
    if (!all.names(Kind.RECIPIENT).isEmpty()
        && commitment.alertsTo().isEmpty()
        && !all.isAddressee(commitment.owner())) {
      problems.add(
          document.warning(
              "nobody would be told of alerts of the commitment "
                  + commitment.name()
                  + ": "
                  + (commitment.owner().isEmpty()
                      ? "it has no owner and no alerts-to"
                      : "its owner \"" + commitment.owner() + "\" is not a recipient")));
    }
    planned(document, commitment, lineage);
  }

  /** It must be planned at some time, and be able to be kept then. */
  private void planned(Document document, Commitment commitment, Lineage lineage) {
    Optional<Stream> stream = all.topOf(lineage.ends().get(0));
    if (stream.isEmpty() || stream.get().schedule().isEmpty()) {
      return; // people or files start it
    }
    Planner planner = new Planner(all);
    Set<LocalDate> dates = new HashSet<>();
    planner
        .starts(stream.get(), today, today.plusDays(DAYS_AHEAD))
        .forEach(start -> dates.add(start.date()));
    Optional<LocalDate> first =
        dates.stream()
            .filter(
                date ->
                    commitment
                        .days()
                        .map(
                            rule ->
                                rule.pick(date, date, all.calendarsOf(commitment)).contains(date))
                        .orElse(true))
            .min(LocalDate::compareTo);
    if (first.isEmpty()) {
      problems.add(
          document.error(
              "it promises nothing: on no date of the next year is "
                  + commitment.of()
                  + " planned"
                  + (commitment.days().isPresent()
                      ? " on its days (" + commitment.days().get() + ")"
                      : "")));
      return;
    }
    canBeKept(document, commitment, lineage, planner, first.get());
  }

  /** Even if every job takes the shortest of its usual durations. */
  private void canBeKept(
      Document document, Commitment commitment, Lineage lineage, Planner planner, LocalDate date) {
    List<PlannedRun> runs = promises.planned(commitment, date, planner);
    for (Promised promised : promises.of(commitment, date, runs)) {
      Instant by = promised.by().orElse(Instant.MAX);
      Instant end = new Earliest(runs, lineage).endOf(promised);
      if (end.isAfter(by)) {
        problems.add(
            document.warning(
                "it can hardly be kept: on "
                    + date
                    + " "
                    + commitment.of()
                    + " ends at "
                    + clock(end, promised.zone())
                    + " at the earliest, by the starts and the usual durations of its lineage; it is"
                    + " promised by "
                    + clock(by, promised.zone())));
      }
    }
  }

  private static String clock(Instant at, ZoneId zone) {
    return HH_MM.format(at.atZone(zone)) + " (" + zone + ")";
  }

  /** When runs end at the earliest. */
  private final class Earliest {
    private final Map<String, PlannedRun> runs = new HashMap<>();
    private final Map<String, Instant> ends = new HashMap<>();
    private final Lineage lineage;

    Earliest(List<PlannedRun> all, Lineage lineage) {
      this.lineage = lineage;
      all.forEach(run -> runs.put(run.reference().path() + "#" + run.reference().number(), run));
      all.forEach(run -> runs.putIfAbsent(run.reference().path(), run));
    }

    Instant endOf(Promised promised) {
      Instant last = Instant.MIN;
      // from the farthest to the nearest: most of what a job waits for is known before it
      List<String> order = new ArrayList<>(lineage.jobs());
      boolean changed = true;
      for (int round = 0; changed && round < MOST_ROUNDS; round++) {
        changed = false;
        for (int i = order.size() - 1; i >= 0; i--) {
          Instant end = endOf(order.get(i), promised.number());
          changed |= !end.equals(ends.put(order.get(i), end));
        }
      }
      for (String end : lineage.ends()) {
        Instant at = ends.getOrDefault(end, Instant.MIN);
        last = at.isAfter(last) ? at : last;
      }
      return last;
    }

    private Instant endOf(String path, int number) {
      PlannedRun run = runs.getOrDefault(path + "#" + number, runs.get(path));
      Optional<Job> job = all.job(path);
      if (run == null || job.isEmpty()) {
        return Instant.MIN;
      }
      Instant start = run.due();
      for (String other : Waits.waitedFor(all, Definitions.streamOf(path), job.get())) {
        Instant end = ends.getOrDefault(other, Instant.MIN);
        start = end.isAfter(start) ? end : start;
      }
      return start.plus(job.get().usually().map(Durations.Range::low).orElse(Duration.ZERO));
    }
  }
}
