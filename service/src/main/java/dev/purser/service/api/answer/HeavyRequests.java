package dev.purser.service.api.answer;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.time.Duration;
import java.util.List;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.core.annotation.Order;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ProblemDetail;
import org.springframework.stereotype.Component;
import org.springframework.web.filter.OncePerRequestFilter;
import tools.jackson.databind.json.JsonMapper;

/**
 * What takes much memory or time (definitions by the hundred megabytes, rehearsals, years of plans)
 * is done for a few at once, so that a crowd of such requests cannot take the service away from
 * those who watch and act. Whoever waits too long is told to come back; nothing was done.
 */
@Component
@Order(0) // behind the door: who is not let in takes no place
class HeavyRequests extends OncePerRequestFilter {
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final int AT_ONCE = 3;

  /** Each who waits takes a thread from those who watch and act. */
  private static final int MOST_WAITING = 12;

  private static final Duration LONGEST_WAIT = Duration.ofSeconds(20);
  private static final List<String> HEAVY_POSTS =
      List.of(
          "/api/v1/definitions",
          "/api/v1/calendars/import",
          "/api/v1/what-if",
          "/api/v1/drafts",
          "/api/v1/parcels");
  private static final List<String> HEAVY = List.of("/api/v1/outlook", "/api/v1/streams/month");

  private final Semaphore places;
  private final int mostWaiting;
  private final Duration longestWait;

  @Autowired
  HeavyRequests() {
    this(AT_ONCE, MOST_WAITING, LONGEST_WAIT);
  }

  HeavyRequests(int atOnce, int mostWaiting, Duration longestWait) {
    places = new Semaphore(atOnce, true);
    this.mostWaiting = mostWaiting;
    this.longestWait = longestWait;
  }

  @Override
  protected boolean shouldNotFilter(HttpServletRequest request) {
    String path = request.getRequestURI();
    boolean heavyPost =
        request.getMethod().equals("POST") && HEAVY_POSTS.stream().anyMatch(path::startsWith);
    return !heavyPost && HEAVY.stream().noneMatch(path::startsWith);
  }

  @Override
  protected void doFilterInternal(
      HttpServletRequest request, HttpServletResponse response, FilterChain chain)
      throws IOException, ServletException {
    if (!waitForPlace()) {
      refuse(response);
      return;
    }
    try {
      chain.doFilter(request, response);
    } finally {
      places.release();
    }
  }

  private boolean waitForPlace() {
    if (places.getQueueLength() >= mostWaiting) {
      return places.tryAcquire();
    }
    try {
      return places.tryAcquire(longestWait.toMillis(), TimeUnit.MILLISECONDS);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      return false;
    }
  }

  private static void refuse(HttpServletResponse response) throws IOException {
    ProblemDetail problem =
        ProblemDetail.forStatusAndDetail(
            HttpStatus.SERVICE_UNAVAILABLE,
            "Too many large requests are being worked on; nothing was done. Try again in a moment.");
    problem.setTitle("Busy");
    response.setStatus(HttpStatus.SERVICE_UNAVAILABLE.value());
    response.setHeader("Retry-After", "10");
    response.setContentType(MediaType.APPLICATION_PROBLEM_JSON_VALUE);
    response.getWriter().write(JSON.writeValueAsString(problem));
  }
}
