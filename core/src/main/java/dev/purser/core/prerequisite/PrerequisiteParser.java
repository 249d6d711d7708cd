package dev.purser.core.prerequisite;

import dev.purser.core.phrase.PhraseException;
import dev.purser.core.phrase.Words;
import dev.purser.core.schedule.Durations;
import java.time.Duration;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;

/** Reads prerequisites; the grammar is in {@code docs/prerequisites.md}. */
public final class PrerequisiteParser {
  private static final List<String> RESERVED = List.of("and", "or", "not", "(", ")", ",");

  private static final Duration LONGEST = Duration.ofDays(31);

  private final Words words;
  private final List<Mention> mentions = new ArrayList<>();

  private PrerequisiteParser(String text) {
    this.words = new Words(text);
  }

  /**
   * A name that a prerequisite mentions, and where.
   *
   * @param column from 1
   */
  public record Mention(String name, boolean isFile, int column) {}

  /** A prerequisite and the names in it, so that unknown ones can be pointed at. */
  public record Parsed(Prerequisite prerequisite, List<Mention> mentions) {}

  /**
   * Reads a prerequisite.
   *
   * @throws PhraseException where it cannot be read: the column, and what could stand there
   */
  public static Parsed parse(String text) {
    PrerequisiteParser parser = new PrerequisiteParser(text);
    Prerequisite found = parser.any();
    if (!parser.words.atEnd()) {
      throw parser.words.unexpected(List.of("and", "or"));
    }
    return new Parsed(found, List.copyOf(parser.mentions));
  }

  private Prerequisite any() {
    List<Prerequisite> parts = new ArrayList<>(List.of(all()));
    while (words.takeIf("or")) {
      parts.add(all());
    }
    return parts.size() == 1 ? parts.get(0) : new Prerequisite.Any(parts);
  }

  private Prerequisite all() {
    List<Prerequisite> parts = new ArrayList<>(List.of(one()));
    while (words.takeIf("and")) {
      parts.add(one());
    }
    return parts.size() == 1 ? parts.get(0) : new Prerequisite.All(parts);
  }

  private Prerequisite one() {
    if (words.takeIf("not")) {
      if (words.peek().equals("not")) {
        throw new PhraseException(words.column(), "\"not not\" says nothing; leave both out");
      }
      return new Prerequisite.Not(one());
    }
    if (words.peek().equals("(")) {
      words.open();
      Prerequisite inner = any();
      words.close();
      return inner;
    }
    if (words.peek().equals("file") && outcome(words.peek(1)) == null) {
      words.take();
      int nameColumn = words.column();
      String watch = name("a file watch's name");
      mentions.add(new Mention(watch, true, nameColumn));
      words.expect("arrived");
      return new Prerequisite.FileArrived(watch);
    }
    if (words.peek().equals("value") && outcome(words.peek(1)) == null) {
      return value();
    }
    String job = job();
    Prerequisite.Outcome outcome = outcome(words.peek());
    if (outcome == null) {
      throw words.unexpected(
          Arrays.stream(Prerequisite.Outcome.values()).map(o -> o.word()).toList());
    }
    words.take();
    Optional<ExitCodes> codes =
        outcome == Prerequisite.Outcome.ENDED && words.takeIf("with", "code")
            ? Optional.of(codes())
            : Optional.empty();
    return new Prerequisite.OfRun(meant(job, outcome), outcome, codes);
  }

  private String job() {
    int column = words.column();
    String job = name("a job's name");
    mentions.add(new Mention(job, false, column));
    return job;
  }

  private Prerequisite value() {
    words.take();
    String name = name("a value's name");
    words.expect("of");
    String job = job();
    Comparison comparison =
        Comparison.of(words.peek()).orElseThrow(() -> words.unexpected(Comparison.signs()));
    words.take();
    if (words.atEnd() || RESERVED.contains(words.peek())) {
      throw words.unexpected(List.of("a number, or a text in double quotes"));
    }
    int column = words.column();
    String operand = words.take();
    boolean quoted = operand.startsWith("\"");
    if (!quoted && Comparison.number(operand).isEmpty()) {
      throw new PhraseException(
          column,
          "cannot compare with "
              + operand
              + "; expected a number, or a text in double quotes: \""
              + operand
              + "\"");
    }
    return new Prerequisite.ValueIs(
        name,
        meant(job, null),
        comparison,
        quoted ? operand.substring(1, operand.length() - 1) : operand);
  }

  /** Which run is meant: what may follow a job's name and what is asked of it. */
  private Prerequisite.Target meant(String name, Prerequisite.Outcome outcome) {
    boolean previous = false;
    Optional<Duration> within = Optional.empty();
    int column = words.column();
    if (words.takeIf("on")) {
      words.expect("the");
      words.expect("previous");
      words.expect("business");
      words.expect("date");
      previous = true;
    } else if (words.takeIf("within")) {
      int at = words.column();
      String span = words.atEnd() ? "" : words.take();
      within = Durations.parse(span).filter(found -> !found.isZero());
      if (within.isEmpty()) {
        throw new PhraseException(at, "expected a duration such as 12h after \"within\"");
      }
      if (within.get().compareTo(LONGEST) > 0) {
        throw new PhraseException(
            at, "\"within\" reaches back " + Durations.print(LONGEST) + " at most");
      }
    }
    if (outcome == Prerequisite.Outcome.RUNNING && (previous || within.isPresent())) {
      throw new PhraseException(column, "a job is running now or not at all; leave this out");
    }
    return new Prerequisite.Target(name, previous, within, words.takeIf("if", "planned"));
  }

  private ExitCodes codes() {
    StringBuilder text = new StringBuilder();
    int column = words.column();
    do {
      text.append(text.isEmpty() ? "" : ", ").append(words.atEnd() ? "" : words.take());
      if (words.takeIf("to")) {
        text.append(" to ").append(words.atEnd() ? "" : words.take());
      }
    } while (words.takeIf(","));
    return ExitCodes.parse(text.toString())
        .orElseThrow(
            () ->
                new PhraseException(
                    column,
                    "\"" + text + "\" are not exit codes; expected some such as 0 to 4, 8"));
  }

  private static Prerequisite.Outcome outcome(String word) {
    for (Prerequisite.Outcome outcome : Prerequisite.Outcome.values()) {
      if (outcome.word().equals(word)) {
        return outcome;
      }
    }
    return null;
  }

  private String name(String what) {
    if (words.atEnd() || RESERVED.contains(words.peek())) {
      throw words.unexpected(List.of(what));
    }
    return words.take();
  }
}
