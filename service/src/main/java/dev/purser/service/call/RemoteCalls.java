package dev.purser.service.call;

import dev.purser.core.pursuit.Pursuit;
import dev.purser.core.remote.Call;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/** Keeps how far attempts at remote services have come. */
@Component
class RemoteCalls {
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final TypeReference<Map<String, String>> TEXTS = new TypeReference<>() {};

  private final EntityManager rows;
  private final Clock clock;

  RemoteCalls(EntityManager rows, Clock clock) {
    this.rows = rows;
    this.clock = clock;
  }

  /**
   * What is kept of one.
   *
   * @param filled what its requests are filled with
   */
  record Kept(Pursuit pursuit, Map<String, String> filled) {}

  /** What is kept of an attempt. */
  @Transactional(readOnly = true)
  public Optional<Kept> of(long run, int attempt) {
    return Optional.ofNullable(rows.find(RemoteCallRow.class, new RemoteCallRow.Key(run, attempt)))
        .map(
            row ->
                new Kept(
                    JSON.readValue(row.pursuit, Pursuit.class), JSON.readValue(row.filled, TEXTS)));
  }

  /** All attempts of a run, the first one first. */
  @Transactional(readOnly = true)
  public List<RemoteCallRow> of(long run) {
    return rows.createQuery(
            "from RemoteCallRow c where c.run = :run order by c.attempt", RemoteCallRow.class)
        .setParameter("run", run)
        .getResultList();
  }

  /** How far a row has come. */
  static Pursuit pursuit(RemoteCallRow row) {
    return JSON.readValue(row.pursuit, Pursuit.class);
  }

  /** Keeps a new attempt. */
  @Transactional
  public void begin(long run, int attempt, Call call, Kept kept) {
    RemoteCallRow row = new RemoteCallRow();
    row.run = run;
    row.attempt = attempt;
    row.service = call.service();
    row.operation = call.operation();
    row.filled = JSON.writeValueAsString(kept.filled());
    row.begun = clock.instant();
    put(row, kept.pursuit());
    rows.persist(row);
  }

  /** Keeps how far an attempt has come now. */
  @Transactional
  public void keep(long run, int attempt, Pursuit pursuit) {
    RemoteCallRow row = rows.find(RemoteCallRow.class, new RemoteCallRow.Key(run, attempt));
    if (row != null) {
      put(row, pursuit);
    }
  }

  private void put(RemoteCallRow row, Pursuit pursuit) {
    row.phase = pursuit.phase().name().toLowerCase(java.util.Locale.ROOT);
    row.remoteId = pursuit.remote().id();
    row.pursuit = JSON.writeValueAsString(pursuit);
    row.changed = clock.instant();
  }
}
