package dev.purser.service.transfer;

import dev.purser.core.transfer.Sealing;
import dev.purser.remote.pgp.OpenPgp;
import dev.purser.remote.place.ReadOnlyPlace;
import dev.purser.remote.place.RefusedException;
import dev.purser.remote.place.RemotePlace;
import java.io.BufferedOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import java.util.function.BooleanSupplier;
import java.util.function.Consumer;

/**
 * A file of a place, sealed or opened: it lies in a file of the service meanwhile, for nobody else
 * to read, and is brought from there once all of it is good.
 */
final class SealedFile extends ReadOnlyPlace {
  private final RemotePlace source;
  private final String path;
  private final RemoteFile before;
  private final RemoteFile after;
  private final Path file;

  /**
   * Seals or opens one.
   *
   * @param path of it at its source
   * @param signWith the private key itself; empty for none
   * @param decryptWith likewise
   * @param stops whether it is to stop
   */
  SealedFile(
      RemotePlace source,
      String path,
      RemoteFile before,
      Sealing sealing,
      String signWith,
      String decryptWith,
      BooleanSupplier stops)
      throws IOException {
    super("a sealed file is only read");
    this.source = source;
    this.path = path;
    this.before = before;
    this.file = Files.createTempFile("purser-sealed", "");
    boolean good = false;
    try (InputStream in = new Stoppable(source.read(path), stops);
        OutputStream out = new BufferedOutputStream(Files.newOutputStream(file))) {
      if (sealing.seals()) {
        OpenPgp.seal(in, out, before.name(), sealing.encryptFor(), signWith);
      } else {
        OpenPgp.open(in, out, decryptWith, sealing.signedBy());
      }
      good = true;
    } catch (RefusedException e) {
      throw new RefusedException(before.name() + ": " + e.getMessage(), e);
    } finally {
      if (!good) {
        Files.deleteIfExists(file);
      }
    }
    this.after =
        new RemoteFile(
            sealing.nameOf(before.name()), Files.size(file), before.modified(), "", false);
  }

  /** As it is now. */
  RemoteFile file() {
    return after;
  }

  /** It has changed where its source has. */
  @Override
  public Optional<RemoteFile> look(String asked) throws IOException {
    return source
        .look(path)
        .map(
            now ->
                now.size() == before.size() && now.modified() == before.modified() ? after : now);
  }

  @Override
  public InputStream read(String asked) throws IOException {
    return Files.newInputStream(file);
  }

  @Override
  public void list(String directory, Consumer<RemoteFile> each) {
    each.accept(after);
  }

  @Override
  public void close() {
    try {
      Files.deleteIfExists(file);
    } catch (IOException e) {
      file.toFile().deleteOnExit();
    }
  }
}
