package dev.purser.service.connection;

import dev.purser.core.definition.ConnectionKind;
import dev.purser.remote.http.Site;
import java.util.List;
import java.util.Set;

/** Tries connections of some kinds: signs in, looks, and changes nothing. */
public interface ConnectionTrial {
  /** Which kinds it tries. */
  Set<ConnectionKind> tries();

  /**
   * Tries one; waits for the other side, half a minute at most.
   *
   * @param path what is looked at there; empty for the address itself
   */
  Outcome of(Site site, String path);

  /**
   * What came of it.
   *
   * @param good whether it was reached and let us in
   * @param steps what was done and what came back, in order, for people
   */
  record Outcome(boolean good, List<String> steps) {}
}
