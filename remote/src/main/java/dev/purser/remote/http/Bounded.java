package dev.purser.remote.http;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.http.HttpResponse;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionStage;
import java.util.concurrent.Flow;

/** Reads the beginning of an answer, and hangs up where there is more. */
public final class Bounded implements HttpResponse.BodySubscriber<Bounded.Read> {
  private final CompletableFuture<Read> read = new CompletableFuture<>();
  private final ByteArrayOutputStream bytes = new ByteArrayOutputStream();
  private final int most;
  private Flow.Subscription subscription;

  /**
   * What was read.
   *
   * @param whole whether that is all of it
   */
  public record Read(String text, boolean whole) {}

  /**
   * Reads so much.
   *
   * @param most bytes that are kept
   */
  public Bounded(int most) {
    this.most = most;
  }

  @Override
  public CompletionStage<Read> getBody() {
    return read;
  }

  @Override
  public void onSubscribe(Flow.Subscription given) {
    subscription = given;
    given.request(1);
  }

  @Override
  public void onNext(List<ByteBuffer> parts) {
    for (ByteBuffer part : parts) {
      byte[] some = new byte[Math.min(part.remaining(), most - bytes.size())];
      part.get(some);
      bytes.writeBytes(some);
      if (part.hasRemaining()) {
        subscription.cancel();
        done(false);
        return;
      }
    }
    subscription.request(1);
  }

  @Override
  public void onError(Throwable why) {
    read.completeExceptionally(why instanceof IOException ? why : new IOException(why));
  }

  @Override
  public void onComplete() {
    done(true);
  }

  private void done(boolean whole) {
    read.complete(new Read(bytes.toString(StandardCharsets.UTF_8), whole));
  }
}
