package dev.purser.service.api.answer;

import dev.purser.core.problem.NotUnderstood;
import io.swagger.v3.oas.models.Operation;
import io.swagger.v3.oas.models.headers.Header;
import io.swagger.v3.oas.models.media.IntegerSchema;
import io.swagger.v3.oas.models.media.StringSchema;
import io.swagger.v3.oas.models.parameters.Parameter;
import java.lang.reflect.RecordComponent;
import java.math.BigDecimal;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.Function;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.springdoc.core.customizers.OperationCustomizer;
import org.springframework.core.MethodParameter;
import org.springframework.http.HttpHeaders;
import org.springframework.http.MediaType;
import org.springframework.http.converter.HttpMessageConverter;
import org.springframework.http.server.ServerHttpRequest;
import org.springframework.http.server.ServerHttpResponse;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestControllerAdvice;
import org.springframework.web.method.HandlerMethod;
import org.springframework.web.servlet.mvc.method.annotation.ResponseBodyAdvice;
import org.springframework.web.util.UriComponentsBuilder;
import org.springframework.web.util.UriUtils;

/** Cuts the lists of {@link Paged} operations into pages, and says so in the API's document. */
@RestControllerAdvice
class Pages implements ResponseBodyAdvice<List<?>>, OperationCustomizer {
  /** Entries of one page, where nothing is said and at most. */
  static final int MOST = 10_000;

  private static final Pattern PLACE = Pattern.compile("(\\d{1,9})\\.(.*)", Pattern.DOTALL);

  @Override
  public boolean supports(
      MethodParameter returned, Class<? extends HttpMessageConverter<?>> converter) {
    return returned.hasMethodAnnotation(Paged.class);
  }

  @Override
  public List<?> beforeBodyWrite(
      List<?> all,
      MethodParameter returned,
      MediaType type,
      Class<? extends HttpMessageConverter<?>> converter,
      ServerHttpRequest request,
      ServerHttpResponse response) {
    if (all == null) {
      return null;
    }
    UriComponentsBuilder address = UriComponentsBuilder.fromUri(request.getURI());
    var query = address.build().getQueryParams();
    Paged paged = returned.getMethodAnnotation(Paged.class);
    Function<Object, String> key = entry -> key(entry, paged.by());
    if (paged.newestFirst()) {
      if (!all.isEmpty() && all.size() >= mostOf(returned, query.getFirst("limit"))) {
        next(response, address, "before", key.apply(all.get(all.size() - 1)));
      }
      return all;
    }
    int limit = limit(query.getFirst("limit"));
    String after = query.getFirst("after");
    int first = after == null ? 0 : first(all, key, UriUtils.decode(after, StandardCharsets.UTF_8));
    int end = (int) Math.min(all.size(), (long) first + limit);
    if (end < all.size()) {
      next(response, address, "after", end + "." + key.apply(all.get(end - 1)));
    }
    return all.subList(first, end);
  }

  /** How many an operation that cuts its list itself gives at most. */
  private static int mostOf(MethodParameter returned, String asked) {
    return asked != null
        ? Integer.parseInt(asked)
        : Arrays.stream(returned.getMethod().getParameters())
            .filter(parameter -> parameter.getName().equals("limit"))
            .map(parameter -> parameter.getAnnotation(RequestParam.class).defaultValue())
            .mapToInt(Integer::parseInt)
            .findFirst()
            .orElseThrow();
  }

  private static void next(
      ServerHttpResponse response, UriComponentsBuilder address, String name, String place) {
    String next =
        address
            .replaceQueryParam(name, UriUtils.encode(place, StandardCharsets.UTF_8))
            .scheme(null)
            .host(null)
            .port(null)
            .build(true)
            .toUriString();
    response.getHeaders().add(HttpHeaders.LINK, "<" + next + ">; rel=\"next\"");
  }

  private static int limit(String text) {
    if (text == null) {
      return MOST;
    }
    if (!text.matches("\\d{1,9}") || Integer.parseInt(text) < 1 || Integer.parseInt(text) > MOST) {
      throw new NotUnderstood("limit must be a number from 1 to " + MOST + ", not " + text);
    }
    return Integer.parseInt(text);
  }

  /**
   * Where a page begins: after the entry that was the last one. Where that is not there any more,
   * with the first that comes after it, if the list is in the order of what it is told by; else
   * where it stood.
   */
  static int first(List<?> all, Function<Object, String> key, String after) {
    Matcher place = PLACE.matcher(after);
    if (!place.matches()) {
      throw new NotUnderstood("\"" + after + "\" is not a place in this list: leave after out");
    }
    String last = place.group(2);
    int stood = Math.min(Integer.parseInt(place.group(1)), all.size());
    boolean inOrder = true;
    int behind = -1;
    String before = null;
    for (int i = 0; i < all.size(); i++) {
      String one = key.apply(all.get(i));
      if (one.equals(last)) {
        return i + 1;
      }
      inOrder &= before == null || before.compareTo(one) <= 0;
      behind = behind < 0 && one.compareTo(last) > 0 ? i : behind;
      before = one;
    }
    return !inOrder ? stood : behind < 0 ? all.size() : behind;
  }

  private static String key(Object entry, String[] by) {
    List<String> parts = new ArrayList<>();
    for (String wanted : by) {
      for (RecordComponent component : entry.getClass().getRecordComponents()) {
        if (component.getName().equals(wanted)) {
          try {
            parts.add(String.valueOf(component.getAccessor().invoke(entry)));
          } catch (ReflectiveOperationException e) {
            throw new IllegalStateException(e);
          }
        }
      }
    }
    return String.join(" ", parts);
  }

  @Override
  public Operation customize(Operation operation, HandlerMethod handler) {
    Paged paged = handler.getMethodAnnotation(Paged.class);
    if (paged == null) {
      return operation;
    }
    if (!paged.newestFirst()) {
      IntegerSchema limit = new IntegerSchema();
      limit.format("int32").minimum(BigDecimal.ONE).maximum(BigDecimal.valueOf(MOST));
      limit.setDefault(MOST);
      operation.addParametersItem(
          new Parameter()
              .in("query")
              .name("limit")
              .description("Entries of one page at most.")
              .schema(limit));
      operation.addParametersItem(
          new Parameter()
              .in("query")
              .name("after")
              .description("Where the page begins, as the Link header of the page before has it.")
              .schema(new StringSchema()));
    }
    operation
        .getResponses()
        .get("200")
        .addHeaderObject(
            "Link",
            new Header()
                .description("Where the next page is, as rel=\"next\"; not on the last one.")
                .schema(new StringSchema()));
    return operation;
  }
}
