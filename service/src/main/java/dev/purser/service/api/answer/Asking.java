package dev.purser.service.api.answer;

import dev.purser.core.problem.NotUnderstood;
import dev.purser.service.audit.AuditTrail;
import jakarta.servlet.http.HttpServletRequest;
import org.springframework.security.core.Authentication;

/** Who asks. */
public final class Asking {
  private Asking() {}

  /** Who asks, and from where, for the audit trail. */
  public static AuditTrail.Actor actor(Authentication who, HttpServletRequest request) {
    return new AuditTrail.Actor(who.getName(), request.getRemoteAddr());
  }

  /** A reason as it is kept; none is the empty text. */
  public static String reason(String given) {
    String reason = given == null ? "" : given.strip();
    if (reason.length() > 1_000) {
      throw new NotUnderstood("the reason is too long; at most 1000 characters");
    }
    return reason;
  }
}
