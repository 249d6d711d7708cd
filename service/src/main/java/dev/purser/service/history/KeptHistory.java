package dev.purser.service.history;

import dev.purser.service.run.JobHistoryRow;
import jakarta.persistence.EntityManager;
import java.sql.Timestamp;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** How long jobs took, kept when their runs are gone. */
@Component
@Transactional
class KeptHistory {
  private final EntityManager rows;

  KeptHistory(EntityManager rows) {
    this.rows = rows;
  }

  /** Until when runs are in it; empty where nothing is kept yet. */
  @Transactional(readOnly = true)
  Optional<Instant> until() {
    List<?> found =
        rows.createNativeQuery("select until from job_history_mark where id = 1").getResultList();
    return found.stream().findFirst().map(KeptHistory::instant);
  }

  private static Instant instant(Object column) {
    return column instanceof Timestamp stamp
        ? stamp.toInstant()
        : ((LocalDateTime) column).toInstant(ZoneOffset.UTC);
  }

  /**
   * What is kept of a job.
   *
   * @param durations milliseconds, newest first
   * @param recoveries milliseconds, newest first
   */
  record Kept(List<Long> durations, List<Long> recoveries) {}

  /** By the job's path. */
  @Transactional(readOnly = true)
  Map<String, Kept> all() {
    Map<String, Kept> found = new HashMap<>();
    for (JobHistoryRow row :
        rows.createQuery("from JobHistoryRow h", JobHistoryRow.class).getResultList()) {
      found.put(
          row.stream + "/" + row.job, new Kept(numbers(row.durations), numbers(row.recoveries)));
    }
    return found;
  }

  private static List<Long> numbers(String text) {
    return text.isEmpty() ? List.of() : Arrays.stream(text.split(",")).map(Long::valueOf).toList();
  }

  private static String text(long[] numbers) {
    return Arrays.stream(numbers).mapToObj(Long::toString).collect(Collectors.joining(","));
  }

  /**
   * Puts all that is known in place of what was kept.
   *
   * @param durations by the job's path, in milliseconds
   * @param recoveries likewise
   */
  void put(Map<String, long[]> durations, Map<String, long[]> recoveries, Instant until) {
    Set<String> paths = new TreeSet<>(durations.keySet());
    paths.addAll(recoveries.keySet());
    for (String path : paths) {
      int slash = path.lastIndexOf('/');
      String stream = path.substring(0, slash);
      String job = path.substring(slash + 1);
      JobHistoryRow row = rows.find(JobHistoryRow.class, new JobHistoryRow.Key(stream, job));
      boolean fresh = row == null;
      row = fresh ? new JobHistoryRow() : row;
      row.stream = stream;
      row.job = job;
      row.durations = text(durations.getOrDefault(path, new long[0]));
      row.recoveries = text(recoveries.getOrDefault(path, new long[0]));
      if (fresh) {
        rows.persist(row);
      }
    }
    rows.createNativeQuery("replace into job_history_mark (id, until) values (1, :until)")
        .setParameter("until", until)
        .executeUpdate();
  }
}
