package dev.purser.service.start;

/** The service refuses to start. */
public final class CannotStart extends RuntimeException {
  private static final long serialVersionUID = 1L;
  private final String remedy;

  /**
   * A refusal.
   *
   * @param why what was found
   * @param remedy what to do about it
   */
  CannotStart(String why, String remedy) {
    super(why);
    this.remedy = remedy;
  }

  /** What to do about it. */
  public String remedy() {
    return remedy;
  }
}
