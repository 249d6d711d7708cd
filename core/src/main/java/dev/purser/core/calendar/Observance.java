package dev.purser.core.calendar;

import java.time.DayOfWeek;
import java.time.LocalDate;
import java.util.EnumMap;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/**
 * On which other day a holiday is kept that falls on a weekday such as Saturday. The holiday itself
 * stays closed; its observed day is closed as well. Where that day is a holiday already, the next
 * free one in the same direction is taken.
 *
 * @param moves for a weekday, to which one and in which direction
 */
public record Observance(Map<DayOfWeek, Move> moves) {
  /** Nothing is moved. */
  public static final Observance NONE = new Observance(Map.of());

  /** Where the furthest observed day can be from its holiday, in days. */
  static final int FURTHEST = 14;

  /** Copies the map. */
  public Observance {
    moves = Map.copyOf(moves);
  }

  /**
   * A move.
   *
   * @param to the weekday it goes to
   * @param before whether to the last one before; else to the first one after
   */
  public record Move(DayOfWeek to, boolean before) {
    /** Reads {@code friday before} or {@code monday after}. */
    public static Optional<Move> parse(String text) {
      String[] words = text.strip().toLowerCase(java.util.Locale.ROOT).split("\\s+");
      boolean known = words.length == 2 && (words[1].equals("before") || words[1].equals("after"));
      return known
          ? DayRuleParser.weekday(words[0]).map(day -> new Move(day, words[1].equals("before")))
          : Optional.empty();
    }

    private LocalDate from(LocalDate day) {
      int gap = to.getValue() - day.getDayOfWeek().getValue();
      return before ? day.minusDays((6 - gap) % 7 + 1L) : day.plusDays((gap + 6) % 7 + 1L);
    }

    @Override
    public String toString() {
      return DayRule.lower(to) + (before ? " before" : " after");
    }
  }

  /**
   * Adds observed days to named holidays, earlier holidays first.
   *
   * @param named days and their names; those in {@code movable} are looked at
   */
  void observe(TreeMap<LocalDate, String> named, TreeMap<LocalDate, String> movable) {
    movable.forEach(
        (day, name) -> {
          Move move = moves.get(day.getDayOfWeek());
          if (move != null) {
            LocalDate kept = move.from(day);
            while (named.containsKey(kept) || moves.containsKey(kept.getDayOfWeek())) {
              kept = kept.plusDays(move.before() ? -1 : 1);
            }
            named.put(kept, name + " (observed)");
          }
        });
  }

  @Override
  public String toString() {
    Map<DayOfWeek, Move> sorted = new EnumMap<>(DayOfWeek.class);
    sorted.putAll(moves);
    StringBuilder out = new StringBuilder();
    sorted.forEach(
        (day, move) ->
            out.append(out.isEmpty() ? "" : ", ")
                .append(DayRule.lower(day))
                .append(": ")
                .append(move));
    return out.toString();
  }
}
