package dev.purser.core.reading;

import dev.purser.core.alert.AlertText;
import dev.purser.core.definition.Way;
import java.util.List;
import java.util.Map;

/** Any JSON by HTTP POST, as chats take it. */
final class ChatWay implements WayKind {
  private static final Keys CHAT =
      new Keys()
          .must("address", Keys.Form.TEXT, "Where the JSON is posted.")
          .may("body", Keys.Form.TEXT, "The JSON, with ${title}, ${text}, ${link}, ${parts} ...")
          .may("address-secret", Keys.Form.TEXT, "Name of a secret that ends the address.");

  /** What is posted where nothing is said. */
  static final String USUAL_BODY = "{\"text\": \"${urgency}: ${title}: ${text} ${link}\"}";

  @Override
  public String name() {
    return "chat";
  }

  @Override
  public Keys keys() {
    return new Keys().may("chat", Keys.Form.ENTRY, "A chat that takes JSON by HTTP POST.", CHAT);
  }

  @Override
  public List<Way> read(Fields recipient, Page page, Mentions mentions, String user) {
    if (!recipient.has("chat")) {
      return List.of();
    }
    Fields chat = new Fields(page, recipient.at("chat"), CHAT, "\"chat\"");
    String body = chat.text("body", USUAL_BODY);
    WayKinds.unknown(chat, "body", body, page);
    AlertText.brokenJson(body)
        .ifPresent(why -> page.error(chat.at("body"), "the body is not valid JSON: " + why));
    Map<String, String> options =
        chat.has("address-secret")
            ? Map.of("body", body, "address-secret", WayKinds.secret(chat, "address-secret", page))
            : Map.of("body", body);
    return List.of(new Way("chat", WayKinds.web(chat, "address", page), options));
  }
}
