package dev.purser.core.check;

import dev.purser.core.definition.Capacity;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Job;
import dev.purser.core.problem.Problem;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;

/** Holds what jobs take against what there is. */
final class CapacityCheck {
  private final Definitions all;
  private final List<Problem> problems;

  CapacityCheck(Definitions all, List<Problem> problems) {
    this.all = all;
    this.problems = problems;
  }

  /**
   * Jobs that ask for more than there ever is; all jobs are looked at where a capacity was read.
   */
  void of(List<Document> documents) {
    Map<String, Capacity> capacities =
        all.capacities().stream().collect(Collectors.toMap(Capacity::name, c -> c));
    Map<String, Document> read = new HashMap<>();
    Map<String, Document> streams = new HashMap<>();
    for (Document document : documents) {
      if (document.kind() == Kind.CAPACITY) {
        read.put(document.name(), document);
      } else if (document.kind() == Kind.STREAM) {
        streams.put(document.name(), document);
      }
    }
    for (Stream stream : all.streams()) {
      Optional<Document> own = Optional.ofNullable(streams.get(stream.path()));
      for (Job job : stream.jobs()) {
        job.takes()
            .forEach(
                (name, taken) -> {
                  int most =
                      Optional.ofNullable(capacities.get(name)).map(Capacity::most).orElse(taken);
                  Optional<Document> guilty = own.or(() -> Optional.ofNullable(read.get(name)));
                  if (taken > most && guilty.isPresent()) {
                    problems.add(
                        guilty
                            .get()
                            .error(
                                job,
                                stream.pathOf(job)
                                    + " takes "
                                    + taken
                                    + " units of \""
                                    + name
                                    + "\", which has only "
                                    + most
                                    + " at any time"));
                  }
                });
      }
    }
  }
}
