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

  /** Milliseconds by the job's path, newest first. */
  @Transactional(readOnly = true)
  Map<String, List<Long>> all() {
    Map<String, List<Long>> found = new HashMap<>();
    for (JobHistoryRow row :
        rows.createQuery("from JobHistoryRow h", JobHistoryRow.class).getResultList()) {
      found.put(
          row.stream + "/" + row.job,
          Arrays.stream(row.durations.split(",")).map(Long::valueOf).toList());
    }
    return found;
  }

  /** Puts all that is known in place of what was kept. */
  void put(Map<String, long[]> durations, Instant until) {
    durations.forEach(
        (path, all) -> {
          String text =
              Arrays.stream(all).mapToObj(Long::toString).collect(Collectors.joining(","));
          int slash = path.lastIndexOf('/');
          String stream = path.substring(0, slash);
          String job = path.substring(slash + 1);
          JobHistoryRow row = rows.find(JobHistoryRow.class, new JobHistoryRow.Key(stream, job));
          if (row == null) {
            row = new JobHistoryRow();
            row.stream = stream;
            row.job = job;
            row.durations = text;
            rows.persist(row);
          } else {
            row.durations = text;
          }
        });
    rows.createNativeQuery("replace into job_history_mark (id, until) values (1, :until)")
        .setParameter("until", until)
        .executeUpdate();
  }
}
