package dev.purser.client;

import dev.purser.wire.api.Views;
import java.io.IOException;
import java.io.OutputStream;
import java.net.URI;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.MapperFeature;
import tools.jackson.databind.json.JsonMapper;

/** The service's API, as the person who has logged in. */
final class Service {
  private static final Pattern LINK = Pattern.compile("</api/v1(/[^>]*)>; rel=\"next\"");

  /** Reads answers, in which no annotation says anything: to look for them takes long. */
  static final JsonMapper JSON =
      JsonMapper.builder()
          .addModule(new PlainRecords())
          .disable(MapperFeature.USE_ANNOTATIONS)
          .build();

  private final Login login;

  /** Where the next good answer goes, instead of into memory; null for none. */
  private OutputStream saved;

  Service(Login login) {
    this.login = login;
  }

  /** A command that ends with a message and a code other than 0. */
  static final class Refusal extends RuntimeException {
    private static final long serialVersionUID = 1L;
    private final int code;
    private final int status;

    Refusal(int code, String message) {
      this(code, 0, message);
    }

    Refusal(int code, int status, String message) {
      super(message);
      this.code = code;
      this.status = status;
    }

    /** What the service answered; 0 where it did not. */
    int status() {
      return status;
    }

    int code() {
      return code;
    }
  }

  static Service loggedIn() {
    return new Service(Login.find());
  }

  /** How each service is that the login names: active, stands by, or what is wrong. */
  Map<String, String> presences() {
    Map<String, String> found = new LinkedHashMap<>();
    for (String service : login.service().split(",")) {
      String address = service.strip().replaceAll("/+$", "");
      found.put(address, presence(address));
    }
    return found;
  }

  private String presence(String address) {
    try {
      Http.Answer answer =
          Http.send("GET", URI.create(address + "/actuator/health"), Map.of(), null);
      if (answer.body().contains("OUT_OF_SERVICE")) {
        return "stands by";
      }
      return answer.status() == 200 ? "active" : "is not well: see its log";
    } catch (IOException e) {
      return "cannot be reached: " + message(e);
    }
  }

  <T> T get(Class<T> type, String path, Map<String, ?> query) {
    Http.Answer answer = ask("GET", address(path, query), null, Map.of());
    answer
        .header(Views.MEANT_HEADER)
        .ifPresent(which -> System.err.println(Output.harmless(which)));
    return JSON.readValue(answer.body(), type);
  }

  <T> List<T> list(Class<T> type, String path, Map<String, ?> query) {
    String address = address(path, query);
    Http.Answer page = ask("GET", address, null, Map.of());
    List<T> all = new ArrayList<>(many(type, page));
    while (isWhole(query)) {
      Optional<String> next =
          page.header("Link").map(LINK::matcher).filter(Matcher::matches).map(m -> m.group(1));
      if (next.isEmpty()) {
        break;
      }
      page = ask("GET", next.get(), null, Map.of());
      List<T> more = many(type, page);
      if (more.isEmpty()) {
        break;
      }
      all.addAll(more);
    }
    return all;
  }

  /** Whoever asks for so many gets so many. */
  private static boolean isWhole(Map<String, ?> query) {
    return !query.containsKey("limit");
  }

  private static <T> List<T> many(Class<T> type, Http.Answer page) {
    return JSON.readValue(
        page.body(), JSON.getTypeFactory().constructCollectionType(List.class, type));
  }

  /** An answer that is no JSON, as it came. */
  String text(String path, Map<String, ?> query) {
    return ask("GET", address(path, query), null, Map.of("Accept", "text/calendar")).body();
  }

  <T> T post(Class<T> type, String path, Object body) {
    return JSON.readValue(ask("POST", path, body, Map.of()).body(), type);
  }

  <T> List<T> postForList(Class<T> type, String path, Object body) {
    return many(type, ask("POST", path, body, Map.of()));
  }

