package dev.purser.remote.cluster;

import java.io.IOException;

/** Why a cluster did not do what it was asked for. Texts are for people, and hold no secret. */
public final class ClusterTrouble extends IOException {
  private static final long serialVersionUID = 1;

  /** What kind of trouble. */
  public enum Kind {
    /** It cannot be reached, or has a fault of its own: later it may do it. */
    AWAY,
    /** It does not let us in, or does not take what was asked: asked again, it says the same. */
    REFUSED,
    /** There is no room under a quota now. */
    NO_ROOM
  }

  private final Kind kind;

  ClusterTrouble(Kind kind, String why, Throwable cause) {
    super(why, cause);
    this.kind = kind;
  }

  /** What kind it is of. */
  public Kind kind() {
    return kind;
  }
}
