package dev.purser.core.phrase;

/** A phrase that cannot be read: where it went wrong and what could stand there. */
public final class PhraseException extends RuntimeException {
  private static final long serialVersionUID = 1L;

  private final int column;

  /** Makes one for a column, counted from 1, of the phrase. */
  public PhraseException(int column, String message) {
    super(message);
    this.column = column;
  }

  /** The column of the phrase at which it went wrong, from 1. */
  public int column() {
    return column;
  }
}
