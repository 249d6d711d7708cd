package dev.purser.wire.api;

/** How much may be said at once; the document of the API has these limits too. */
public final class Limits {
  /** Characters of a name, a path or a word. */
  public static final int NAME = 300;

  /** Characters of a reason. */
  public static final int REASON = 1_000;

  /** Characters of one value of a parameter. */
  public static final int VALUE = 10_000;

  /** Parameters of one start. */
  public static final int PARAMETERS = 500;

  /** Runs that are acted on at once. */
  public static final int RUNS = 20_000;

  /** Arrivals that are decided on at once. */
  public static final int ARRIVALS = 1_000;

  /** Files that are checked or published at once. */
  public static final int FILES = 20_000;

  /** Characters of one file; a definition file has fewer, and is told so with its name. */
  public static final int FILE = 16_000_000;

  /** Characters of a password. */
  public static final int PASSWORD = 1_000;

  private Limits() {}
}
