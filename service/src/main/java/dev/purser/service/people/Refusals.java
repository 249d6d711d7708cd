package dev.purser.service.people;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.Optional;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpMethod;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ProblemDetail;
import org.springframework.security.core.Authentication;
import org.springframework.security.core.context.SecurityContextHolder;
import tools.jackson.databind.json.JsonMapper;

/** What the door says to those who may not pass, as problem details (RFC 9457). */
final class Refusals {
  private static final JsonMapper JSON = JsonMapper.builder().build();

  private Refusals() {}

  /** Nobody is known to ask. */
  static void unauthorized(HttpServletRequest request, HttpServletResponse response, String detail)
      throws IOException {
    if (request.getRequestURI().equals(Admission.FEED)) {
      response.setHeader(HttpHeaders.WWW_AUTHENTICATE, "Basic realm=\"Purser\", charset=\"UTF-8\"");
    }
    write(response, HttpStatus.UNAUTHORIZED, "Not signed in", detail);
  }

  /** Who asks is known, and may not; or there is nothing to be asked for. */
  static void denied(HttpServletRequest request, HttpServletResponse response) throws IOException {
    String path = request.getRequestURI();
    Optional<WhoMay.Rule> rule = WhoMay.rule(HttpMethod.valueOf(request.getMethod()), path);
    if (rule.isEmpty()) {
      write(
          response,
          HttpStatus.NOT_FOUND,
          "Not found",
          "there is nothing at " + request.getMethod() + " " + path);
    } else if (rule.get().least().isEmpty() || rule.get().least().get() == Role.VIEWER) {
      write(
          response,
          HttpStatus.FORBIDDEN,
          "Not allowed",
          "this request lacks its protection against forgery, the header X-XSRF-TOKEN; sign in"
              + " again");
    } else {
      write(
          response,
          HttpStatus.FORBIDDEN,
          "Not allowed",
          "this needs the role " + rule.get().least().get().word() + "; " + whoAsks());
    }
  }

  private static String whoAsks() {
    Authentication who = SecurityContextHolder.getContext().getAuthentication();
    if (who == null) {
      return "nobody is signed in";
    }
    return who.getName() + " has the role " + Pass.role(who).map(Role::word).orElse("of nobody");
  }

  private static void write(
      HttpServletResponse response, HttpStatus status, String title, String detail)
      throws IOException {
    ProblemDetail problem = ProblemDetail.forStatusAndDetail(status, detail);
    problem.setTitle(title);
    response.setStatus(status.value());
    response.setContentType(MediaType.APPLICATION_PROBLEM_JSON_VALUE);
    response.setCharacterEncoding("UTF-8");
    response.getWriter().write(JSON.writeValueAsString(problem));
  }
}
