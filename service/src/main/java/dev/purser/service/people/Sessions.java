package dev.purser.service.people;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import jakarta.servlet.http.HttpSession;
import java.time.Clock;
import java.time.Instant;
import java.util.Optional;
import org.springframework.security.core.context.SecurityContext;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.security.web.context.SecurityContextRepository;
import org.springframework.stereotype.Component;

/** Begins and ends the sessions of browsers. */
@Component
public class Sessions {
  private static final String BEGUN = "purser.begun";

  private final SecurityContextRepository contexts;
  private final Clock clock;

  Sessions(SecurityContextRepository contexts, Clock clock) {
    this.contexts = contexts;
    this.clock = clock;
  }

  /** Begins a session of its own for a person, under a fresh id. */
  public void begin(PersonRow person, HttpServletRequest request, HttpServletResponse response) {
    HttpSession old = request.getSession(false);
    if (old != null) {
      old.invalidate();
    }
    request.getSession(true).setAttribute(BEGUN, clock.instant());
    SecurityContext context = SecurityContextHolder.createEmptyContext();
    context.setAuthentication(Pass.authentication(person));
    SecurityContextHolder.setContext(context);
    contexts.saveContext(context, request, response);
  }

  /** When the session of a request began; empty where there is none. */
  static Optional<Instant> begun(HttpServletRequest request) {
    HttpSession session = request.getSession(false);
    return Optional.ofNullable(session).map(one -> (Instant) one.getAttribute(BEGUN));
  }

  /** Ends the session. */
  public void end(HttpServletRequest request) {
    endQuietly(request);
  }

  static void endQuietly(HttpServletRequest request) {
    HttpSession session = request.getSession(false);
    if (session != null) {
      session.invalidate();
    }
    SecurityContextHolder.clearContext();
  }
}
