package dev.purser.remote.call;

import dev.purser.core.pursuit.Heard;
import dev.purser.core.remote.Operation;
import dev.purser.core.remote.Request;
import dev.purser.remote.http.Outgoing;
import dev.purser.remote.http.Reply;
import dev.purser.remote.http.Site;
import dev.purser.remote.http.Web;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;

/** One operation of one service, asked with the values of one run. */
public final class Caller {
  private static final int MOST = 1024 * 1024;
  private static final int MOST_OF_A_LIST = 8 * 1024 * 1024;
  private static final int MOST_OF_A_LOG = 256 * 1024;

  private final Web web;
  private final Site site;
  private final Operation operation;
  private final Map<String, String> values;
  private final Answers answers;

  /**
   * For one run.
   *
   * @param service its name, for messages
   * @param values by what stands in the braces of the operation's requests
   */
  public Caller(
      Web web, Site site, String service, Operation operation, Map<String, String> values) {
    this.web = web;
    this.site = site;
    this.operation = operation;
    this.values = Map.copyOf(values);
    this.answers = new Answers(service, operation);
  }

  /** Asks it to begin; with the key, where the service takes one. */
  public CompletableFuture<Heard> start(String key) {
    Operation.Start start = operation.start();
    return send(start.request(), with(Operation.KEY, key), MOST, start.keyHeader(), key)
        .thenApply(answers::toStart);
  }

  /** Looks how it stands. */
  public CompletableFuture<Heard> look(String id) {
    return send(operation.look().request(), with(Operation.ID, id), MOST, "", "")
        .thenApply(answers::toLook);
  }

  /** Tells it to stop. */
  public CompletableFuture<Heard> stop(String id) {
    return send(operation.stop().orElseThrow(), with(Operation.ID, id), MOST, "", "")
        .thenApply(answers::toStop);
  }

  /**
   * Lists what was begun lately.
   *
   * @param from ISO 8601
   */
  public CompletableFuture<Heard> recent(String key, String from) {
    Operation.Recent recent = operation.recent().orElseThrow();
    Map<String, String> all = with(Operation.KEY, key);
    all.put(Operation.FROM, from);
    return send(recent.request(), all, MOST_OF_A_LIST, "", "")
        .thenApply(reply -> answers.toList(reply, recent));
  }

  /** Reads what it has written; empty where that cannot be had. */
  public CompletableFuture<Optional<String>> log(String id) {
    if (operation.log().isEmpty()) {
      return CompletableFuture.completedFuture(Optional.empty());
    }
    return send(operation.log().get(), with(Operation.ID, id), MOST_OF_A_LOG, "", "")
        .thenApply(
            reply ->
                reply instanceof Reply.Answered answered && answered.isGood()
                    ? Optional.of(
                        answered.whole()
                            ? answered.body()
                            : answered.body() + "\n(the rest of the log is not kept)\n")
                    : Optional.empty());
  }

  private Map<String, String> with(String name, String value) {
    Map<String, String> all = new HashMap<>(values);
    all.put(name, value);
    return all;
  }

  private CompletableFuture<Reply> send(
      Request request, Map<String, String> filling, int most, String header, String value) {
    Outgoing filled;
    try {
      filled = new Filled(filling).of(request);
    } catch (Filled.CannotFill e) {
      return CompletableFuture.completedFuture(new Reply.NotAllowed(e.getMessage()));
    }
    if (header.isEmpty()) {
      return web.send(site, filled, most);
    }
    Map<String, String> headers = new HashMap<>(filled.headers());
    headers.put(header, value);
    return web.send(
        site,
        new Outgoing(filled.method(), filled.path(), headers, filled.type(), filled.body()),
        most);
  }
}
