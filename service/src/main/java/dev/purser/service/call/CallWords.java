package dev.purser.service.call;

import dev.purser.core.pursuit.Pursuit;

/** How an attempt at a remote service stands, in words. */
final class CallWords {
  private CallWords() {}

  /** As the end of "it has been running in the service since ...; ". */
  static String stands(Pursuit pursuit, String service) {
    Pursuit.Remote remote = pursuit.remote();
    String away = pursuit.awaySince().isPresent() ? ", which does not answer now" : "";
    return switch (pursuit.phase()) {
      case CHOOSING ->
          remote.word().isEmpty()
              ? "looks what runs at " + service + away
              : remote.word() + " (" + service + ")" + away;
      case ASKING -> "asks " + service + " to begin" + away;
      case UNCLEAR -> "finds out whether " + service + " has begun" + away;
      case PERSON ->
          "nobody knows whether "
              + service
              + " has begun it; look there, and say so (purser remote)";
      case FOLLOWING ->
          "it is "
              + remote.id()
              + " at "
              + service
              + (remote.word().isEmpty() ? "" : ", there " + remote.word())
              + away;
      case ENDED -> "";
    };
  }
}
