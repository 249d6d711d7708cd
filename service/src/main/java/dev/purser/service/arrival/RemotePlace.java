package dev.purser.service.arrival;

import java.io.IOException;
import java.io.InputStream;
import java.util.Optional;
import java.util.function.Consumer;

/** A place of files that the service itself looks at. Paths are absolute, with slashes. */
interface RemotePlace extends AutoCloseable {
  /**
   * A file there.
   *
   * @param modified epoch milliseconds of the other side's clock
   * @param key changes with the content where the other side has such a thing; else empty
   * @param leadsOut whether it is a link that leads out of its directory
   */
  record RemoteFile(String name, long size, long modified, String key, boolean leadsOut) {}

  /**
   * Hands over every file of a directory, as it comes.
   *
   * @throws IOException where it cannot be listed, with what is wrong
   */
  void list(String directory, Consumer<RemoteFile> each) throws IOException;

  /** How a file looks; empty where it is not there. */
  Optional<RemoteFile> look(String path) throws IOException;

  /** Its content; the caller closes it. */
  InputStream read(String path) throws IOException;

  /** Moves a file to where nothing is yet. */
  void move(String path, String target) throws IOException;

  /** Removes a file. */
  void remove(String path) throws IOException;

  @Override
  void close();
}
