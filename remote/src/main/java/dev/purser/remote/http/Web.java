package dev.purser.remote.http;

import dev.purser.core.definition.Connection;
import dev.purser.core.definition.SignInWay;
import java.io.IOException;
import java.io.InputStream;
import java.net.ConnectException;
import java.net.InetSocketAddress;
import java.net.ProxySelector;
import java.net.URI;
import java.net.UnknownHostException;
import java.net.http.HttpClient;
import java.net.http.HttpConnectTimeoutException;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.channels.UnresolvedAddressException;
import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.time.format.DateTimeParseException;
import java.util.Base64;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import javax.net.ssl.SSLException;

/**
 * Requests to sites of connections. Each has an end: half a minute for all of it, and of an answer
 * only the beginning is kept. Redirects are not followed, so a sign-in goes nowhere else. Where a
 * site answers 401, it is signed in to anew, once.
 */
public final class Web {
  private static final Duration LIMIT = Duration.ofSeconds(30);
  private static final Duration TO_CONNECT = Duration.ofSeconds(10);
  private static final int MOST_CLIENTS = 200;
  private static final int UNAUTHORIZED = 401;

  private final Gate gate;
  private final Clock clock;
  private final Duration limit;
  private final Tokens tokens;
  private final Map<Shape, HttpClient> clients = new ConcurrentHashMap<>();

  /** What makes one client differ from another. */
  private record Shape(String trusts, String proxy, String certificate, String key) {}

  /** One with the usual limits. */
  public Web(Gate gate, Clock clock) {
    this(gate, clock, LIMIT);
  }

  /**
   * One with a limit of its own.
   *
   * @param limit for all of one request
   */
  public Web(Gate gate, Clock clock, Duration limit) {
    this.gate = gate;
    this.clock = clock;
    this.limit = limit;
    this.tokens = new Tokens(this, clock);
  }

  /**
   * Sends a request, signed in. The answer never fails: every failure is a {@link Reply}.
   *
   * @param most bytes of the answer that are kept
   */
  public CompletableFuture<Reply> send(Site site, Outgoing request, int most) {
    return authorized(site)
        .thenCompose(
            first ->
                first.refusal().isPresent()
                    ? CompletableFuture.completedFuture(first.refusal().get())
                    : withToken(site, request, most, first.header()));
  }

  private CompletableFuture<Reply> withToken(
      Site site, Outgoing request, int most, Optional<Header> header) {
    return plain(site, request, header, most)
        .thenCompose(
            reply -> {
              boolean expired =
                  reply instanceof Reply.Answered answered
                      && answered.code() == UNAUTHORIZED
                      && site.connection().signIn().way() == SignInWay.OAUTH2;
              if (!expired) {
                return CompletableFuture.completedFuture(reply);
              }
              tokens.forget(site, header.map(Header::value).orElse(""));
              return authorized(site)
                  .thenCompose(
                      again ->
                          again.refusal().isPresent()
                              ? CompletableFuture.completedFuture(again.refusal().get())
                              : plain(site, request, again.header(), most));
            });
  }

  /** A header of a request. */
  record Header(String name, String value) {}

  /**
   * Opens a request whose answer is read as it comes, however long it is; signed in, as all are.
   *
   * @throws Road.BlockedException where nobody can be reached that way now
   * @throws IOException where it could not be sent, or was not answered, with what is wrong
   */
  public HttpResponse<InputStream> open(Site site, String method, String path) throws IOException {
    for (boolean again = false; ; again = true) {
      Signed signed = authorized(site).join();
      if (signed.refusal().isPresent()) {
        throw new IOException(signed.refusal().get().why());
      }
      HttpResponse<InputStream> response = open(site, method, path, signed.header());
      boolean expired =
          response.statusCode() == UNAUTHORIZED
              && site.connection().signIn().way() == SignInWay.OAUTH2;
      if (!expired || again) {
        return response;
      }
      response.body().close();
      tokens.forget(site, signed.header().map(Header::value).orElse(""));
    }
  }

