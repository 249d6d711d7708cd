package dev.purser.service.action;

/** An action that makes no sense now; nothing was done. */
public final class Refused extends RuntimeException {
  private static final long serialVersionUID = 1L;

  Refused(String reason) {
    super(reason);
  }
}
