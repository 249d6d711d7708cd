package dev.purser.service.agent;

import dev.purser.core.definition.Way;
import dev.purser.core.problem.Shorten;
import dev.purser.service.alert.Channel;
import dev.purser.service.alert.Message;
import dev.purser.service.board.Engine;
import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;

/**
 * Hands alerts to a command on a host: its agent runs it, with the alert as JSON on its standard
 * input. With exit code 0 the alert has arrived; with any other it is tried again.
 */
@Component
class CommandChannel implements Channel {
  private static final long LIMIT_MILLIS = 30_000;
  private static final long ANSWER_MILLIS = LIMIT_MILLIS + 5_000;
  private static final int MOST_TOLD = 300;

  private final AgentLink link;
  private final NoticeAnswers answers;
  private final Engine engine;
  private final JsonMapper json;

  CommandChannel(AgentLink link, NoticeAnswers answers, Engine engine, JsonMapper json) {
    this.link = link;
    this.answers = answers;
    this.engine = engine;
    this.json = json;
  }

  @Override
  public String name() {
    return "command";
  }

  @Override
  public String deliver(Message message, Way way) throws DeliveryFailed {
    String host = way.option("host");
    if (link.presence(host).isEmpty()) {
      throw new DeliveryFailed("host " + host + " is not connected", null);
    }
    ToAgent.Notify asked =
        new ToAgent.Notify(
            engine.epoch(),
            message.id(),
            way.option("run"),
            way.option("user"),
            json.writeValueAsString(message.facts()) + "\n",
            LIMIT_MILLIS);
    FromAgent.Notified answer =
        answers
            .ask(host, message.id(), () -> link.send(host, asked), ANSWER_MILLIS)
            .orElseThrow(
                () ->
                    new DeliveryFailed(
                        "host "
                            + host
                            + " has not answered within "
                            + ANSWER_MILLIS / 1_000
                            + " s; is its agent older than this service?",
                        null));
    String text = Shorten.text(answer.text().replaceAll("\\s+", " ").strip(), MOST_TOLD);
    if (answer.code() != 0) {
      throw new DeliveryFailed(
          (answer.code() < 0 ? "" : "exit code " + answer.code() + (text.isEmpty() ? "" : ": "))
              + text,
          null);
    }
    return "exit code 0" + (text.isEmpty() ? "" : ": " + text);
  }
}
