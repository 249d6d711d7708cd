package dev.purser.core.parcel;

import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Where definitions that a parcel brought come from, as the record of their publication says it.
 *
 * @param from the environment that packed them; empty for one without a name
 * @param revision of all definitions there, when they were packed
 */
public record ParcelOrigin(String from, long revision) {
  private static final String NAMELESS = "a service without a name";
  private static final Pattern TEXT = Pattern.compile("parcel from (.+?), revision (\\d{1,18})\\b");

  /** As it stands on record; what else is known may follow. */
  public String inWords() {
    return "parcel from " + (from.isEmpty() ? NAMELESS : from) + ", revision " + revision;
  }

  /** Reads what stands on record; empty where no parcel brought it. */
  public static Optional<ParcelOrigin> read(String origin) {
    Matcher found = TEXT.matcher(origin);
    return found.lookingAt()
        ? Optional.of(
            new ParcelOrigin(
                found.group(1).equals(NAMELESS) ? "" : found.group(1),
                Long.parseLong(found.group(2))))
        : Optional.empty();
  }
}
