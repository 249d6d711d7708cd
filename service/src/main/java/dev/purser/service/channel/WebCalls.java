package dev.purser.service.channel;

import dev.purser.remote.http.Bounded;
import dev.purser.service.alert.Channel;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.net.http.HttpTimeoutException;
import java.time.Duration;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.stereotype.Component;

/**
 * Calls by HTTP that no receiver can hold up: ten seconds for all of it, no redirects, and of what
 * is answered only the beginning is read.
 */
@Component
class WebCalls {
  private static final Duration LIMIT = Duration.ofSeconds(10);
  private static final int MOST_READ = 300;
  private static final int GONE = 410;

  private final Reachable reachable;
  private final Duration limit;
  private final HttpClient http;

  @Autowired
  WebCalls(Reachable reachable) {
    this(reachable, LIMIT);
  }

  WebCalls(Reachable reachable, Duration limit) {
    this.reachable = reachable;
    this.limit = limit;
    this.http =
        HttpClient.newBuilder()
            .connectTimeout(limit)
            .followRedirects(HttpClient.Redirect.NEVER)
            .version(HttpClient.Version.HTTP_1_1)
            .build();
  }

  /** The address of a text that a definition has. */
  static URI address(String text) throws Channel.Refused {
    try {
      return URI.create(text);
    } catch (IllegalArgumentException e) {
      throw new Channel.Refused("the address cannot be read");
    }
  }

  /**
   * Sends a request.
   *
   * @param shown the address as it may stand in messages
   */
  HttpResponse<String> send(HttpRequest.Builder request, URI to, String shown)
      throws Channel.DeliveryFailed {
    reachable.check(to);
    CompletableFuture<HttpResponse<String>> answer =
        http.sendAsync(
            request.uri(to).timeout(limit).build(),
            info ->
                HttpResponse.BodySubscribers.mapping(new Bounded(MOST_READ), Bounded.Read::text));
    try {
      return answer.get(limit.toMillis(), TimeUnit.MILLISECONDS);
    } catch (TimeoutException e) {
      answer.cancel(true);
      throw late(shown, e);
    } catch (ExecutionException e) {
      Throwable why = e.getCause();
      if (why instanceof HttpTimeoutException) {
        // The client's own clock has the same limit, and may be the first of the two.
        throw late(shown, e);
      }
      String text = why.getMessage() == null ? why.getClass().getSimpleName() : why.getMessage();
      throw new Channel.DeliveryFailed("cannot reach " + shown + ": " + text, e);
    } catch (InterruptedException e) {
      answer.cancel(true);
      Thread.currentThread().interrupt();
      throw new Channel.DeliveryFailed("interrupted", e);
    }
  }

  private Channel.DeliveryFailed late(String shown, Exception why) {
    return new Channel.DeliveryFailed(
        shown + " did not answer within " + limit.toSeconds() + " s", why);
  }

  /** Sends what must be taken, and says what was answered. */
  String post(HttpRequest.Builder request, URI to, String shown) throws Channel.DeliveryFailed {
    HttpResponse<String> response = send(request, to, shown);
    int code = response.statusCode();
    String more = response.body().strip().replaceAll("\\s+", " ");
    if (code / 100 == 2) {
      return "HTTP " + code + (more.isEmpty() ? "" : ": " + more);
    }
    if (code == GONE) {
      throw new Channel.Refused(shown + " answers 410: it is gone, and wants nothing any more");
    }
    String hint = code / 100 == 3 ? " (redirects are not followed: name the new address)" : "";
    throw new Channel.DeliveryFailed(
        shown + " answered " + code + hint + ", expected 2xx" + (more.isEmpty() ? "" : ": " + more),
        null);
  }
}
