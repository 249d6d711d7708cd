package dev.purser.service.agent;

import dev.purser.core.fill.Unfillable;
import dev.purser.core.job.Command;
import dev.purser.core.job.Where;
import dev.purser.core.job.Work;
import dev.purser.service.board.Engine;
import dev.purser.service.work.Attempt;
import dev.purser.service.work.Fillings;
import dev.purser.service.work.Worker;
import dev.purser.service.work.Workers;
import dev.purser.wire.agent.ToAgent;
import java.time.Duration;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/**
 * Commands on hosts: agents carry them out. A host that is not there is told when its agent says
 * hello, by comparing its journal with the board, so nothing is to be taken up here.
 */
@Component
class HostWorker implements Worker {
  private static final Logger LOG = LoggerFactory.getLogger(HostWorker.class);

  private final Engine engine;
  private final Fillings fillings;
  private final StartMessages messages;
  private final AgentLink link;

  HostWorker(Engine engine, Fillings fillings, StartMessages messages, AgentLink link) {
    this.engine = engine;
    this.fillings = fillings;
    this.messages = messages;
    this.link = link;
  }

  @Override
  public boolean takes(Work work, Where where) {
    return where.host().isPresent() && work instanceof Command;
  }

  @Override
  public void start(Attempt attempt) {
    try {
      ToAgent.Start message =
          fillings.of(
              attempt,
              filling -> messages.start(filling, attempt.run(), attempt.status(), engine.epoch()));
      send(attempt, message);
    } catch (Unfillable e) {
      LOG.warn("cannot start {}: {}", attempt.run().run().reference(), e.getMessage());
      engine.hear(turn -> Workers.cannotStart(turn, attempt, e.getMessage()));
    }
  }

  @Override
  public void stop(Attempt attempt, Duration grace) {
    send(
        attempt,
        new ToAgent.Stop(engine.epoch(), attempt.id(), attempt.number(), grace.toMillis()));
  }

  private void send(Attempt attempt, ToAgent message) {
    attempt.status().where().host().ifPresent(host -> link.send(host, message));
  }

  @Override
  public void takeUp(Attempt attempt) {
    // its agent says what it knows of it
  }

  @Override
  public void letGo() {
    // agents go on, and say what became of it to whoever is active then
  }
}
