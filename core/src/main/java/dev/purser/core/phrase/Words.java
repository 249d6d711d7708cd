package dev.purser.core.phrase;

import dev.purser.core.problem.Nearest;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** A phrase as a row of words, brackets and commas, read from left to right. */
public final class Words {
  /** Longer phrases are refused before any work is done on them. */
  public static final int MAX_LENGTH = 10_000;

  /** Deeper brackets are refused, so that no phrase can exhaust the stack. */
  public static final int MAX_DEPTH = 100;

  private static final Pattern TOKEN =
      Pattern.compile("\"[^\"]*\"|[\\p{L}\\p{N}_./:+-]+|[<>!]=|[(),]|\\S");

  private final String text;
  private final List<String> words = new ArrayList<>();
  private final List<Integer> columns = new ArrayList<>();
  private int next;
  private int depth;

  /** Splits a phrase; one longer than {@link #MAX_LENGTH} characters is refused. */
  public Words(String text) {
    this.text = text;
    if (text.length() > MAX_LENGTH) {
      throw new PhraseException(
          1, "is " + text.length() + " characters long; at most " + MAX_LENGTH + " are allowed");
    }
    Matcher matcher = TOKEN.matcher(text);
    while (matcher.find()) {
      words.add(matcher.group());
      columns.add(matcher.start() + 1);
    }
  }

  /** Whether all words have been taken. */
  public boolean atEnd() {
    return next >= words.size();
  }

  /** The next word in lower case, or the empty string at the end. */
  public String peek() {
    return peek(0);
  }

  /** The word {@code ahead} places after the next one, in lower case, or the empty string. */
  public String peek(int ahead) {
    int at = next + ahead;
    return at < words.size() ? words.get(at).toLowerCase(Locale.ROOT) : "";
  }

  /** Takes the next word as it was written. */
  public String take() {
    return words.get(next++);
  }

  /** Takes the given words if they come next, all or none. */
  public boolean takeIf(String... expected) {
    for (int i = 0; i < expected.length; i++) {
      if (!peek(i).equals(expected[i])) {
        return false;
      }
    }
    next += expected.length;
    return true;
  }

  /** Takes the given word or fails, naming it. */
  public void expect(String word) {
    if (!takeIf(word)) {
      throw unexpected(List.of(word));
    }
  }

  /** Opens a bracket level; deeper than {@link #MAX_DEPTH} is refused. */
  public void open() {
    expect("(");
    deeper("brackets are nested deeper than ");
  }

  /** Closes a bracket level. */
  public void close() {
    expect(")");
    depth--;
  }

  /** Goes a level deeper, as for a part inside a part; too deep is refused. */
  public void deeper(String complaint) {
    if (++depth > MAX_DEPTH) {
      throw new PhraseException(column(), complaint + MAX_DEPTH);
    }
  }

  /** Comes back from a level. */
  public void back() {
    depth--;
  }

  /** The column of the next word, or one past the end. */
  public int column() {
    return atEnd() ? text.length() + 1 : columns.get(next);
  }

  /** A failure at the next word that says what could stand there, nearest first. */
  public PhraseException unexpected(Collection<String> expected) {
    String list = String.join(", ", expected);
    if (atEnd()) {
      return new PhraseException(column(), "the phrase ends too early; expected " + list);
    }
    String found = words.get(next);
    String hint =
        Nearest.to(found, expected.stream().map(one -> one.split(" ")[0]).toList())
            .map(near -> "; did you mean \"" + near + "\"?")
            .orElse("; expected " + list);
    return new PhraseException(column(), "cannot read \"" + found + "\" here" + hint);
  }
}
