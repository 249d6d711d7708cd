package dev.purser.service.people;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import jakarta.servlet.http.HttpSession;
import org.springframework.security.core.context.SecurityContext;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.security.web.context.SecurityContextRepository;
import org.springframework.stereotype.Component;

/** Begins and ends the sessions of browsers. */
@Component
public class Sessions {
  private final SecurityContextRepository contexts;

  Sessions(SecurityContextRepository contexts) {
    this.contexts = contexts;
  }

  /** Begins a session of its own for a person, under a fresh id. */
  public void begin(PersonRow person, HttpServletRequest request, HttpServletResponse response) {
    HttpSession old = request.getSession(false);
    if (old != null) {
      old.invalidate();
    }
    request.getSession(true);
    SecurityContext context = SecurityContextHolder.createEmptyContext();
    context.setAuthentication(Door.authentication(person));
    SecurityContextHolder.setContext(context);
    contexts.saveContext(context, request, response);
  }

  /** Ends the session. */
  public void end(HttpServletRequest request) {
    HttpSession session = request.getSession(false);
    if (session != null) {
      session.invalidate();
    }
    SecurityContextHolder.clearContext();
  }
}
