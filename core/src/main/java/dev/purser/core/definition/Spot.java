package dev.purser.core.definition;

import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Where a job stands in the picture of its stream: its upper left corner, in the picture's own
 * units (a job is about 200 wide and 54 high), x to the right and y down.
 *
 * @param x from -100,000 to 100,000
 * @param y from -100,000 to 100,000
 */
public record Spot(int x, int y) {
  private static final int FARTHEST = 100_000;
  private static final Pattern WRITTEN = Pattern.compile("(-?\\d{1,6}) +(-?\\d{1,6})");

  /** Of what stands in a file, such as {@code 40 120}; empty where that is not a place. */
  public static Optional<Spot> of(String text) {
    Matcher written = WRITTEN.matcher(text.strip());
    if (!written.matches()) {
      return Optional.empty();
    }
    Spot spot = new Spot(Integer.parseInt(written.group(1)), Integer.parseInt(written.group(2)));
    return Math.abs(spot.x) <= FARTHEST && Math.abs(spot.y) <= FARTHEST
        ? Optional.of(spot)
        : Optional.empty();
  }
}
