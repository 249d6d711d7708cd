package dev.purser.service.connection;

import dev.purser.core.definition.Connection;
import dev.purser.core.definition.Definitions;
import dev.purser.remote.http.Site;
import dev.purser.service.board.Engine;
import dev.purser.service.call.Sites;
import dev.purser.service.secret.SecretPermits;
import java.io.IOException;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;

/** All connections, and trials of them. */
@Component
public class Connections {
  private final Engine engine;
  private final SecretPermits permits;
  private final Sites sites;
  private final List<ConnectionTrial> trials;

  Connections(Engine engine, SecretPermits permits, Sites sites, List<ConnectionTrial> trials) {
    this.engine = engine;
    this.permits = permits;
    this.sites = sites;
    this.trials = trials;
  }

  /** Why a connection may not use its secret; empty where it may. */
  public Optional<String> refused(Connection one) {
    return permits.refusal(one);
  }

  /**
   * Tries one: signs in, looks, and changes nothing.
   *
   * @return nothing where there is no such connection
   */
  public Optional<ConnectionTrial.Outcome> tryOut(String name, String path) {
    Definitions all = engine.definitions();
    return all.connection(name).map(one -> tryOut(one, path, all));
  }

  private ConnectionTrial.Outcome tryOut(Connection one, String path, Definitions all) {
    try {
      Site site = sites.of(all, one.name());
      return trials.stream()
          .filter(trial -> trial.tries().contains(one.kind()))
          .findFirst()
          .orElseThrow()
          .of(site, path);
    } catch (IOException e) {
      return new ConnectionTrial.Outcome(false, List.of(e.getMessage()));
    }
  }
}
