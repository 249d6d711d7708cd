package dev.purser.service.care;

import dev.purser.service.Settings;
import dev.purser.service.run.Retention;
import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Looks at the database: whether it answers, how quickly, how large it is. */
@Component
@Transactional(readOnly = true)
class DatabaseFindings implements Look {
  private static final long SLOW_MILLIS = 200;
  private static final long WRONG_CLOCK_MILLIS = 2_000;

  private final EntityManager rows;
  private final Retention retention;
  private final Settings settings;
  private final Clock clock;

  DatabaseFindings(EntityManager rows, Retention retention, Settings settings, Clock clock) {
    this.settings = settings;
    this.rows = rows;
    this.retention = retention;
    this.clock = clock;
  }

  @Override
  public String about() {
    return "database";
  }

  @Override
  public boolean isTold() {
    return true;
  }

  @Override
  public List<Finding> find() {
    List<Finding> all = new ArrayList<>();
    long begin = System.nanoTime();
    String version = (String) rows.createNativeQuery("select version()").getSingleResult();
    long millis = (System.nanoTime() - begin) / 1_000_000;
    all.add(
        millis > SLOW_MILLIS
            ? Finding.look(
                "database",
                version + " took " + millis + " ms for the smallest of questions",
                "look at its machine: disk, memory, and what else runs there")
            : Finding.good("database", version + ", answers in " + millis + " ms"));
    flush().ifPresent(all::add);
    long ahead = clockDifference();
    all.add(
        Math.abs(ahead) > WRONG_CLOCK_MILLIS
            ? Finding.look(
                "database's clock",
                "it is " + Math.abs(ahead) + " ms " + (ahead > 0 ? "ahead" : "behind") + " of ours",
                "set up time synchronisation on both machines")
            : Finding.good("database's clock", "as ours, within 2 s"));
    Map<String, long[]> sizes = retention.sizes();
    long bytes = sizes.values().stream().mapToLong(one -> one[1]).sum();
    long runs = sizes.getOrDefault("run", new long[] {0, 0})[0];
    all.add(
        Finding.good(
            "records",
            String.format(Locale.ROOT, "about %,d runs, %.2f GB in all", runs, bytes / 1e9)));
    return all;
  }

  private java.util.Optional<Finding> flush() {
    Object setting =
        rows.createNativeQuery("select @@global.innodb_flush_log_at_trx_commit").getSingleResult();
    return String.valueOf(setting).equals("1")
        ? java.util.Optional.empty()
        : java.util.Optional.of(
            Finding.bad(
                "database's promise",
                "innodb_flush_log_at_trx_commit is "
                    + setting
                    + ": after a power cut the last second may be gone",
                "set it to 1 and start the database anew"));
  }

  private long clockDifference() {
    Object now =
        rows.createNativeQuery("select cast(unix_timestamp(now(3)) * 1000 as unsigned)")
            .getSingleResult();
    return ((Number) now).longValue() + settings.clockOffset().toMillis() - clock.millis();
  }
}
