package dev.purser.service.result;

import dev.purser.service.masking.SecretMask;
import dev.purser.service.output.OutputStore;
import jakarta.persistence.EntityManager;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.json.JsonMapper;

/** Keeps and gives back the rows that queries gave; of each only a piece is in memory. */
@Component
public class Results {
  private static final int PIECE_ROWS = 2_000;
  private static final int PIECE_BYTES = 512 * 1024;
  private static final long MOST_BYTES = 500_000_000;
  private static final JsonMapper JSON =
      JsonMapper.builder()
          .enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS)
          .enable(DeserializationFeature.USE_BIG_INTEGER_FOR_INTS)
          .build();
  private static final TypeReference<List<String>> TEXTS = new TypeReference<>() {};
  private static final TypeReference<List<Object>> CELLS = new TypeReference<>() {};

  private final EntityManager rows;
  private final TransactionTemplate transactions;
  private final SecretMask mask;

  Results(EntityManager rows, TransactionTemplate transactions, SecretMask mask) {
    this.rows = rows;
    this.transactions = transactions;
    this.mask = mask;
  }

  /**
   * A result.
   *
   * @param number of the query among those of its attempt, from 1
   * @param found how many rows there were
   * @param kept how many are kept, from the first on
   * @param complete whether the query has given all that it gives
   */
  public record Result(
      int attempt, int number, List<String> columns, long found, long kept, boolean complete) {}

  /** Takes rows as they are read. */
  public interface Reader {
    /** Takes one: a {@code String}, number, {@code Boolean} or null each. */
    void row(List<Object> values) throws IOException;
  }

  // ---- writing

  /** Forgets what an attempt has given before, where it is done again. */
  public void forget(long run, int attempt) {
    transactions.executeWithoutResult(
        status -> {
          for (String table : List.of("query_result_piece", "query_result")) {
            rows.createNativeQuery(
                    "delete from " + table + " where run = :run and attempt = :attempt")
                .setParameter("run", run)
                .setParameter("attempt", attempt)
                .executeUpdate();
          }
        });
  }

  /** Begins a result. */
  public Writer begin(long run, int attempt, int number, List<String> columns) {
    QueryResultRow row = new QueryResultRow();
    row.run = run;
    row.attempt = attempt;
    row.number = number;
    row.columns = JSON.writeValueAsString(columns);
    transactions.executeWithoutResult(status -> rows.persist(row));
    return new Writer(row);
  }

  /** Takes the rows of one result. Not for more than one thread. */
  public final class Writer {
    private final QueryResultRow row;
    private final ByteArrayOutputStream piece = new ByteArrayOutputStream();
    private int inPiece;
    private int pieces;
    private long kept;
    private long bytes;

    private Writer(QueryResultRow row) {
      this.row = row;
    }

    /** Keeps a row, without the secrets in it. Gives false where there is no room for more. */
    public boolean add(List<Object> values) {
      if (bytes > MOST_BYTES) {
        return false;
      }
      List<Object> clean = new ArrayList<>(values.size());
      values.forEach(value -> clean.add(value instanceof String text ? mask.of(text) : value));
      byte[] line = JSON.writeValueAsBytes(clean);
      piece.writeBytes(line);
      piece.write('\n');
      bytes += line.length + 1L;
      inPiece++;
      kept++;
      if (inPiece >= PIECE_ROWS || piece.size() >= PIECE_BYTES) {
        flush();
      }
      return true;
    }

    private void flush() {
      if (inPiece == 0) {
        return;
      }
      QueryResultPieceRow some = new QueryResultPieceRow();
      some.run = row.run;
      some.attempt = row.attempt;
      some.number = row.number;
      some.place = pieces++;
      some.many = inPiece;
      some.data = OutputStore.deflate(piece.toByteArray());
      transactions.executeWithoutResult(status -> rows.persist(some));
      piece.reset();
      inPiece = 0;
    }

    /** Ends it; what there is is complete. */
    public void end(long found) {
      flush();
      transactions.executeWithoutResult(
          status -> {
            QueryResultRow kept = rows.find(QueryResultRow.class, key());
            if (kept != null) {
              kept.found = found;
              kept.kept = this.kept;
              kept.complete = true;
            }
          });
    }

    private QueryResultRow.Key key() {
      return new QueryResultRow.Key(row.run, row.attempt, row.number);
    }
  }

  // ---- reading

  /** The results of a run, by attempt and number. */
  public List<Result> of(long run) {
    return rows
        .createQuery(
            "from QueryResultRow r where r.run = :run order by r.attempt, r.number",
            QueryResultRow.class)
        .setParameter("run", run)
        .getResultList()
        .stream()
        .map(
            row ->
                new Result(
                    row.attempt,
                    row.number,
                    JSON.readValue(row.columns, TEXTS),
                    row.found,
                    row.kept,
                    row.complete))
        .toList();
  }

  /** One result of a run; of its last attempt that has one where the attempt is 0. */
  public Optional<Result> of(long run, int attempt, int number) {
    return of(run).stream()
        .filter(one -> one.number() == number && (attempt == 0 || one.attempt() == attempt))
        .reduce((first, second) -> second);
  }

  /**
   * Hands over the rows of a result, in their order.
   *
   * @param most rows at most
   */
  public void read(long run, Result result, long most, Reader reader) throws IOException {
    long left = most;
    for (int place = 0; left > 0; place++) {
      Optional<QueryResultPieceRow> piece = piece(run, result, place);
      if (piece.isEmpty()) {
        return;
      }
      String text = new String(OutputStore.inflate(piece.get().data), StandardCharsets.UTF_8);
      for (String line : text.split("\n")) {
        if (left-- > 0) {
          reader.row(JSON.readValue(line, CELLS));
        }
      }
    }
  }

  /** In a transaction of its own, so that no piece stays in memory. */
  private Optional<QueryResultPieceRow> piece(long run, Result result, int place) {
    return Optional.ofNullable(
        transactions.execute(
            status ->
                rows.find(
                    QueryResultPieceRow.class,
                    new QueryResultPieceRow.Key(run, result.attempt(), result.number(), place))));
  }
}
