package dev.purser.service.connection;

import dev.purser.core.definition.Connection;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.remote.http.Site;
import dev.purser.service.board.Engine;
import dev.purser.service.call.Sites;
import dev.purser.service.secret.SecretPermits;
import dev.purser.service.secret.SecretSource;
import dev.purser.wire.api.RemoteViews;
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

  /** All of them, by name. */
  public List<RemoteViews.ConnectionView> all() {
    Definitions all = engine.definitions();
    return all.connections().stream().map(one -> view(one, all)).toList();
  }

  private RemoteViews.ConnectionView view(Connection one, Definitions all) {
    return new RemoteViews.ConnectionView(
        one.name(),
        one.title(),
        one.kind().word(),
        one.address(),
        one.signIn().way().word(),
        one.user(),
        SecretSource.of(one).map(SecretSource::inWords).orElse(""),
        permits.refusal(one).orElse(""),
        one.atMost(),
        one.bearsOutage().toString(),
        usersOf(one.name(), all));
  }

  private static List<String> usersOf(String name, Definitions all) {
    return all.documents().stream()
        .filter(
            document ->
                document.mentions().stream()
                    .anyMatch(
                        mention ->
                            mention.what() == Document.What.CONNECTION
                                && mention.name().equals(name)))
        .map(document -> document.kind().title() + " " + document.name())
        .toList();
  }

  /**
   * Tries one: signs in, looks, and changes nothing.
   *
   * @return nothing where there is no such connection
   */
  public Optional<RemoteViews.ReachedView> tryOut(String name, String path) {
    Definitions all = engine.definitions();
    return all.connection(name).map(one -> tryOut(one, path, all));
  }

  private RemoteViews.ReachedView tryOut(Connection one, String path, Definitions all) {
    try {
      Site site = sites.of(all, one.name());
      ConnectionTrial.Outcome outcome =
          trials.stream()
              .filter(trial -> trial.tries().contains(one.kind()))
              .findFirst()
              .orElseThrow()
              .of(site, path);
      return new RemoteViews.ReachedView(one.name(), outcome.good(), outcome.steps());
    } catch (IOException e) {
      return new RemoteViews.ReachedView(one.name(), false, List.of(e.getMessage()));
    }
  }
}
