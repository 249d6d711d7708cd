package dev.purser.core.schedule;

import dev.purser.core.problem.Nearest;
import java.time.ZoneId;
import java.util.Optional;
import java.util.Set;

/** Time zones by their IANA names, older and newer ones than this Java knows among them. */
public final class Zones {
  /** Java makes a new set at each question. */
  private static final Set<String> KNOWN = Set.copyOf(ZoneId.getAvailableZoneIds());

  private Zones() {}

  /** The zone of a name; empty where there is none. */
  public static Optional<ZoneId> of(String name) {
    if (KNOWN.contains(name)) {
      return Optional.of(ZoneId.of(name));
    }
    // the same clock, by the name that this Java knows
    return RenamedZones.formerName(name).filter(KNOWN::contains).map(ZoneId::of);
  }

  /** What people call the clock of a zone: {@code New York} for America/New_York. */
  public static String place(ZoneId zone) {
    String id = zone.getId();
    return id.substring(id.lastIndexOf('/') + 1).replace('_', ' ');
  }

  /** What is wrong with a name that no zone has, and what may be meant. */
  public static String unknown(String name) {
    String renamed = ZoneId.SHORT_IDS.getOrDefault(name, "");
    String hint =
        renamed.contains("/")
            ? "; it is now called \"" + renamed + "\""
            : Nearest.to(name, KNOWN)
                .map(near -> "; did you mean \"" + near + "\"?")
                .orElse("; expected an IANA name such as Europe/Oslo");
    return "unknown time zone \"" + name + "\"" + hint;
  }
}
