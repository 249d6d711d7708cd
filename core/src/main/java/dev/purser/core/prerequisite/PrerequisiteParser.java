package dev.purser.core.prerequisite;

import dev.purser.core.phrase.PhraseException;
import dev.purser.core.phrase.Words;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;

/** Reads prerequisites; the grammar is in {@code docs/prerequisites.md}. */
public final class PrerequisiteParser {
  private static final List<String> RESERVED = List.of("and", "or", "not", "(", ")", ",");

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
    int column = words.column();
    String job = name("a job's name");
    mentions.add(new Mention(job, false, column));
    Prerequisite.Outcome outcome = outcome(words.peek());
    if (outcome == null) {
      throw words.unexpected(
          Arrays.stream(Prerequisite.Outcome.values()).map(o -> o.word()).toList());
    }
    words.take();
    return new Prerequisite.RunEnded(job, outcome);
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
