package dev.purser.core.check;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Job;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;

/** What may stand in braces in the texts of a stream or of one of its jobs. */
public final class KnownNames {
  private static final List<String> GIVEN =
      List.of("run", "stream", "job", "attempt", "host", "date");

  private KnownNames() {}

  /** In the texts of a job. */
  public static Set<String> of(Definitions all, Stream stream, Job job) {
    return of(all, Optional.of(stream), Optional.of(job));
  }

  static Set<String> of(Definitions all, Optional<Stream> stream, Optional<Job> job) {
    Set<String> names = new TreeSet<>(GIVEN);
    stream.ifPresent(found -> names.addAll(all.parameterNames(found, job)));
    job.flatMap(Job::waitsFor).ifPresent(asks -> names.addAll(asks.fileParameters()));
    if (stream.filter(Stream::hasWindows).isPresent()) {
      names.addAll(List.of("window.start", "window.end"));
    }
    return names;
  }
}
