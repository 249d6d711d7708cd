package dev.purser.service;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import dev.purser.core.run.RunState;
import dev.purser.core.run.RunStatus;
import dev.purser.service.board.Engine;
import dev.purser.service.output.OutputStore;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import org.springframework.beans.factory.annotation.Autowired;

/** What tests ask of runs that are at work on the shared service. */
public abstract class OnRuns extends OnDatabase {
  /** Long enough for whatever is not stuck, on a busy machine too. */
  protected static final Duration SOON = Duration.ofSeconds(60);

  @Autowired private Engine engine;
  @Autowired private OutputStore outputs;

  /** How a run stands on the board, which may be a moment before that is on record. */
  protected RunState state(long run) {
    return engine.look(board -> board.state(run).orElseThrow());
  }

  /** The same, with all that is known of it. */
  protected RunStatus status(long run) {
    return engine.look(board -> board.status(run).orElseThrow());
  }

  /** What its first attempt has written so far. */
  protected String output(long run) {
    return new String(outputs.read(run, 1, 0, 100_000).data(), StandardCharsets.UTF_8);
  }

  /** Waits for its end, which is on record afterwards. */
  protected void ends(long run, RunState how) {
    await().atMost(SOON).until(() -> state(run).isEnded());
    onRecord();
    assertThat(state(run)).as(output(run) + status(run).note()).isEqualTo(how);
  }

  /** Waits until what the board shows is on record: turns are recorded one after the other. */
  protected void onRecord() {
    engine.ask(turn -> "").join();
  }
}
