package dev.purser.service.api.answer;

import dev.purser.core.definition.Kind;
import dev.purser.service.board.Engine;
import dev.purser.service.definition.Renames;
import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletRequestWrapper;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.stereotype.Component;
import org.springframework.web.filter.OncePerRequestFilter;

/**
 * Whoever looks for something by the name that it had before it was renamed finds it: in the
 * parameters {@code stream} and {@code reference}, and in the {@code name} of a definition.
 */
@Component
class OldNamesUnderstood extends OncePerRequestFilter {
  private static final Pattern OF_KIND = Pattern.compile("/api/v1/definitions/([a-z-]+)/.*");

  private final ObjectProvider<Renames> renames; // a filter is made before there are records
  private final ObjectProvider<Engine> engine;

  OldNamesUnderstood(ObjectProvider<Renames> renames, ObjectProvider<Engine> engine) {
    this.renames = renames;
    this.engine = engine;
  }

  @Override
  protected boolean shouldNotFilter(HttpServletRequest request) {
    return !request.getMethod().equals("GET")
        || !request.getRequestURI().startsWith("/api/v1/")
        || renames.getObject().all().isEmpty();
  }

  @Override
  protected void doFilterInternal(
      HttpServletRequest request, HttpServletResponse response, FilterChain chain)
      throws ServletException, IOException {
    Map<String, String[]> values = new LinkedHashMap<>(request.getParameterMap());
    for (String name : new String[] {"stream", "reference"}) {
      values.computeIfPresent(name, (any, all) -> moved(all, Kind.STREAM));
    }
    Matcher ofKind = OF_KIND.matcher(request.getRequestURI());
    Optional<Kind> kind = ofKind.matches() ? Kind.of(ofKind.group(1)) : Optional.empty();
    kind.ifPresent(one -> values.computeIfPresent("name", (any, all) -> moved(all, one)));
    chain.doFilter(new Renamed(request, values), response);
  }

  private String[] moved(String[] all, Kind kind) {
    String[] moved = all.clone();
    for (int i = 0; i < moved.length; i++) {
      int end = moved[i].indexOf('@') < 0 ? moved[i].length() : moved[i].indexOf('@');
      String name = moved[i].substring(0, end);
      if (engine.getObject().definitions().document(kind, name).isEmpty()) {
        moved[i] = renames.getObject().now(kind, name) + moved[i].substring(end);
      }
    }
    return moved;
  }

  /** A request with other values of its parameters. */
  private static final class Renamed extends HttpServletRequestWrapper {
    private final Map<String, String[]> values;

    Renamed(HttpServletRequest request, Map<String, String[]> values) {
      super(request);
      this.values = values;
    }

    @Override
    public String getParameter(String name) {
      String[] all = values.get(name);
      return all == null || all.length == 0 ? null : all[0];
    }

    @Override
    public String[] getParameterValues(String name) {
      return values.get(name);
    }

    @Override
    public Map<String, String[]> getParameterMap() {
      return values;
    }
  }
}
