package dev.purser.core.reading;

import dev.purser.core.definition.Way;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/** E-mail. */
public final class MailWay implements WayKind {
  /** An address that a mail can be sent to. */
  public static boolean isAddress(String text) {
    return text.length() <= 250 && text.matches("[^@\\s<>,;:\"]+@[^@\\s<>,;:\"]+");
  }

  @Override
  public Keys keys() {
    return new Keys().may("mail", Keys.Form.NAMES, "E-mail addresses.");
  }

  @Override
  public List<Way> read(Fields recipient, Page page, Mentions mentions, String user) {
    List<Way> ways = new ArrayList<>();
    for (Fields.Item item : recipient.items("mail")) {
      if (!isAddress(item.text())) {
        page.error(item.node(), "\"" + item.text() + "\" is not an e-mail address");
      }
      ways.add(new Way("mail", item.text(), Map.of()));
    }
    return ways;
  }
}