  private HttpResponse<InputStream> open(
      Site site, String method, String path, Optional<Header> header) throws IOException {
    String address = site.connection().address().replaceAll("/+$", "") + path;
    String shown = address;
    try {
      URI uri = URI.create(address);
      shown = uri.getScheme() + "://" + uri.getRawAuthority();
      if (site.road().isDirect()) {
        gate.check(uri);
      }
      Outgoing request = new Outgoing(method, path, Map.of("Accept", "*/*"), "", "");
      return client(site, uri)
          .send(built(uri, request, header), HttpResponse.BodyHandlers.ofInputStream());
    } catch (IllegalArgumentException e) {
      throw new IOException(site.without("the request cannot be sent: " + e.getMessage()), e);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new IOException("interrupted", e);
    } catch (ConnectException | java.net.http.HttpTimeoutException | SSLException e) {
      throw new IOException(failed(shown, e).why(), e);
    }
  }

  /** How a request is signed; or why it cannot be. */
  record Signed(Optional<Header> header, Optional<Reply> refusal) {
    static Signed with(String name, String value) {
      return new Signed(Optional.of(new Header(name, value)), Optional.empty());
    }

    static Signed not(Reply why) {
      return new Signed(Optional.empty(), Optional.of(why));
    }
  }

  private CompletableFuture<Signed> authorized(Site site) {
    Connection connection = site.connection();
    return switch (connection.signIn().way()) {
      case NONE, CERTIFICATE ->
          CompletableFuture.completedFuture(new Signed(Optional.empty(), Optional.empty()));
      case BASIC ->
          CompletableFuture.completedFuture(
              Signed.with("Authorization", basic(connection.user(), site.secret())));
      case BEARER ->
          CompletableFuture.completedFuture(
              Signed.with("Authorization", "Bearer " + site.secret()));
      case HEADER ->
          CompletableFuture.completedFuture(
              Signed.with(connection.signIn().header(), site.secret()));
      case OAUTH2 -> tokens.of(site);
    };
  }

  static String basic(String user, String secret) {
    byte[] both = (user + ":" + secret).getBytes(StandardCharsets.UTF_8);
    return "Basic " + Base64.getEncoder().encodeToString(both);
  }

  private CompletableFuture<Reply> plain(
      Site site, Outgoing request, Optional<Header> header, int most) {
    String address = site.connection().address().replaceAll("/+$", "");
    return exchange(site, address + request.path(), request, header, most);
  }

  /** Sends a request to an address, signed as it is told. */
  CompletableFuture<Reply> exchange(
      Site site, String address, Outgoing request, Optional<Header> header, int most) {
    HttpRequest built;
    HttpClient client;
    String shown;
    try {
      URI uri = URI.create(address);
      shown = uri.getScheme() + "://" + uri.getRawAuthority();
      if (site.road().isDirect()) {
        gate.check(uri);
      }
      built = built(uri, request, header);
      client = client(site, uri);
    } catch (IllegalArgumentException e) {
      return CompletableFuture.completedFuture(
          new Reply.NotAllowed(site.without("the request cannot be sent: " + e.getMessage())));
    } catch (Road.BlockedException e) {
      return CompletableFuture.completedFuture(new Reply.NotReached(e.getMessage()));
    } catch (IOException e) {
      return CompletableFuture.completedFuture(new Reply.NotAllowed(site.without(e.getMessage())));
    }
    CompletableFuture<HttpResponse<Bounded.Read>> sent =
        client.sendAsync(built, info -> new Bounded(most));
    return sent.orTimeout(limit.toMillis(), TimeUnit.MILLISECONDS)
        .handle(
            (response, failure) -> {
              if (failure == null) {
                return answered(site, response, header);
              }
              sent.cancel(true);
              return failed(shown, failure);
            });
  }

  private HttpRequest built(URI uri, Outgoing request, Optional<Header> header) {
    HttpRequest.Builder builder =
        HttpRequest.newBuilder(uri)
            .timeout(limit)
            .method(
                request.method(),
                request.body().isEmpty() && request.type().isEmpty()
                    ? HttpRequest.BodyPublishers.noBody()
                    : HttpRequest.BodyPublishers.ofString(request.body()));
    builder.setHeader("Accept", "application/json, text/plain;q=0.5, */*;q=0.1");
    if (!request.type().isEmpty()) {
      builder.setHeader("Content-Type", request.type());
    }
    request.headers().forEach(builder::setHeader);
    header.ifPresent(one -> builder.setHeader(one.name(), one.value()));
    return builder.build();
  }