  <T> T post(Class<T> type, String path, Object body, Map<String, String> headers) {
    return JSON.readValue(ask("POST", path, body, headers).body(), type);
  }

  <T> T put(Class<T> type, String path, Object body) {
    return JSON.readValue(ask("PUT", path, body, Map.of()).body(), type);
  }

  void delete(String path, Map<String, ?> query) {
    ask("DELETE", address(path, query), null, Map.of());
  }

  static String encode(String text) {
    return URLEncoder.encode(text, StandardCharsets.UTF_8).replace("+", "%20");
  }

  private static String address(String path, Map<String, ?> query) {
    String joined =
        query.entrySet().stream()
            .filter(e -> e.getValue() != null && !e.getValue().toString().isEmpty())
            .map(e -> e.getKey() + "=" + encode(e.getValue().toString()))
            .collect(Collectors.joining("&"));
    return joined.isEmpty() ? path : path + "?" + joined;
  }

  /** Asks the service; of several, the one that is active. */
  private Http.Answer ask(String method, String path, Object body, Map<String, String> headers) {
    List<String> services = List.of(login.service().split(","));
    Refusal last = null;
    for (String service : services) {
      try {
        return ask(service.strip(), method, path, body, headers);
      } catch (StandsBy | Unreachable e) {
        boolean more = last == null || e instanceof StandsBy;
        last = more ? new Refusal(3, e.getMessage()) : last;
      }
    }
    throw last;
  }

  /** The service that was asked is not the active one. */
  private static final class StandsBy extends RuntimeException {
    private static final long serialVersionUID = 1L;

    StandsBy(String message) {
      super(message);
    }
  }

  /** The service was never asked. */
  private static final class Unreachable extends RuntimeException {
    private static final long serialVersionUID = 1L;

    Unreachable(String message) {
      super(message);
    }
  }

  /** Puts what a path answers where it is wanted, as it comes. */
  void save(String path, Map<String, ?> query, OutputStream to) {
    saved = to;
    try {
      ask("GET", address(path, query), null, Map.of());
    } finally {
      saved = null;
    }
  }

  private Http.Answer ask(
      String service, String method, String path, Object body, Map<String, String> headers) {
    URI address = URI.create(service.replaceAll("/+$", "") + "/api/v1" + path);
    Map<String, String> all = new LinkedHashMap<>();
    all.put("Accept", "application/json");
    if (!login.token().isEmpty()) {
      all.put("Authorization", "Bearer " + login.token());
    }
    if (body != null) {
      all.put("Content-Type", "application/json");
    }
    all.putAll(headers);
    try {
      byte[] sent = body == null ? null : JSON.writeValueAsBytes(body);
      Http.Answer response =
          saved == null ? Http.send(method, address, all, sent) : Http.save(address, all, saved);
      int status = response.status();
      if (status / 100 == 2 || status == 422) {
        return response;
      }
      String why = explain(status, response.body());
      if (status == 503 && response.body().contains("\"Stands by\"")) {
        throw new StandsBy(why);
      }
      throw new Refusal(status == 400 ? 2 : status >= 500 ? 3 : 1, status, why);
    } catch (Http.NotConnected e) {
      throw new Unreachable("the service at " + service + " cannot be reached: " + message(e));
    } catch (IOException e) {
      throw new Refusal(3, "the service at " + service + " cannot be reached: " + message(e));
    }
  }

  private static String message(IOException e) {
    return e.getMessage() == null ? "no answer" : e.getMessage();
  }

  private String explain(int status, String body) {
    try {
      String detail = JSON.readTree(body).path("detail").asString("");
      if (status == 401 && !login.token().isEmpty()) {
        return detail + "; run: purser login";
      }
      if (!detail.isEmpty()) {
        return detail;
      }
    } catch (JacksonException e) {
      // no problem details: the status must do
    }
    return switch (status) {
      case 401 -> "the service does not know you (any more); run: purser login";
      case 403 -> "your role does not allow this";
      default -> "the service answered " + status;
    };
  }
}
