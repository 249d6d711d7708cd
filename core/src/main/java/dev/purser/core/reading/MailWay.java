package dev.purser.core.reading;

import dev.purser.core.definition.Way;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** E-mail. */
public final class MailWay implements WayKind {
  private static final int LONGEST_SUBJECT = 300;
  private static final int LONGEST_TEXT = 5_000;

  private static final Keys WORDS =
      new Keys()
          .may("subject", Keys.Form.TEXT, "The subject, with ${title}, ${kind}, ${urgency} ...")
          .may("text", Keys.Form.TEXT, "The text, with ${text}, ${output}, ${link}, ${parts} ...");

  /** An address that a mail can be sent to. */
  public static boolean isAddress(String text) {
    return text.length() <= 250 && text.matches("[^@\\s<>,;:\"]+@[^@\\s<>,;:\"]+");
  }

  @Override
  public String name() {
    return "mail";
  }

  @Override
  public Keys keys() {
    return new Keys()
        .may("mail", Keys.Form.NAMES, "E-mail addresses.")
        .may("mail-words", Keys.Form.ENTRY, "What mails say, in words of one's own.", WORDS);
  }

  @Override
  public List<Way> read(Fields recipient, Page page, Mentions mentions, String user) {
    List<Way> ways = new ArrayList<>();
    Map<String, String> words = words(recipient, page);
    for (Fields.Item item : recipient.items("mail")) {
      if (!isAddress(item.text())) {
        page.error(item.node(), "\"" + item.text() + "\" is not an e-mail address");
      }
      ways.add(new Way("mail", item.text(), words));
    }
    return ways;
  }

  private static Map<String, String> words(Fields recipient, Page page) {
    Map<String, String> words = new LinkedHashMap<>();
    if (!recipient.has("mail-words")) {
      return words;
    }
    if (!recipient.has("mail")) {
      page.error(recipient.at("mail-words"), "there is no \"mail\" that this could be for");
    }
    Fields said = new Fields(page, recipient.at("mail-words"), WORDS, "\"mail-words\"");
    for (String key : List.of("subject", "text")) {
      if (said.has(key)) {
        String text = said.text(key, "");
        int most = key.equals("subject") ? LONGEST_SUBJECT : LONGEST_TEXT;
        if (text.length() > most) {
          page.error(said.at(key), "it has more than " + most + " characters");
        }
        WayKinds.unknown(said, key, text, page);
        words.put(key, text);
      }
    }
    return words;
  }
}
