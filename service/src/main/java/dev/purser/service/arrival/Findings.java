package dev.purser.service.arrival;

import dev.purser.core.arrival.Arrival;
import dev.purser.core.arrival.Finding;
import dev.purser.wire.agent.FromAgent;
import dev.purser.wire.agent.ToAgent;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;

/** Findings as agents send them, and the answer that they need not be sent again. */
final class Findings {
  private static final Logger LOG = LoggerFactory.getLogger(Findings.class);

  private static final int LONGEST_PATH = 2_000;
  private static final int LONGEST_KEY = 200;
  private static final int LONGEST_CHECKSUM = 64;

  /** The last millisecond of the year 9999. */
  private static final long LATEST_MILLIS = 253_402_300_799_999L;

  private Findings() {}

  /** What cannot be kept on record is not a finding: a name that is too long, a negative size. */
  private static boolean isRecordable(FromAgent.File file) {
    boolean whole =
        Stream.of(
                file.watch(),
                file.directory(),
                file.pattern(),
                file.name(),
                file.key(),
                file.note(),
                file.checksum())
            .allMatch(Objects::nonNull);
    return whole
        && file.directory().length() + 1 + file.name().length() <= LONGEST_PATH
        && file.key().length() <= LONGEST_KEY
        && file.checksum().length() <= LONGEST_CHECKSUM
        && file.size() >= 0
        && file.modified() >= 0
        && file.modified() <= LATEST_MILLIS;
  }

  /** What was found; empty where that cannot be kept on record, or its state is not known. */
  static Optional<Finding> of(FromAgent.File file) {
    if (!isRecordable(file)) {
      LOG.warn("a file of watch {} was found that cannot be put on record", file.watch());
      return Optional.empty();
    }
    return Finding.State.of(file.state())
        .map(
            state ->
                new Finding(
                    file.watch(),
                    file.directory(),
                    file.pattern(),
                    file.name(),
                    file.size(),
                    file.modified(),
                    file.key(),
                    state,
                    file.note(),
                    file.checksum()));
  }

  /** That nothing more need be told of it. */
  static ToAgent.Done done(Finding one) {
    return new ToAgent.Done(
        one.watch(), one.directory(), one.name(), one.size(), one.modified(), one.key());
  }

  /** The same of an arrival. */
  static ToAgent.Done done(Arrival one) {
    String directory = one.path().substring(0, Math.max(one.path().lastIndexOf('/'), 1));
    return new ToAgent.Done(
        one.watch(), directory, one.name(), one.size(), one.modified(), one.key());
  }
}
