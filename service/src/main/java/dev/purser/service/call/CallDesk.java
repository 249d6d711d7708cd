package dev.purser.service.call;

import dev.purser.core.pursuit.Pursuit;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import org.springframework.stereotype.Component;

/** Attempts at remote services, as people see them. */
@Component
public class CallDesk {
  private final RemoteCalls records;

  CallDesk(RemoteCalls records) {
    this.records = records;
  }

  /**
   * An attempt at a remote service.
   *
   * @param sentence how it stands
   */
  public record Standing(
      int attempt,
      String service,
      String operation,
      String phase,
      Pursuit pursuit,
      Instant begun,
      String sentence) {}

  /** The attempts of a run at remote services, the first one first. */
  public List<Standing> of(long run) {
    return records.of(run).stream().map(CallDesk::standing).toList();
  }

  private static Standing standing(RemoteCallRow row) {
    Pursuit pursuit = RemoteCalls.pursuit(row);
    return new Standing(
        row.attempt,
        row.service,
        row.operation,
        row.phase,
        pursuit,
        row.begun,
        pursuit
            .ending()
            .map(ending -> "It " + ending.inWords() + ".")
            .orElseGet(() -> sentence(CallWords.stands(pursuit, row.service))));
  }

  private static String sentence(String text) {
    return text.substring(0, 1).toUpperCase(Locale.ROOT) + text.substring(1) + ".";
  }
}
