package dev.purser.core.schedule;

import java.util.Map;
import java.util.Optional;

/** Time zones that the tz database has renamed, and still knows by their old names. */
public final class RenamedZones {
  /** From the tz database's file "backward", the links that are renamed places. */
  private static final Map<String, String> NOW =
      Map.ofEntries(
          Map.entry("Africa/Asmera", "Africa/Asmara"),
          Map.entry("America/Buenos_Aires", "America/Argentina/Buenos_Aires"),
          Map.entry("America/Fort_Wayne", "America/Indiana/Indianapolis"),
          Map.entry("America/Godthab", "America/Nuuk"),
          Map.entry("America/Indianapolis", "America/Indiana/Indianapolis"),
          Map.entry("America/Louisville", "America/Kentucky/Louisville"),
          Map.entry("Asia/Ashkhabad", "Asia/Ashgabat"),
          Map.entry("Asia/Calcutta", "Asia/Kolkata"),
          Map.entry("Asia/Chongqing", "Asia/Shanghai"),
          Map.entry("Asia/Dacca", "Asia/Dhaka"),
          Map.entry("Asia/Katmandu", "Asia/Kathmandu"),
          Map.entry("Asia/Macao", "Asia/Macau"),
          Map.entry("Asia/Rangoon", "Asia/Yangon"),
          Map.entry("Asia/Saigon", "Asia/Ho_Chi_Minh"),
          Map.entry("Asia/Thimbu", "Asia/Thimphu"),
          Map.entry("Asia/Ujung_Pandang", "Asia/Makassar"),
          Map.entry("Asia/Ulan_Bator", "Asia/Ulaanbaatar"),
          Map.entry("Atlantic/Faeroe", "Atlantic/Faroe"),
          Map.entry("Europe/Kiev", "Europe/Kyiv"),
          Map.entry("Pacific/Enderbury", "Pacific/Kanton"),
          Map.entry("Pacific/Ponape", "Pacific/Pohnpei"),
          Map.entry("Pacific/Truk", "Pacific/Chuuk"),
          Map.entry("US/Central", "America/Chicago"),
          Map.entry("US/Eastern", "America/New_York"),
          Map.entry("US/Mountain", "America/Denver"),
          Map.entry("US/Pacific", "America/Los_Angeles"));

  private RenamedZones() {}

  /** What a zone is called now; empty where its name is the present one. */
  public static Optional<String> presentName(String zone) {
    return Optional.ofNullable(NOW.get(zone));
  }

  /** What a zone was called before, for a Java whose tz database is older than the name. */
  public static Optional<String> formerName(String zone) {
    return NOW.entrySet().stream()
        .filter(entry -> entry.getValue().equals(zone))
        .map(Map.Entry::getKey)
        .sorted()
        .findFirst();
  }
}
