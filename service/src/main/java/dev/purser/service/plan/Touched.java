package dev.purser.service.plan;

import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunStatus;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * A run of which people have said something, and which a publication would make another.
 *
 * @param what becomes of what they said, as a sentence without the run's name
 */
public record Touched(String reference, String what) {

  /** Empty where nobody has said anything of it. */
  static Optional<Touched> of(
      RunSpec run, RunStatus.Said said, RunStatus.Said stays, boolean isGone) {
    List<String> parts = new ArrayList<>();
    if (!said.hold().isEmpty()) {
      parts.add(isGone ? "it was " + said.hold() : "it stays " + said.hold());
    }
    if (said.priority() >= 0) {
      parts.add(
          "priority "
              + said.priority()
              + " that somebody gave it"
              + (stays.priority() >= 0 ? " stays" : " goes"));
    }
    if (said.due() != 0) {
      parts.add(
          "its start was moved to "
              + Instant.ofEpochMilli(said.due()).atZone(run.run().zone()).toLocalTime()
              + (stays.due() != 0 ? ", which stays" : ", which no longer counts"));
    }
    return parts.isEmpty()
        ? Optional.empty()
        : Optional.of(
            new Touched(
                run.run().reference().toString(),
                (isGone ? "would be taken off the plan; " : "would change; ")
                    + String.join("; ", parts)));
  }
}
