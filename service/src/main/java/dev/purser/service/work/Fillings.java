package dev.purser.service.work;

import dev.purser.core.fill.Filling;
import dev.purser.core.fill.Unfillable;
import dev.purser.service.board.Engine;
import java.util.function.Function;
import org.springframework.stereotype.Component;

/** Fills in the texts of attempts with what is known now. */
@Component
public class Fillings {
  private final Engine engine;

  Fillings(Engine engine) {
    this.engine = engine;
  }

  /**
   * Fills in what an attempt needs. It looks at the board meanwhile, so it must not wait.
   *
   * @param fills takes what it needs from the filling, which must not be kept
   * @throws Unfillable where a placeholder has no value
   */
  public <T> T of(Attempt attempt, Function<Filling, T> fills) {
    return engine.look(
        board ->
            fills.apply(new Filling(engine.definitions(), board, attempt.run(), attempt.status())));
  }
}
