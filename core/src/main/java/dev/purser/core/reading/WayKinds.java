package dev.purser.core.reading;

import dev.purser.core.alert.AlertText;
import java.util.List;
import java.util.regex.Pattern;

/** All ways to reach a recipient that there are. */
final class WayKinds {
  static final List<WayKind> ALL =
      List.of(new MailWay(), new WebhookWay(), new ChatWay(), new TrapWay(), new CommandWay());

  private static final Pattern WEB = Pattern.compile("https?://[^\\s/@]+(/\\S*)?");

  private WayKinds() {}

  static List<String> names() {
    return ALL.stream().map(WayKind::name).toList();
  }

  static Keys keys() {
    Keys keys = new Keys();
    ALL.forEach(kind -> keys.with(kind.keys()));
    return keys;
  }

  /** An address of the web; what is wrong with it goes to the page. */
  static String web(Fields fields, String key, Page page) {
    String address = fields.text(key, "");
    if (!address.isEmpty() && !WEB.matcher(address).matches()) {
      page.error(
          fields.at(key),
          "expected an http:// or https:// address with a host, without a user or password in it");
    }
    return address;
  }

  /** The name of a secret; what is wrong with it goes to the page. */
  static String secret(Fields fields, String key, Page page) {
    String name = fields.text(key, "");
    if (!name.isEmpty() && !Fields.isName(name)) {
      page.error(
          fields.at(key),
          "\""
              + key
              + "\" is the name of a secret's file, such as night-hook, not the secret itself");
    }
    return name;
  }

  /** A template of messages; a placeholder that nobody fills goes to the page. */
  static void unknown(Fields fields, String key, String text, Page page) {
    AlertText.unknownInMessage(text)
        .ifPresent(
            placeholder ->
                page.error(
                    fields.at(key),
                    "nobody fills "
                        + placeholder
                        + "; there is ${"
                        + String.join("}, ${", AlertText.MESSAGE_NAMES)
                        + "}; $${ stands for itself"));
  }
}
