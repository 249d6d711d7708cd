package dev.purser.service.output;

import dev.purser.core.job.Where;
import dev.purser.service.masking.SecretMask;
import dev.purser.service.run.AttemptRow;
import jakarta.persistence.EntityManager;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.Arrays;
import java.util.List;
import java.util.zip.DeflaterOutputStream;
import java.util.zip.InflaterInputStream;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Keeps and gives back the output of attempts. */
@Component
public class OutputStore {
  private final EntityManager rows;
  private final SecretMask mask;

  OutputStore(EntityManager rows, SecretMask mask) {
    this.rows = rows;
    this.mask = mask;
  }

  /**
   * Some output.
   *
   * @param data bytes from the offset that was asked for
   * @param complete whether no more will come
   * @param total bytes that the attempt wrote
   * @param kept bytes of them that are kept
   */
  public record Piece(byte[] data, boolean complete, long total, long kept) {}

  /**
   * Keeps a piece, without the secrets in it; one that is kept already is left as it is.
   *
   * @param where it comes from; of an attempt that is elsewhere nothing is kept
   * @return up to which offset output is kept
   */
  @Transactional
  public long keep(
      Where where, long run, int attempt, long offset, byte[] data, boolean complete, long total) {
    AttemptRow row = rows.find(AttemptRow.class, new AttemptRow.Key(run, attempt));
    if (row == null || !row.host.equals(where.word())) {
      return offset + data.length; // an attempt that no record knows: let the agent forget it
    }
    if (offset == row.outputKept && data.length > 0) {
      OutputPieceRow piece = new OutputPieceRow();
      piece.run = run;
      piece.attempt = attempt;
      piece.start = offset;
      piece.length = data.length;
      piece.data = deflate(masked(run, attempt, offset, data));
      rows.persist(piece);
      row.outputKept = offset + data.length;
    }
    row.outputTotal = Math.max(row.outputTotal, total);
    row.outputComplete |= complete && offset + data.length == row.outputKept;
    return row.outputKept;
  }

  /** A secret may have begun in pieces before: then the ends of those are masked as well. */
  private byte[] masked(long run, int attempt, long offset, byte[] data) {
    byte[] clean = mask.of(data);
    if (offset == 0 || !mask.mayEnd(data)) {
      return clean;
    }
    List<OutputPieceRow> before = pieces(run, attempt, offset - mask.longest(), offset);
    ByteArrayOutputStream joined = new ByteArrayOutputStream();
    before.forEach(piece -> joined.writeBytes(inflate(piece.data)));
    joined.writeBytes(clean);
    byte[] both = joined.toByteArray();
    byte[] masked = mask.of(both);
    int at = 0;
    for (OutputPieceRow piece : before) {
      if (!Arrays.equals(both, at, at + piece.length, masked, at, at + piece.length)) {
        piece.data = deflate(Arrays.copyOfRange(masked, at, at + piece.length));
      }
      at += piece.length;
    }
    return Arrays.copyOfRange(masked, at, masked.length);
  }

  private List<OutputPieceRow> pieces(long run, int attempt, long from, long to) {
    return rows.createQuery(
            "from OutputPieceRow p where p.run = :run and p.attempt = :attempt"
                + " and p.start + p.length > :from and p.start < :to order by p.start",
            OutputPieceRow.class)
        .setParameter("run", run)
        .setParameter("attempt", attempt)
        .setParameter("from", from)
        .setParameter("to", to)
        .getResultList();
  }

  /** Reads at most {@code most} bytes from an offset; none where there is no such attempt. */
  @Transactional(readOnly = true)
  public Piece read(long run, int attempt, long offset, int most) {
    AttemptRow row = rows.find(AttemptRow.class, new AttemptRow.Key(run, attempt));
    if (row == null) {
      return new Piece(new byte[0], true, 0, 0);
    }
    List<OutputPieceRow> pieces = pieces(run, attempt, offset, offset + most);
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    for (OutputPieceRow piece : pieces) {
      byte[] data = inflate(piece.data);
      int skip = (int) Math.max(0, offset - piece.start);
      out.write(data, skip, Math.min(data.length - skip, most - out.size()));
    }
    return new Piece(out.toByteArray(), row.outputComplete, row.outputTotal, row.outputKept);
  }

  /** Makes output small, as it is kept. */
  public static byte[] deflate(byte[] data) {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    try (DeflaterOutputStream deflater = new DeflaterOutputStream(out)) {
      deflater.write(data);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    return out.toByteArray();
  }

  /** What {@link #deflate} has made small. */
  public static byte[] inflate(byte[] data) {
    try (InflaterInputStream in = new InflaterInputStream(new ByteArrayInputStream(data))) {
      return in.readAllBytes();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }
}
