package dev.purser.service.board;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.AlertSubject;
import dev.purser.core.run.RunSpec;
import dev.purser.service.alert.ServiceTroubles;
import dev.purser.service.alert.SiteTrouble;
import java.util.List;
import org.springframework.stereotype.Component;

/** Tells people of runs that are held because they cannot be put on record. */
@Component
class AsideTroubles implements ServiceTroubles {
  private final Engine engine;

  AsideTroubles(Engine engine) {
    this.engine = engine;
  }

  @Override
  public List<SiteTrouble> wrong() {
    return engine.look(
        board -> Aside.heldOn(board.runs(), board::heldBy).stream().map(this::trouble).toList());
  }

  private SiteTrouble trouble(RunSpec run) {
    String stream = run.run().reference().stream();
    return new SiteTrouble(
        AlertKind.SERVICE,
        run.run().reference().toString(),
        AlertSubject.SERVICE,
        run.run().job().title(),
        "it cannot be put on record when it starts, and is held; the service's log says why."
            + " Release it once that is mended",
        engine.definitions().topOf(stream).stream().toList());
  }
}
