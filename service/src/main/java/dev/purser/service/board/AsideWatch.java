package dev.purser.service.board;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.AlertSubject;
import dev.purser.core.run.RunSpec;
import dev.purser.service.alert.SiteTrouble;
import dev.purser.service.alert.SiteWatch;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.springframework.stereotype.Component;

/** Tells people of runs that are held because they cannot be put on record. */
@Component
class AsideWatch implements SiteWatch {
  private final Engine engine;

  AsideWatch(Engine engine) {
    this.engine = engine;
  }

  @Override
  public Set<AlertKind> kinds() {
    return Set.of(AlertKind.SERVICE);
  }

  @Override
  public String because(String reference) {
    return "it is held for that no more";
  }

  @Override
  public Optional<List<SiteTrouble>> wrong() {
    return Optional.of(
        engine.look(
            board ->
                Aside.heldOn(board.runs(), board::heldBy).stream().map(this::trouble).toList()));
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
