package dev.purser.core.run;

/**
 * How an attempt ended.
 *
 * @param kind in which way
 * @param code the exit code where it exited, 0 to 255; else -1
 * @param note what more is known, for people; may be empty
 */
public record Ending(Kind kind, int code, String note) {
  /** The ways. */
  public enum Kind {
    /** The process exited by itself or by a signal; 128 and the signal's number make its code. */
    EXITED,
    /** The host could not start it. */
    NOT_STARTED,
    /** The host cannot find it any more, and does not know how it ended. */
    LOST,
    /** Its check before work found that there is nothing to do. */
    NOTHING_TO_DO,
    /** A value that its command asks for is missing; trying again would not help. */
    NO_VALUE,
    /** Its check before work failed, so nobody knows whether there was anything to do. */
    CHECK_FAILED
  }

  /** An exit with a code. */
  public static Ending exited(int code) {
    return new Ending(Kind.EXITED, code, "");
  }

  /** In words. */
  public String inWords() {
    String more = note.isEmpty() ? "" : ": " + note;
    return switch (kind) {
      case EXITED -> code == 0 ? "succeeded" + more : "exit code " + code + signal() + more;
      case NOT_STARTED, NO_VALUE -> "could not be started" + more;
      case LOST -> "was lost" + more;
      case NOTHING_TO_DO -> "found nothing to do" + more;
      case CHECK_FAILED ->
          "check before work failed with exit code "
              + code
              + more
              + "; 0 means that there is"
              + " something to do, 1 that there is not";
    };
  }

  private String signal() {
    return switch (code) {
      case 129 -> " (as after signal SIGHUP)";
      case 130 -> " (as after signal SIGINT)";
      case 134 -> " (as after signal SIGABRT)";
      case 137 -> " (as after signal SIGKILL)";
      case 139 -> " (as after signal SIGSEGV)";
      case 143 -> " (as after signal SIGTERM)";
      case 126 -> " (the command could not be executed)";
      case 127 -> " (the command was not found)";
      default -> "";
    };
  }
}
