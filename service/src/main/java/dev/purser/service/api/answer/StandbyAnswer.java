package dev.purser.service.api.answer;

import dev.purser.service.active.Active;
import dev.purser.service.board.Lease;
import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import org.springframework.core.Ordered;
import org.springframework.core.annotation.Order;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ProblemDetail;
import org.springframework.stereotype.Component;
import org.springframework.web.filter.OncePerRequestFilter;
import tools.jackson.databind.json.JsonMapper;

/** What a service answers while another is active: who is. */
@Component
@Order(Ordered.HIGHEST_PRECEDENCE)
class StandbyAnswer extends OncePerRequestFilter {
  private static final JsonMapper JSON = JsonMapper.builder().build();

  private final Active service;
  private final Lease lease;

  StandbyAnswer(Active service, Lease lease) {
    this.service = service;
    this.lease = lease;
  }

  @Override
  protected boolean shouldNotFilter(HttpServletRequest request) {
    String path = request.getRequestURI();
    return service.isActive() || !(path.startsWith("/api/") || path.startsWith("/agent/"));
  }

  @Override
  protected void doFilterInternal(
      HttpServletRequest request, HttpServletResponse response, FilterChain chain)
      throws IOException, ServletException {
    if (request.getHeader("Upgrade") != null) {
      chain.doFilter(request, response); // agents are told at their door
      return;
    }
    ProblemDetail problem =
        ProblemDetail.forStatusAndDetail(
            HttpStatus.SERVICE_UNAVAILABLE,
            "This service stands by: "
                + lease.inWords()
                + ". It takes over within seconds when that one is gone.");
    problem.setTitle("Stands by");
    problem.setProperty("active", lease.activeAddress());
    response.setStatus(HttpStatus.SERVICE_UNAVAILABLE.value());
    response.setContentType(MediaType.APPLICATION_PROBLEM_JSON_VALUE);
    response.setCharacterEncoding("UTF-8");
    response.getWriter().write(JSON.writeValueAsString(problem));
  }
}
