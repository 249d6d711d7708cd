package dev.purser.service.people;

import jakarta.servlet.http.HttpServletRequest;
import java.util.List;
import java.util.Optional;
import org.springframework.security.authentication.UsernamePasswordAuthenticationToken;
import org.springframework.security.core.Authentication;
import org.springframework.security.core.authority.SimpleGrantedAuthority;

/**
 * What a request was let in by, for what goes on after it: a live connection ends with its session,
 * its token, or its person.
 *
 * @param person their name
 * @param session its id; empty where a token was given
 * @param token its hash; empty where a session was
 */
public record Pass(String person, String session, String token) {
  private static final String TOKEN = "purser.token";

  /** That of a request by somebody who is signed in. */
  public static Pass of(Authentication who, HttpServletRequest request) {
    String token =
        Optional.ofNullable((String) request.getAttribute(TOKEN)).map(Secrets::hash).orElse("");
    String session =
        token.isEmpty() && request.getSession(false) != null
            ? request.getSession(false).getId()
            : "";
    return new Pass(who.getName(), session, token);
  }

  /** The secret of the token that a request was let in by. */
  public static Optional<String> secret(HttpServletRequest request) {
    return Optional.ofNullable((String) request.getAttribute(TOKEN));
  }

  static void by(String secret, HttpServletRequest request) {
    request.setAttribute(TOKEN, secret);
  }

  /** A person as Spring Security knows them, with their role as it is now. */
  static Authentication authentication(PersonRow person) {
    List<SimpleGrantedAuthority> roles =
        person.mustChange ? List.of() : List.of(new SimpleGrantedAuthority(person.role));
    return UsernamePasswordAuthenticationToken.authenticated(person.name, null, roles);
  }

  /** The role of somebody who is signed in; empty for nobody. */
  static Optional<Role> role(Authentication who) {
    return who == null
        ? Optional.empty()
        : who.getAuthorities().stream()
            .flatMap(one -> Role.of(one.getAuthority()).stream())
            .findFirst();
  }
}
