package dev.purser.service.channel;

import dev.purser.core.definition.Way;
import dev.purser.service.alert.Channel;
import dev.purser.service.alert.Message;
import java.util.LinkedHashMap;
import java.util.Map;
import org.springframework.stereotype.Component;

/** HTTP POST of alerts as CloudEvents. */
@Component
class WebhookChannel implements Channel {
  private final CloudEvents events;

  WebhookChannel(CloudEvents events) {
    this.events = events;
  }

  @Override
  public String name() {
    return "webhook";
  }

  @Override
  public String deliver(Message message, Way way) throws DeliveryFailed {
    Map<String, Object> about = new LinkedHashMap<>();
    about.put("id", message.id());
    about.put("type", "dev.purser.alert." + message.kind());
    about.put("subject", message.about());
    about.put("time", message.at().toString());
    return events.post(way, about, message.facts());
  }
}
