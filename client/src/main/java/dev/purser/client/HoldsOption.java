package dev.purser.client;

import dev.purser.wire.api.Views;
import java.util.Map;
import java.util.TreeMap;
import picocli.CommandLine;

/** From when a change holds for runs that are there: shared by all commands that publish. */
final class HoldsOption {
  @CommandLine.Option(
      names = "--from",
      paramLabel = "WHEN",
      description = {
        "From when it holds: planned (what has begun goes on as it was; the default), next-date, a"
            + " date such as 2027-03-04, now (also what waits and what has failed) or running (also"
            + " what runs, by a new attempt after a graceful stop).",
        "STREAM=WHEN says so of one stream; may be given several times."
      })
  private String[] from = {};

  /** What the service is asked; null where nothing was said. */
  Views.HoldsRequest request() {
    String all = "";
    Map<String, String> ofStreams = new TreeMap<>();
    for (String one : from) {
      int at = one.indexOf('=');
      if (at > 0) {
        ofStreams.put(one.substring(0, at).strip(), one.substring(at + 1).strip());
      } else if (all.isEmpty()) {
        all = one.strip();
      } else {
        throw new Service.Refusal(
            2, "--from says both " + all + " and " + one + "; give one, or STREAM=" + one);
      }
    }
    return from.length == 0 ? null : new Views.HoldsRequest(all, ofStreams);
  }
}
