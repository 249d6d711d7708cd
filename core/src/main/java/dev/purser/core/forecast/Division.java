package dev.purser.core.forecast;

import dev.purser.core.board.Board;
import dev.purser.core.board.Scarcity;
import dev.purser.core.run.RunSpec;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * A board in parts, each of which is played by itself. A part answers for some runs and knows,
 * besides, all that can make a difference to them; so what two parts need is played in both. What a
 * small part touches stays at hand in the processor, whereas a play of a large board waits for
 * memory much of the time.
 */
final class Division {
  private Division() {}

  /**
   * When a board is divided.
   *
   * @param from with so many runs or more
   * @param size how many runs that have not ended a part answers for
   * @param whole in how many samples all is played first, which show what is scarce and where work
   *     is placed; at least 1
   * @param most parts that are larger together than so many boards are not worth it
   */
  record Sizes(int from, int size, int whole, double most) {
    /** As is quickest with 100,000 runs. */
    static final Sizes USUAL = new Sizes(10_000, 2_500, 5, 1.25);
  }

  /**
   * One part.
   *
   * @param own the runs for which it answers, by id
   * @param ids those with all that can make a difference to them, and to the promises
   * @param promises for which it answers: all their ends are in it
   */
  record Part(List<Long> own, Set<Long> ids, List<PromiseGathered> promises) {}

  /**
   * Divides.
   *
   * @param scarcity what plays of the board have shown to be scarce
   * @return parts that answer for all runs and promises; none where it is not worth it
   */
  static List<Part> of(
      Board board, Collection<PromiseGathered> promises, Scarcity scarcity, Sizes sizes) {
    if (board.size() < sizes.from()) {
      return List.of();
    }
    List<List<Long>> own = own(board, sizes);
    if (own.size() < 2) {
      return List.of();
    }
    List<List<PromiseGathered>> promised = promised(own, promises);
    List<Part> parts = new ArrayList<>();
    long all = 0;
    for (int i = 0; i < own.size(); i++) {
      List<Long> ends = new ArrayList<>(own.get(i));
      promised.get(i).forEach(one -> one.ends().forEach(end -> ends.add(end.id())));
      Set<Long> ids = board.bearingOn(ends, scarcity);
      parts.add(new Part(own.get(i), ids, promised.get(i)));
      all += ids.size();
      if (all > board.size() * sizes.most()) {
        return List.of();
      }
    }
    return parts;
  }

  /** Runs that follow each other belong to the same streams, mostly: they stay together. */
  private static List<List<Long>> own(Board board, Sizes sizes) {
    List<List<Long>> own = new ArrayList<>();
    int open = sizes.size();
    for (RunSpec run : board.runs()) {
      if (open >= sizes.size()) {
        own.add(new ArrayList<>());
        open = 0;
      }
      own.get(own.size() - 1).add(run.id());
      open += Outlook.isOpen(board, run) ? 1 : 0;
    }
    return own;
  }

  /** For which promises each part answers: it has the last of their ends. */
  private static List<List<PromiseGathered>> promised(
      List<List<Long>> own, Collection<PromiseGathered> promises) {
    Map<Long, Integer> places = new HashMap<>();
    List<List<PromiseGathered>> promised = new ArrayList<>();
    for (int i = 0; i < own.size(); i++) {
      int place = i;
      own.get(i).forEach(run -> places.put(run, place));
      promised.add(new ArrayList<>());
    }
    for (PromiseGathered one : promises) {
      int place = one.ends().stream().mapToInt(end -> places.get(end.id())).max().orElse(0);
      promised.get(place).add(one);
    }
    return promised;
  }
}
