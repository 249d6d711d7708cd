package dev.purser.core.prerequisite;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;

/** A set of exit codes, 0 to 255. {@link #toString()} prints {@code 0 to 4, 8}. */
public final class ExitCodes {
  /** The code of success where nothing else is said. */
  public static final ExitCodes ZERO = of(0, 0);

  /** All of them. */
  public static final ExitCodes ANY = of(0, 255);

  /** The highest code that a process can end with. */
  public static final int HIGHEST = 255;

  private final BitSet codes;

  private ExitCodes(BitSet codes) {
    this.codes = codes;
  }

  /** The codes from one to another, both included. */
  public static ExitCodes of(int from, int to) {
    BitSet codes = new BitSet(HIGHEST + 1);
    codes.set(from, to + 1);
    return new ExitCodes(codes);
  }

  /** Reads {@code 0 to 4, 8}; empty where the text is no such list, or a code is above 255. */
  public static Optional<ExitCodes> parse(String text) {
    BitSet codes = new BitSet(HIGHEST + 1);
    for (String part : text.split(",", -1)) {
      String[] ends = part.strip().split("\\s+to\\s+", -1);
      Optional<Integer> from = code(ends[0]);
      Optional<Integer> to = code(ends[ends.length - 1]);
      if (ends.length > 2 || from.isEmpty() || to.isEmpty() || from.get() > to.get()) {
        return Optional.empty();
      }
      codes.set(from.get(), to.get() + 1);
    }
    return Optional.of(new ExitCodes(codes));
  }

  private static Optional<Integer> code(String text) {
    return text.matches("\\d{1,3}") && Integer.parseInt(text) <= HIGHEST
        ? Optional.of(Integer.valueOf(text))
        : Optional.empty();
  }

  /** Whether a code is one of them; a code below 0 never is. */
  public boolean contains(int code) {
    return code >= 0 && codes.get(code);
  }

  /** Whether a code is in both. */
  public boolean overlaps(ExitCodes other) {
    return codes.intersects(other.codes);
  }

  /** The least of them. */
  public int least() {
    return codes.nextSetBit(0);
  }

  /** The least code from 1 on that is not one of them; -1 where all are. */
  public int leastOther() {
    int other = codes.nextClearBit(1);
    return other > HIGHEST ? -1 : other;
  }

  @Override
  public boolean equals(Object other) {
    return other instanceof ExitCodes them && codes.equals(them.codes);
  }

  @Override
  public int hashCode() {
    return codes.hashCode();
  }

  @Override
  public String toString() {
    List<String> parts = new ArrayList<>();
    for (int from = codes.nextSetBit(0); from >= 0; ) {
      int to = codes.nextClearBit(from) - 1;
      parts.add(from == to ? "" + from : from + " to " + to);
      from = codes.nextSetBit(to + 1);
    }
    return String.join(", ", parts);
  }
}