  private Reply answered(Site site, HttpResponse<Bounded.Read> response, Optional<Header> header) {
    String text = site.without(response.body().text());
    String token = header.map(Header::value).orElse("").replaceFirst("^(Bearer|Basic) ", "");
    return new Reply.Answered(
        response.statusCode(),
        Masked.without(text, token),
        response.body().whole(),
        response.headers().firstValue("Retry-After").flatMap(this::comeBackAfter));
  }

  /** Seconds, or an instant (RFC 9110 section 10.2.3). */
  private Optional<Duration> comeBackAfter(String text) {
    if (text.strip().matches("\\d{1,6}")) {
      return Optional.of(Duration.ofSeconds(Long.parseLong(text.strip())));
    }
    try {
      Instant then =
          ZonedDateTime.parse(text.strip(), DateTimeFormatter.RFC_1123_DATE_TIME).toInstant();
      Duration wait = Duration.between(clock.instant(), then);
      return wait.isNegative() ? Optional.empty() : Optional.of(wait);
    } catch (DateTimeParseException e) {
      return Optional.empty();
    }
  }

  private Reply failed(String shown, Throwable failure) {
    Throwable why = failure;
    while (why instanceof CompletionException && why.getCause() != null) {
      why = why.getCause();
    }
    if (why instanceof TimeoutException || why instanceof java.net.http.HttpTimeoutException) {
      return why instanceof HttpConnectTimeoutException
          ? new Reply.NotReached(shown + " cannot be reached")
          : new Reply.NoAnswer(shown + " did not answer within " + limit.toSeconds() + " s");
    }
    for (Throwable at = why; at != null; at = at.getCause()) {
      if (at instanceof UnknownHostException || at instanceof UnresolvedAddressException) {
        return new Reply.NotReached("there is no host for " + shown);
      }
      if (at instanceof ConnectException) {
        return new Reply.NotReached(shown + " cannot be reached");
      }
      if (at instanceof SSLException && isTrust(at)) {
        return new Reply.NotReached("the certificate of " + shown + " is not trusted");
      }
      if (at instanceof javax.net.ssl.SSLHandshakeException) {
        return new Reply.NotReached(shown + " refuses the encrypted connection");
      }
    }
    return new Reply.NoAnswer("the connection to " + shown + " broke off");
  }

  private static boolean isTrust(Throwable failure) {
    for (Throwable at = failure; at != null; at = at.getCause()) {
      if (at instanceof java.security.cert.CertificateException
          || at instanceof java.security.cert.CertPathValidatorException
          || at instanceof java.security.cert.CertPathBuilderException) {
        return true;
      }
    }
    return false;
  }

  /** The proxy of a request: of a road that is not direct, its own; else that of its connection. */
  private static String proxy(Site site, URI uri) throws IOException {
    if (site.road().isDirect()) {
      return site.connection().proxy();
    }
    InetSocketAddress road = site.road().proxyTo(uri.getHost(), Ports.of(uri));
    return road.getHostString() + ":" + road.getPort();
  }

  private HttpClient client(Site site, URI uri) throws IOException {
    Connection connection = site.connection();
    boolean signs = connection.signIn().way() == SignInWay.CERTIFICATE;
    Shape shape =
        new Shape(
            connection.trusts(),
            proxy(site, uri),
            connection.signIn().certificate(),
            signs ? site.secret() : "");
    HttpClient known = clients.get(shape);
    if (known != null) {
      return known;
    }
    if (clients.size() >= MOST_CLIENTS) {
      clients.clear();
    }
    HttpClient.Builder builder =
        HttpClient.newBuilder()
            .connectTimeout(TO_CONNECT.compareTo(limit) < 0 ? TO_CONNECT : limit)
            .followRedirects(HttpClient.Redirect.NEVER)
            .version(HttpClient.Version.HTTP_1_1);
    if (!shape.proxy().isEmpty()) {
      String[] parts = shape.proxy().split(":", 2);
      builder.proxy(ProxySelector.of(new InetSocketAddress(parts[0], Integer.parseInt(parts[1]))));
    }
    if (!shape.trusts().isEmpty() || signs) {
      try {
        builder.sslContext(Trust.context(shape.trusts(), shape.certificate(), shape.key()));
      } catch (GeneralSecurityException e) {
        throw new IOException(
            "the certificates of " + site + " cannot be used: " + e.getMessage(), e);
      }
    }
    return clients.computeIfAbsent(shape, any -> builder.build());
  }
}
