package dev.purser.service.api;

import dev.purser.service.audit.AuditTrail;
import jakarta.servlet.http.HttpServletRequest;
import org.springframework.security.core.Authentication;

/** Who asks. */
final class Asking {
  private Asking() {}

  static AuditTrail.Actor actor(Authentication who, HttpServletRequest request) {
    return new AuditTrail.Actor(who.getName(), request.getRemoteAddr());
  }
}
