package dev.purser.remote.http;

import dev.purser.core.definition.Connection;
import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Tokens by client credentials (RFC 6749 section 4.4), kept until shortly before they lapse.
 * However many ask at once, one token is fetched.
 */
final class Tokens {
  private static final int MOST = 64 * 1024;
  private static final int MOST_KNOWN = 1_000;
  private static final Duration EARLIER = Duration.ofSeconds(30);
  private static final Duration USUAL = Duration.ofMinutes(5);
  private static final JsonMapper JSON = JsonMapper.builder().build();

  private final Web web;
  private final Clock clock;
  private final Map<Site, CompletableFuture<Token>> known = new ConcurrentHashMap<>();

  /** A token, or why there is none. */
  private record Token(String value, Instant until, Optional<Reply> refusal) {}

  Tokens(Web web, Clock clock) {
    this.web = web;
    this.clock = clock;
  }

  /** Signs a request to a site. */
  CompletableFuture<Web.Signed> of(Site site) {
    Instant now = clock.instant();
    if (known.size() > MOST_KNOWN) {
      known.clear(); // secrets that were replaced long ago
    }
    CompletableFuture<Token> asked = new CompletableFuture<>();
    CompletableFuture<Token> token =
        known.compute(
            site, (any, before) -> before == null || isOver(before, now) ? asked : before);
    if (token == asked) {
      fetch(site, now)
          .whenComplete(
              (got, failure) -> {
                if (failure != null) {
                  known.remove(site, asked);
                  asked.complete(
                      new Token("", now, Optional.of(new Reply.NotReached(failure.toString()))));
                } else {
                  if (got.refusal().isPresent()) {
                    known.remove(site, asked);
                  }
                  asked.complete(got);
                }
              });
    }
    return token.thenApply(
        got ->
            got.refusal().isPresent()
                ? Web.Signed.not(got.refusal().get())
                : Web.Signed.with("Authorization", "Bearer " + got.value()));
  }

  private static boolean isOver(CompletableFuture<Token> token, Instant now) {
    return token.isDone() && !now.isBefore(token.join().until());
  }

  /** A token that was refused is not used again. */
  void forget(Site site, String header) {
    known.computeIfPresent(
        site,
        (any, token) ->
            token.isDone() && header.equals("Bearer " + token.join().value()) ? null : token);
  }

  private CompletableFuture<Token> fetch(Site site, Instant now) {
    Connection connection = site.connection();
    Connection.SignIn signIn = connection.signIn();
    String body =
        "grant_type=client_credentials"
            + (signIn.scope().isEmpty() ? "" : "&scope=" + encoded(signIn.scope()));
    Outgoing request =
        new Outgoing("POST", "", Map.of(), "application/x-www-form-urlencoded", body);
    // Both are encoded before they are joined: RFC 6749 section 2.3.1.
    String basic = Web.basic(encoded(connection.user()), encoded(site.secret()));
    Optional<Web.Header> header = Optional.of(new Web.Header("Authorization", basic));
    return web.exchange(site, signIn.tokenAddress(), request, header, MOST)
        .thenApply(reply -> read(signIn.tokenAddress(), reply, now));
  }

  private static String encoded(String text) {
    return URLEncoder.encode(text, StandardCharsets.UTF_8);
  }

  private static Token read(String address, Reply reply, Instant now) {
    if (!(reply instanceof Reply.Answered answered)) {
      return new Token("", now, Optional.of(reply));
    }
    JsonNode json;
    try {
      json = JSON.readTree(answered.body());
    } catch (JacksonException e) {
      json = JSON.missingNode();
    }
    String token = json.path("access_token").asString("");
    if (answered.isGood() && token.matches("[!-~]+")) {
      long seconds = json.path("expires_in").asLong(USUAL.toSeconds());
      Duration lasts = Duration.ofSeconds(Math.max(0, Math.min(seconds, 86_400)));
      Duration early = lasts.compareTo(EARLIER.multipliedBy(2)) > 0 ? EARLIER : lasts.dividedBy(2);
      return new Token(token, now.plus(lasts).minus(early), Optional.empty());
    }
    String why = json.path("error_description").asString(json.path("error").asString(""));
    String said = why.isEmpty() ? "" : ": " + why.replaceAll("\\s+", " ");
    boolean refused = answered.code() / 100 == 4 && answered.code() != 429;
    String text =
        answered.isGood()
            ? address + " gave no token"
            : "signing in at " + address + " was answered " + answered.code() + said;
    return new Token(
        "", now, Optional.of(refused ? new Reply.NotAllowed(text) : new Reply.NotReached(text)));
  }
}
