package dev.purser.service.agent;

import dev.purser.core.definition.FileWatch;
import dev.purser.service.arrival.Lookouts;
import dev.purser.service.arrival.RemoteLookouts;
import dev.purser.service.board.Engine;
import java.util.List;
import org.springframework.stereotype.Component;

/** Tries watches: what they would find now, wherever they look. */
@Component
public class Trials {
  private final Engine engine;
  private final Lookouts lookouts;
  private final AgentLink link;
  private final RemoteLookouts remote;

  Trials(Engine engine, Lookouts lookouts, AgentLink link, RemoteLookouts remote) {
    this.engine = engine;
    this.lookouts = lookouts;
    this.link = link;
    this.remote = remote;
  }

  /** What a watch would find now, place by place; nothing is taken. */
  public List<Lookouts.Trial> of(FileWatch watch) {
    if (watch.place() instanceof FileWatch.Place.Through through) {
      return List.of(remote.tryOut(watch, through.connection()));
    }
    List<String> hosts =
        watch.place() instanceof FileWatch.Place.OnEachOf each
            ? engine.definitions().membersOf(each.group())
            : List.of(watch.where());
    return hosts.stream()
        .map(host -> lookouts.tryOut(watch, host, link.presence(host).isPresent()))
        .toList();
  }
}
