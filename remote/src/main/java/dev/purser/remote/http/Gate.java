package dev.purser.remote.http;

import java.io.IOException;
import java.net.URI;

/** Which addresses may be called. */
public interface Gate {
  /**
   * Refuses an address that may not be called.
   *
   * @throws IOException saying why, for people
   */
  void check(URI address) throws IOException;
}
