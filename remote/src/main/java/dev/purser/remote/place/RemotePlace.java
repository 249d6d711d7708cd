package dev.purser.remote.place;

import dev.purser.remote.http.Site;
import dev.purser.remote.http.Web;
import java.io.IOException;
import java.io.InputStream;
import java.util.Optional;
import java.util.function.Consumer;

/** A place of files. Paths are absolute, with slashes. */
public interface RemotePlace extends AutoCloseable {
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

  /** Whether its files can be listed; where not, a file is had by its name alone. */
  default boolean lists() {
    return true;
  }

  /** How a file looks; empty where it is not there. */
  Optional<RemoteFile> look(String path) throws IOException;

  /** Its content; the caller closes it. */
  InputStream read(String path) throws IOException;

  /**
   * Writes a file, or the rest of one.
   *
   * @param size of all of it
   * @param offset from which on the content is; more than 0 only where {@link #goesOn}
   */
  void write(String path, InputStream content, long size, long offset) throws IOException;

  /** Whether a file can be there in part: then it is written beside its place, and moved there. */
  boolean goesOn();

  /** Moves a file to where nothing is yet. */
  void move(String path, String target) throws IOException;

  /** Removes a file. */
  void remove(String path) throws IOException;

  @Override
  void close();

  /**
   * Opens the place to which a connection leads.
   *
   * @param web for files that are had by HTTP
   * @throws IOException with what is wrong
   */
  static RemotePlace open(Site site, Web web) throws IOException {
    return switch (site.connection().kind()) {
      case SFTP -> new SftpPlace(site);
      case HTTP -> new HttpPlace(site, web);
      case HTTP_UNSAID, OBJECT_STORE -> new ObjectStorePlace(site);
      case DATABASE, CLUSTER, MAIL ->
          throw new RefusedException(site.connection().name() + " leads to no files");
    };
  }
}
