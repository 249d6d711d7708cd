package dev.purser.service.people;

/** Without this person nobody could let anybody in; nothing was done. */
public final class LastAdministrator extends RuntimeException {
  private static final long serialVersionUID = 1L;

  LastAdministrator(String message) {
    super(message);
  }
}
