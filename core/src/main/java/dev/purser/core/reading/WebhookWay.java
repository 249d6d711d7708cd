package dev.purser.core.reading;

import dev.purser.core.definition.Way;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** CloudEvents by HTTP POST. */
final class WebhookWay implements WayKind {
  private static final Keys OPTIONS =
      new Keys()
          .may("mode", Keys.Form.TEXT, "structured (one JSON document) or binary; structured.")
          .may("signed-by", Keys.Form.TEXT, "Name of the secret that each event is signed with.")
          .may("asks-first", Keys.Form.FLAG, "yes: the receiver must consent first.");

  @Override
  public String name() {
    return "webhook";
  }

  @Override
  public Keys keys() {
    return new Keys()
        .may("webhook", Keys.Form.TEXT, "Address that takes CloudEvents by HTTP POST.")
        .may("webhook-options", Keys.Form.ENTRY, "How they are sent there.", OPTIONS);
  }

  @Override
  public List<Way> read(Fields recipient, Page page, Mentions mentions, String user) {
    String address = WayKinds.web(recipient, "webhook", page);
    Map<String, String> options = new LinkedHashMap<>();
    if (recipient.has("webhook-options")) {
      Fields said = new Fields(page, recipient.at("webhook-options"), OPTIONS, "webhook-options");
      String mode = said.text("mode", "structured");
      if (!List.of("structured", "binary").contains(mode)) {
        page.error(said.at("mode"), "unknown mode \"" + mode + "\"; expected structured or binary");
      }
      if (address.isEmpty()) {
        page.error(
            recipient.at("webhook-options"), "there is no \"webhook\" that this could be for");
      }
      options.put("mode", mode);
      if (said.has("signed-by")) {
        options.put("signed-by", WayKinds.secret(said, "signed-by", page));
      }
      if (said.flag("asks-first")) {
        options.put("asks-first", "yes");
      }
    }
    return address.isEmpty() ? List.of() : List.of(new Way("webhook", address, options));
  }
}
