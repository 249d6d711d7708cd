package dev.purser.agent;

import java.util.Optional;
import java.util.Set;

/**
 * On whose behalf work may run on this host, as the host's owner says: what is not allowed here, no
 * definition can do.
 *
 * @param own the agent's own user
 * @param allowed names of users; empty for the agent's own only
 */
record RunAs(String own, Set<String> allowed) {
  /** Only the agent's own user. */
  static RunAs ownOnly() {
    return new RunAs(System.getProperty("user.name"), Set.of());
  }

  /** Why work may not run on behalf of a user; empty where it may. */
  Optional<String> refusal(String user) {
    String who = user.isEmpty() ? own : user;
    boolean good = allowed.isEmpty() ? who.equals(own) : allowed.contains(who);
    if (!good) {
      return Optional.of(
          "this host does not allow work as user \""
              + who
              + "\"; its owner allows "
              + (allowed.isEmpty() ? "only \"" + own + "\"" : String.join(", ", allowed))
              + " (see --run-as of its agent)");
    }
    if (!who.equals(own) && !own.equals("root")) {
      return Optional.of(
          "only an agent that runs as root can start work as another user, and this one runs as \""
              + own
              + "\"");
    }
    return Optional.empty();
  }

  /** The user to turn into; empty for none. */
  String turnInto(String user) {
    return user.equals(own) ? "" : user;
  }
}
