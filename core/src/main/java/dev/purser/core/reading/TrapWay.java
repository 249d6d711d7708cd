package dev.purser.core.reading;

import dev.purser.core.definition.Way;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** SNMP traps. */
final class TrapWay implements WayKind {
  private static final Keys TRAP =
      new Keys()
          .must("address", Keys.Form.TEXT, "The receiver, HOST or HOST:PORT; port 162.")
          .may("version", Keys.Form.TEXT, "v2c or v3; v2c.")
          .may("community", Keys.Form.TEXT, "Of v2c: name of the secret; public by default.")
          .may("user", Keys.Form.TEXT, "Of v3: who sends.")
          .may("signed-by", Keys.Form.TEXT, "Of v3: name of the secret that signs (SHA-256).")
          .may("sealed-by", Keys.Form.TEXT, "Of v3: name of the secret that encrypts (AES-128).");

  @Override
  public String name() {
    return "traps";
  }

  @Override
  public Keys keys() {
    return new Keys().may("traps", Keys.Form.ENTRY, "A receiver of SNMP traps.", TRAP);
  }

  @Override
  public List<Way> read(Fields recipient, Page page, Mentions mentions, String user) {
    if (!recipient.has("traps")) {
      return List.of();
    }
    Fields trap = new Fields(page, recipient.at("traps"), TRAP, "\"traps\"");
    String version = trap.text("version", "v2c");
    if (!List.of("v2c", "v3").contains(version)) {
      page.error(trap.at("version"), "unknown version \"" + version + "\"; expected v2c or v3");
    }
    boolean third = version.equals("v3");
    String address = trap.text("address", "");
    if (!address.isEmpty() && !address.matches("[A-Za-z0-9][A-Za-z0-9.-]*(:\\d{1,5})?")) {
      page.error(trap.at("address"), "expected a host, or HOST:PORT, such as monitor.example:162");
    }
    if (third && !trap.has("user")) {
      page.error(trap.at("version"), "version v3 needs a \"user\"");
    }
    if (trap.has("sealed-by") && !trap.has("signed-by")) {
      page.error(
          trap.at("sealed-by"), "what is encrypted is signed, too: \"signed-by\" is missing");
    }
    for (String key : third ? List.of("community") : List.of("user", "signed-by", "sealed-by")) {
      if (trap.has(key)) {
        page.error(trap.at(key), "\"" + key + "\" does not go with version " + version);
      }
    }
    Map<String, String> options = new LinkedHashMap<>();
    options.put("version", version);
    if (trap.has("user")) {
      options.put("user", trap.text("user", ""));
    }
    for (String key : List.of("community", "signed-by", "sealed-by")) {
      if (trap.has(key)) {
        options.put(key, WayKinds.secret(trap, key, page));
      }
    }
    String full = address.contains(":") ? address : address + ":162";
    return List.of(new Way("traps", full, options));
  }
}
