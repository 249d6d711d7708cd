package dev.purser.remote.call;

import dev.purser.core.parameter.PlaceholderText;
import dev.purser.core.remote.Request;
import dev.purser.remote.http.Outgoing;
import java.math.BigDecimal;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.UnaryOperator;
import java.util.stream.Collectors;
import tools.jackson.databind.json.JsonMapper;

/**
 * Fills in requests. A value stays one value wherever it stands: it cannot end a string, begin a
 * new parameter, climb out of a path or add a header.
 */
public final class Filled {
  private static final JsonMapper JSON = JsonMapper.builder().build();
  private static final int LONGEST_PATH = 8_000;

  private final Map<String, String> values;

  /**
   * With values.
   *
   * @param values by what stands in the braces
   */
  public Filled(Map<String, String> values) {
    this.values = Map.copyOf(values);
  }

  /** A value that is asked for and is not there, or cannot stand where it is asked for. */
  public static final class CannotFill extends RuntimeException {
    private static final long serialVersionUID = 1L;

    CannotFill(String message) {
      super(message);
    }
  }

  /**
   * A request with everything filled in.
   *
   * @throws CannotFill where a value is missing or cannot stand there
   */
  public Outgoing of(Request request) {
    Map<String, String> headers = new LinkedHashMap<>();
    request.headers().forEach((name, value) -> headers.put(name, header(name, value)));
    String path = path(request.path());
    if (!request.query().isEmpty()) {
      path += (path.contains("?") ? "&" : "?") + form(request.query());
    }
    if (path.length() > LONGEST_PATH) {
      throw new CannotFill("the address has more than " + LONGEST_PATH + " characters");
    }
    Request.Body body = request.body();
    if (body instanceof Request.Json json) {
      String text = JSON.writeValueAsString(tree(json.tree()));
      return new Outgoing(request.method(), path, headers, "application/json", text);
    }
    if (body instanceof Request.Form form) {
      return new Outgoing(
          request.method(),
          path,
          headers,
          "application/x-www-form-urlencoded",
          form(form.values()));
    }
    if (body instanceof Request.Text text) {
      return new Outgoing(
          request.method(),
          path,
          headers,
          "text/plain; charset=utf-8",
          filled(text.text(), UnaryOperator.identity()));
    }
    return new Outgoing(request.method(), path, headers, "", "");
  }

  private String filled(String text, UnaryOperator<String> written) {
    return PlaceholderText.each(
        text,
        (whole, inner) -> {
          if (whole.startsWith("$$")) {
            return written.apply(whole.substring(1));
          }
          String value = values.get(inner);
          if (value == null) {
            throw new CannotFill(
                "the description of the service asks for ${"
                    + inner
                    + "}, which this run was not given");
          }
          return written.apply(value);
        });
  }

  private static String encoded(String value) {
    return URLEncoder.encode(value, StandardCharsets.UTF_8).replace("+", "%20");
  }

  /** Dots are not encoded by anybody, and a segment of nothing but dots would climb. */
  private String path(String text) {
    return filled(
        text,
        value -> {
          if (value.isEmpty() || value.equals(".") || value.equals("..")) {
            throw new CannotFill("\"" + value + "\" cannot stand in the path of an address");
          }
          return encoded(value);
        });
  }

  private String form(Map<String, String> form) {
    return form.entrySet().stream()
        .map(
            one ->
                encoded(one.getKey())
                    + "="
                    + encoded(filled(one.getValue(), UnaryOperator.identity())))
        .collect(Collectors.joining("&"));
  }

  private String header(String name, String text) {
    return filled(
        text,
        value -> {
          if (value.chars().anyMatch(c -> c < ' ' || c > '~')) {
            throw new CannotFill(
                "a value for the header " + name + " has characters that no header can hold");
          }
          return value;
        });
  }

  private Object tree(Object node) {
    if (node instanceof String text) {
      return filled(text, UnaryOperator.identity());
    }
    if (node instanceof List<?> list) {
      List<Object> out = new ArrayList<>();
      list.forEach(one -> out.add(tree(one)));
      return out;
    }
    if (node instanceof Map<?, ?> map) {
      if (map.containsKey(Request.AS_NUMBER)) {
        return number((String) map.get(Request.AS_NUMBER));
      }
      if (map.containsKey(Request.AS_FLAG)) {
        return flag((String) map.get(Request.AS_FLAG));
      }
      Map<String, Object> out = new LinkedHashMap<>();
      map.forEach((key, value) -> out.put((String) key, tree(value)));
      return out;
    }
    return node;
  }

  private BigDecimal number(String text) {
    String value = filled(text, UnaryOperator.identity()).strip();
    if (!value.matches("-?\\d{1,30}(\\.\\d{1,30})?")) {
      throw new CannotFill("\"" + value + "\" is not a number");
    }
    return new BigDecimal(value);
  }

  private boolean flag(String text) {
    String value = filled(text, UnaryOperator.identity()).strip();
    return switch (value) {
      case "yes", "true" -> true;
      case "no", "false" -> false;
      default -> throw new CannotFill("\"" + value + "\" is neither yes nor no");
    };
  }
}
