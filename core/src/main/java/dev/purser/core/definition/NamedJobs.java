package dev.purser.core.definition;

import dev.purser.core.job.Job;
import java.util.AbstractList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.RandomAccess;

/** The jobs of a stream, which cannot be changed, in their order and by name. */
final class NamedJobs extends AbstractList<Job> implements RandomAccess {
  private final List<Job> jobs;
  private final Map<String, Job> byName = new HashMap<>();

  NamedJobs(List<Job> jobs) {
    this.jobs = List.copyOf(jobs);
    this.jobs.forEach(job -> byName.putIfAbsent(job.name(), job));
  }

  /** The first job of a name. */
  Optional<Job> named(String name) {
    return Optional.ofNullable(byName.get(name));
  }

  @Override
  public Job get(int index) {
    return jobs.get(index);
  }

  @Override
  public int size() {
    return jobs.size();
  }
}
