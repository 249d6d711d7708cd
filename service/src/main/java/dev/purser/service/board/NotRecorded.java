package dev.purser.service.board;

/** What was asked can never be put on record as it is, so nothing of it was done. */
public final class NotRecorded extends RuntimeException {
  private static final long serialVersionUID = 1L;

  NotRecorded(Throwable cause) {
    super(
        "this cannot be put on record as it is, and was not done; the service's log says why",
        cause);
  }
}
