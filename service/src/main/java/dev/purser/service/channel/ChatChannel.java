package dev.purser.service.channel;

import dev.purser.core.alert.AlertText;
import dev.purser.core.definition.Way;
import dev.purser.service.alert.Channel;
import dev.purser.service.alert.Message;
import java.net.http.HttpRequest;
import org.springframework.stereotype.Component;

/** HTTP POST of a JSON body that a template makes, as chats take it. */
@Component
class ChatChannel implements Channel {
  private final WebCalls calls;
  private final NamedSecrets secrets;

  ChatChannel(WebCalls calls, NamedSecrets secrets) {
    this.calls = calls;
    this.secrets = secrets;
  }

  @Override
  public String name() {
    return "chat";
  }

  @Override
  public String deliver(Message message, Way way) throws DeliveryFailed {
    String secret = way.option("address-secret");
    String address = secret.isEmpty() ? way.address() : way.address() + secrets.of(secret);
    String body = AlertText.fillJson(way.option("body"), message::fact);
    HttpRequest.Builder request =
        HttpRequest.newBuilder()
            .header("Content-Type", "application/json; charset=UTF-8")
            .POST(HttpRequest.BodyPublishers.ofString(body));
    return calls.post(request, WebCalls.address(address), way.address());
  }
}
