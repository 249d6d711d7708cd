package dev.purser.service.plan;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.plan.HoldsFrom;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.TreeSet;

/**
 * From when a change holds, stream by stream.
 *
 * @param all for all streams of which nothing else is said
 * @param ofStreams by path
 */
public record Holds(HoldsFrom all, Map<String, HoldsFrom> ofStreams) {
  /** As it is where nobody says anything. */
  public static final Holds PLANNED = new Holds(HoldsFrom.PLANNED, Map.of());

  /** Copies the map. */
  public Holds {
    ofStreams = Map.copyOf(ofStreams);
  }

  /**
   * What texts say.
   *
   * @param from for all streams; null or empty for what is planned
   * @param ofStreams for some, by path; null for none
   * @throws NotUnderstood where one of them is not understood, or streams differ in a date to come
   */
  public static Holds parse(String from, Map<String, String> ofStreams, LocalDate today) {
    Map<String, HoldsFrom> parsed = new TreeMap<>();
    if (ofStreams != null) {
      ofStreams.forEach((path, text) -> parsed.put(path, HoldsFrom.parse(text, today)));
    }
    Holds holds = new Holds(HoldsFrom.parse(from == null ? "" : from, today), parsed);
    for (Map.Entry<String, HoldsFrom> one : holds.ofStreams.entrySet()) {
      if (one.getValue().date().filter(date -> date.isAfter(today.plusDays(1))).isPresent()) {
        throw new NotUnderstood(
            one.getKey()
                + ": a change that holds from a later date than tomorrow is published as a whole;"
                + " publish this stream by itself, from "
                + one.getValue().date().get());
      }
    }
    return holds;
  }

  /**
   * Refuses names of streams that say nothing.
   *
   * @param after the definitions as they would be
   * @throws NotUnderstood where there is no such stream
   */
  public void check(Definitions after) {
    List<String> known = after.streams().stream().map(Stream::path).toList();
    for (String path : new TreeSet<>(ofStreams.keySet())) {
      if (!known.contains(path)) {
        throw new NotUnderstood(
            "there is no stream \""
                + path
                + "\" of which this could hold"
                + Nearest.hint(path, known));
      }
    }
  }

  /** Whether nothing but what is planned is concerned, whatever the date. */
  public boolean isPlain() {
    return all.equals(HoldsFrom.PLANNED) && ofStreams.isEmpty();
  }

  /** From when it holds for a stream. */
  public HoldsFrom of(String stream) {
    return ofStreams.getOrDefault(stream, all);
  }

  /** The date on which all of it goes live, where that is one to come that is not planned yet. */
  public Optional<LocalDate> toCome(LocalDate today) {
    return all.date().filter(date -> date.isAfter(today.plusDays(1)));
  }

  /** As the end of a sentence that begins "the change holds". */
  public String inWords() {
    StringBuilder words = new StringBuilder(all.inWords());
    new TreeMap<>(ofStreams)
        .forEach(
            (path, one) -> words.append("; of ").append(path).append(' ').append(one.inWords()));
    return words.toString();
  }
}
