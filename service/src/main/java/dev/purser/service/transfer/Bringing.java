package dev.purser.service.transfer;

import dev.purser.core.transfer.Transfer;
import dev.purser.remote.place.RemotePlace;
import dev.purser.remote.place.RemotePlace.RemoteFile;
import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.security.DigestInputStream;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import java.util.function.LongConsumer;

/**
 * Brings one file: beside its place first and then to it, so that half of it is never taken for the
 * whole; from where it broke off, where that is known; and only whole if it did not change
 * meanwhile.
 */
final class Bringing {
  private final RemotePlace from;
  private final RemotePlace to;
  private final Transfer transfer;
  private final String source;
  private final String target;
  private final BooleanSupplier stops;
  private final LongConsumer progress;

  /**
   * For files of two directories.
   *
   * @param source directory, without a slash at its end
   * @param target directory, without a slash at its end
   * @param stops whether it is to stop
   * @param progress is told how many bytes have been read of the file
   */
  Bringing(
      RemotePlace from,
      RemotePlace to,
      Transfer transfer,
      String source,
      String target,
      BooleanSupplier stops,
      LongConsumer progress) {
    this.from = from;
    this.to = to;
    this.transfer = transfer;
    this.source = source;
    this.target = target;
    this.stops = stops;
    this.progress = progress;
  }

  /** Something is wrong that another try would not mend. */
  static final class Refused extends IOException {
    private static final long serialVersionUID = 1L;

    Refused(String message) {
      super(message);
    }
  }

  /** It was asked to stop. */
  static final class Stopped extends IOException {
    private static final long serialVersionUID = 1L;

    Stopped() {
      super("stopped");
    }
  }

  /**
   * Brings a file.
   *
   * @param again whether it had been begun before: then nothing was there, or it was to be
   *     replaced, and what is there now may be of that
   * @param begins is run once it is known that the file may be brought, before anything is written
   * @return SHA-256 of its content; empty where a file of the name is there, and is to stay
   */
  Optional<String> bring(RemoteFile file, boolean again, Runnable begins) throws IOException {
    String whole = target + "/" + file.name();
    String part = to.goesOn() ? target + "/." + file.name() + ".part" : whole;
    Optional<RemoteFile> there = to.look(whole);
    Optional<RemoteFile> begun = to.goesOn() ? to.look(part) : Optional.empty();
    boolean isWritten = again && !to.goesOn(); // whatever is there is written over
    if (there.isPresent() && !isWritten) {
      boolean ours = again && begun.isEmpty() && there.get().size() == file.size();
      if (ours) {
        return Optional.of(hash(from, source + "/" + file.name(), whole));
      }
      if (transfer.there() == Transfer.There.SKIP) {
        return Optional.empty();
      }
      if (transfer.there() == Transfer.There.FAIL) {
        throw new Refused(whole + " is there already");
      }
    }
    begins.run();
    long offset =
        again ? begun.map(RemoteFile::size).filter(size -> size <= file.size()).orElse(0L) : 0;
    String hash = copy(file, part, offset);
    if (!part.equals(whole)) {
      if (there.isPresent()) {
        to.remove(whole);
      }
      to.move(part, whole);
    }
    return Optional.of(hash);
  }

  private String copy(RemoteFile file, String part, long offset) throws IOException {
    String path = source + "/" + file.name();
    MessageDigest digest = sha256();
    try (InputStream in = new DigestInputStream(new Watched(from.read(path)), digest)) {
      readOver(in, offset);
      to.write(part, in, file.size(), offset);
      if (in.read() >= 0) {
        throw new Refused(path + " has grown while it was read");
      }
    }
    RemoteFile after =
        from.look(path).orElseThrow(() -> new Refused(path + " went away while it was read"));
    if (after.size() != file.size() || after.modified() != file.modified()) {
      throw new Refused(path + " changed while it was read");
    }
    long arrived = to.look(part).map(RemoteFile::size).orElse(-1L);
    if (arrived != file.size()) {
      throw new Refused(
          "of " + path + " " + arrived + " of " + file.size() + " bytes have arrived");
    }
    String hash = HexFormat.of().formatHex(digest.digest());
    if (transfer.compare() && !hash(to, part, path).equals(hash)) {
      throw new Refused("what has arrived of " + path + " differs from what was sent");
    }
    return hash;
  }

  private static void readOver(InputStream in, long offset) throws IOException {
    byte[] some = new byte[64 * 1024];
    long left = offset;
    while (left > 0) {
      int read = in.read(some, 0, (int) Math.min(some.length, left));
      if (read < 0) {
        throw new IOException("the source has become shorter");
      }
      left -= read;
    }
  }

  private String hash(RemotePlace place, String path, String what) throws IOException {
    MessageDigest digest = sha256();
    byte[] some = new byte[64 * 1024];
    try (InputStream in = new DigestInputStream(new Watched(place.read(path)), digest)) {
      int read;
      do {
        read = in.read(some);
      } while (read >= 0);
    } catch (Stopped e) {
      throw e;
    } catch (IOException e) {
      throw new IOException("cannot compare " + what + ": " + e.getMessage(), e);
    }
    return HexFormat.of().formatHex(digest.digest());
  }

  private static MessageDigest sha256() {
    try {
      return MessageDigest.getInstance("SHA-256");
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException("every Java has SHA-256", e);
    }
  }

  /** Counts what is read. */
  private final class Watched extends FilterInputStream {
    private long count;

    Watched(InputStream in) {
      super(new Stoppable(in, stops));
    }

    @Override
    public int read() throws IOException {
      byte[] one = new byte[1];
      return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
    }

    @Override
    public int read(byte[] into, int from, int most) throws IOException {
      int read = super.read(into, from, most);
      if (read > 0) {
        count += read;
        progress.accept(count);
      }
      return read;
    }
  }
}
