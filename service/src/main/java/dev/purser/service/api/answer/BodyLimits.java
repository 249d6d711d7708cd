package dev.purser.service.api.answer;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ReadListener;
import jakarta.servlet.ServletException;
import jakarta.servlet.ServletInputStream;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletRequestWrapper;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.List;
import org.springframework.core.Ordered;
import org.springframework.core.annotation.Order;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ProblemDetail;
import org.springframework.stereotype.Component;
import org.springframework.web.filter.OncePerRequestFilter;
import tools.jackson.databind.json.JsonMapper;

/**
 * No request may send more than its kind needs, whether it says so beforehand or not: little from
 * whoever is not signed in yet, more of definitions than of all else.
 */
@Component
@Order(Ordered.HIGHEST_PRECEDENCE + 1)
class BodyLimits extends OncePerRequestFilter {
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final int OF_STRANGERS = 16_384;
  private static final int OF_ALL = 16_000_000;
  private static final int OF_DEFINITIONS = 200_000_000;
  private static final List<String> STRANGERS = List.of("/api/v1/session", "/agent/");
  private static final List<String> DEFINITIONS =
      List.of(
          "/api/v1/definitions",
          "/api/v1/calendars/import",
          "/api/v1/what-if",
          "/api/v1/drafts",
          "/api/v1/parcels",
          "/api/v1/streams/next");

  /** More was sent than is taken; nothing was done. */
  static final class TooLarge extends IOException {
    private static final long serialVersionUID = 1L;

    TooLarge(long most) {
      super("the body is too large; at most " + most + " bytes are taken here");
    }
  }

  private static long most(HttpServletRequest request) {
    String path = request.getRequestURI();
    if (STRANGERS.stream().anyMatch(path::startsWith)) {
      return OF_STRANGERS;
    }
    return DEFINITIONS.stream().anyMatch(path::startsWith) ? OF_DEFINITIONS : OF_ALL;
  }

  @Override
  protected void doFilterInternal(
      HttpServletRequest request, HttpServletResponse response, FilterChain chain)
      throws IOException, ServletException {
    long most = most(request);
    if (request.getContentLengthLong() > most) {
      ProblemDetail problem =
          ProblemDetail.forStatusAndDetail(
              HttpStatus.CONTENT_TOO_LARGE, new TooLarge(most).getMessage());
      problem.setTitle("Too large");
      response.setStatus(HttpStatus.CONTENT_TOO_LARGE.value());
      response.setContentType(MediaType.APPLICATION_PROBLEM_JSON_VALUE);
      response.setHeader("Connection", "close"); // so that nobody waits for the rest
      response.getWriter().write(JSON.writeValueAsString(problem));
      return;
    }
    chain.doFilter(new Limited(request, most), response);
  }

  private static final class Limited extends HttpServletRequestWrapper {
    private final long most;

    Limited(HttpServletRequest request, long most) {
      super(request);
      this.most = most;
    }

    @Override
    public ServletInputStream getInputStream() throws IOException {
      return new Counted(super.getInputStream(), most);
    }
  }

  private static final class Counted extends ServletInputStream {
    private final ServletInputStream from;
    private final long most;
    private long read;

    Counted(ServletInputStream from, long most) {
      this.from = from;
      this.most = most;
    }

    private int count(int got, int bytes) throws TooLarge {
      read += got < 0 ? 0 : bytes;
      if (read > most) {
        throw new TooLarge(most);
      }
      return got;
    }

    @Override
    public int read() throws IOException {
      int got = from.read();
      return count(got, 1);
    }

    @Override
    public int read(byte[] into, int at, int length) throws IOException {
      int got = from.read(into, at, length);
      return count(got, got);
    }

    @Override
    public boolean isFinished() {
      return from.isFinished();
    }

    @Override
    public boolean isReady() {
      return from.isReady();
    }

    @Override
    public void setReadListener(ReadListener listener) {
      from.setReadListener(listener);
    }
  }
}
