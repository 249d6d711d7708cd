package dev.purser.service.work;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.job.Where;
import dev.purser.core.run.Ending;
import dev.purser.service.board.Engine;
import dev.purser.service.live.Live;
import dev.purser.service.masking.SecretMask;
import dev.purser.service.output.OutputStore;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import org.springframework.stereotype.Component;

/**
 * What workers of the service say of their attempts; secrets are taken out of it. What was said is
 * on record when the answer comes; where the answer is a failure nothing was, and the worker says
 * it again later, or is asked to take the attempt up again.
 */
@Component
public class Reports {
  private final Engine engine;
  private final OutputStore outputs;
  private final Live live;
  private final SecretMask mask;
  private final Clock clock;

  Reports(Engine engine, OutputStore outputs, Live live, SecretMask mask, Clock clock) {
    this.mask = mask;
    this.engine = engine;
    this.outputs = outputs;
    this.live = live;
    this.clock = clock;
  }

  /** It has begun; said again, it changes nothing. */
  public CompletableFuture<?> began(Attempt attempt) {
    long happened = clock.millis();
    return engine.hear(
        turn ->
            turn.apply(
                new BoardEvent.AttemptBegan(turn.now(), attempt.id(), attempt.number(), happened)));
  }

  /**
   * It has written something. Waits for the database, and fails where that is away.
   *
   * @param text is added to what was kept of it before
   */
  public void output(Attempt attempt, String text) {
    byte[] data = mask.of(text).getBytes(StandardCharsets.UTF_8);
    long before = outputs.read(attempt.id(), attempt.number(), 0, 0).kept();
    outputs.keep(
        Where.inService(),
        attempt.id(),
        attempt.number(),
        before,
        data,
        false,
        before + data.length);
    live.outputGrew(attempt.id());
  }

  /**
   * How it stands where it is, for people; it goes on.
   *
   * @param note replaces what was said before
   * @param asks whether it can go on only once a person has said something
   */
  public CompletableFuture<?> told(Attempt attempt, String note, boolean asks) {
    return told(attempt, note, asks, Map.of());
  }

  /**
   * The same with what is known of it before its end.
   *
   * @param values what is known by now, all of it, by name; empty for nothing new
   */
  public CompletableFuture<?> told(
      Attempt attempt, String note, boolean asks, Map<String, String> values) {
    String shown = mask.of(note);
    Map<String, String> kept = mask.of(values);
    return engine.hear(
        turn ->
            turn.apply(
                new BoardEvent.AttemptTold(
                    turn.now(), attempt.id(), attempt.number(), shown, asks, kept)));
  }

  /**
   * It has ended. What it has written is complete.
   *
   * @param values that it hands back, by name
   */
  public CompletableFuture<?> ended(Attempt attempt, Ending ending, Map<String, String> values) {
    long happened = clock.millis();
    Ending shown = new Ending(ending.kind(), ending.code(), mask.of(ending.note()));
    Map<String, String> kept = mask.of(values);
    long all = outputs.read(attempt.id(), attempt.number(), 0, 0).kept();
    outputs.keep(Where.inService(), attempt.id(), attempt.number(), all, new byte[0], true, all);
    return engine.hear(
        turn ->
            turn.apply(
                new BoardEvent.AttemptEnded(
                    turn.now(), attempt.id(), attempt.number(), shown, happened, kept)));
  }
}
