package dev.purser.service.container;

import dev.purser.core.container.Container;
import dev.purser.core.fill.Filling;
import dev.purser.core.job.Job;
import dev.purser.remote.cluster.Piece;
import dev.purser.service.work.Attempt;
import dev.purser.service.work.Fillings;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.Map;
import org.springframework.jdbc.core.JdbcTemplate;
import org.springframework.stereotype.Component;

/**
 * Makes of an attempt what its cluster is asked for; of the same attempt always by the same name.
 */
@Component
class Pieces {
  /** Where a cluster looks for a container's last words: {@code rows=1200}. */
  private static final String LAST_WORDS = "/dev/termination-log";

  private final JdbcTemplate rows;
  private final Fillings fillings;
  private String site;

  Pieces(JdbcTemplate rows, Fillings fillings) {
    this.rows = rows;
    this.fillings = fillings;
  }

  /**
   * What is asked for, without its secrets.
   *
   * @throws dev.purser.core.fill.Unfillable where a placeholder has no value
   */
  Piece of(Attempt attempt) {
    Job job = attempt.run().run().job();
    Container work = (Container) job.work();
    String key = key(attempt);
    return fillings.of(
        attempt,
        filling ->
            new Piece(
                work.namespace(),
                "purser-" + key.substring(0, 16),
                key,
                attempt.run().run().reference().toString(),
                filling.text(work.image()),
                work.command().stream().map(filling::text).toList(),
                environment(filling),
                Map.of(),
                work.cpu(),
                work.memory(),
                job.grace().toSeconds()));
  }

  /** The same with secrets. */
  static Piece with(Piece piece, Map<String, String> secrets) {
    return new Piece(
        piece.namespace(),
        piece.name(),
        piece.key(),
        piece.about(),
        piece.image(),
        piece.command(),
        piece.environment(),
        secrets,
        piece.cpu(),
        piece.memory(),
        piece.graceSeconds());
  }

  private static Map<String, String> environment(Filling filling) {
    Map<String, String> all = new HashMap<>(filling.environment());
    all.put("PURSER_VALUES", LAST_WORDS);
    return all;
  }

  /** No other attempt has it, of this site or another. */
  private String key(Attempt attempt) {
    String text =
        site()
            + " "
            + attempt.run().run().reference()
            + " "
            + attempt.id()
            + " "
            + attempt.number();
    try {
      byte[] hash =
          MessageDigest.getInstance("SHA-256").digest(text.getBytes(StandardCharsets.UTF_8));
      return HexFormat.of().formatHex(hash);
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException(e);
    }
  }

  private synchronized String site() {
    if (site == null) {
      site = rows.queryForObject("select id from site_identity", String.class);
    }
    return site;
  }
}
