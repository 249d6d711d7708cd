package dev.purser.client;

import java.util.ArrayList;
import java.util.List;
import picocli.CommandLine;

/**
 * What goes into a parcel besides the streams that are named: shared by all who have one packed.
 */
final class PackedOptions {
  @CommandLine.Option(
      names = "--also",
      paramLabel = "\"KIND NAME\"",
      description = "Another definition, such as \"file-watch harbour-feed\".")
  private List<String> others = new ArrayList<>();

  @CommandLine.Option(
      names = "--with-what-it-needs",
      description =
          "And what they use: calendars, streams, watches, capacities, templates. Hosts, groups,"
              + " connections and recipients are of each environment, and only named.")
  private boolean needs;

  /** Each as its kind and name. */
  List<String> others() {
    return others;
  }

  boolean withNeeds() {
    return needs;
  }
}
