package dev.purser.service.people;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.Base64;
import java.util.Optional;
import org.springframework.http.HttpHeaders;
import org.springframework.security.core.Authentication;
import org.springframework.security.core.context.SecurityContext;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.web.filter.OncePerRequestFilter;

/**
 * Says at each request who asks, as things are now: a program by its token, for this request alone;
 * a browser by its session, whose person is looked up anew, so that a lock or another role counts
 * at once.
 */
final class Admission extends OncePerRequestFilter {
  static final String FEED = "/api/v1/streams/feed";

  private final People people;
  private final Tokens tokens;

  Admission(People people, Tokens tokens) {
    this.people = people;
    this.tokens = tokens;
  }

  @Override
  protected boolean shouldNotFilter(HttpServletRequest request) {
    String path = request.getRequestURI();
    return path.startsWith("/agent/") || !WhoMay.isForPrograms(path);
  }

  @Override
  protected boolean shouldNotFilterAsyncDispatch() {
    return true;
  }

  @Override
  protected void doFilterInternal(
      HttpServletRequest request, HttpServletResponse response, FilterChain chain)
      throws ServletException, IOException {
    String header = request.getHeader(HttpHeaders.AUTHORIZATION);
    if (header == null) {
      bySession(request);
      chain.doFilter(request, response);
      return;
    }
    // Whoever gives a token is known by it alone: a session beside it does not count, so that
    // leaving the CSRF check out for such requests opens nothing.
    String secret = token(header, request);
    Optional<Tokens.Opened> opened =
        tokens.opens(secret, request.getRequestURI().equals(FEED), header.startsWith("Basic "));
    if (opened.isEmpty()) {
      SecurityContextHolder.clearContext();
      Refusals.unauthorized(
          request, response, "the token is unknown, has ended, or does not open this");
      return;
    }
    if (!opened.get().usedToday()) {
      tokens.used(secret);
    }
    Pass.by(secret, request);
    is(opened.get().person());
    chain.doFilter(request, response);
  }

  private void bySession(HttpServletRequest request) {
    Authentication who = SecurityContextHolder.getContext().getAuthentication();
    if (who == null) {
      return;
    }
    Instant begun = Sessions.begun(request).orElse(Instant.MIN);
    Optional<PersonRow> person = people.byName(who.getName()).filter(one -> one.holds(begun));
    if (person.isEmpty()) {
      Sessions.endQuietly(request);
    } else {
      is(person.get());
    }
  }

  /** For this request only: what the session keeps is the name, and that is all that is trusted. */
  private static void is(PersonRow person) {
    SecurityContext context = SecurityContextHolder.createEmptyContext();
    context.setAuthentication(Pass.authentication(person));
    SecurityContextHolder.setContext(context);
  }

  /** Calendar programs know only a name and a password: for the feed the password is a token. */
  private static String token(String header, HttpServletRequest request) {
    if (header.startsWith("Bearer ")) {
      return header.substring(7);
    }
    boolean feed = request.getRequestURI().equals(FEED) && header.startsWith("Basic ");
    if (!feed) {
      return "";
    }
    try {
      String both =
          new String(Base64.getDecoder().decode(header.substring(6)), StandardCharsets.UTF_8);
      return both.substring(both.indexOf(':') + 1);
    } catch (IllegalArgumentException e) {
      return "";
    }
  }
}
