package dev.purser.core.parameter;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;

/**
 * A command line into which values go that others may have made up: parameters, names of files,
 * what other jobs handed back. They are never put into the text, where a shell would read them: the
 * text names an environment variable, in quotes that fit where it stands. So a file called {@code
 * $(rm -r ~)} stays a file. Only what an author declared to be shell text is put in as it is.
 */
public final class ShellLine {
  /** What we ourselves fill in, in letters that no shell reads. */
  private static final Set<String> OURS = Set.of("run", "stream", "job", "attempt");

  private static final String OF_WINDOW = "window.";

  private final Parameters parameters;
  private final Predicate<String> isValue;
  private final Map<String, String> words = new LinkedHashMap<>();
  private final Deque<String> open = new ArrayDeque<>();

  /**
   * For the lines of one attempt, which share their variables.
   *
   * @param isValue whether a text in braces stands for a value, given by its name
   */
  public ShellLine(Parameters parameters, Predicate<String> isValue) {
    this.parameters = parameters;
    this.isValue = isValue;
  }

  /** The environment variable that holds the value of a name, for scripts that look there. */
  public static String variable(String name) {
    return "PURSER_" + name.toUpperCase(Locale.ROOT).replaceAll("[^A-Z0-9]", "_");
  }

  /**
   * A placeholder of a line and where it stands.
   *
   * @param inside the text between the braces
   * @param at its first character in the line, from 0
   */
  public record Found(String inside, int at, ShellPlace place) {}

  /** The placeholders of a line that may stand for a value: all but dates. */
  public static List<Found> values(String line) {
    List<Found> found = new ArrayList<>();
    new ShellReader(
            (reader, whole, inside, at, place) -> {
              if (mayBeValue(inside)) {
                found.add(new Found(inside, at, place));
              }
              return whole;
            })
        .read(line);
    return found;
  }

  private static boolean mayBeValue(String inside) {
    try {
      PlaceholderText.Asked asked = PlaceholderText.asked("${" + inside + "}");
      return !asked.handedBack().isEmpty()
          || !OURS.containsAll(asked.parameters().stream().map(ShellLine::plain).toList());
    } catch (PlaceholderText.PlaceholderException e) {
      return false; // said elsewhere: it can never be filled in
    }
  }

  /** The bounds of a window, in whatever form, are ours too. */
  private static String plain(String name) {
    return name.startsWith(OF_WINDOW) ? "run" : name;
  }

  /**
   * The line with each value replaced by its variable, quoted as the place in the line asks for, so
   * that the shell takes it as one word; dates stay for {@link PlaceholderText}.
   *
   * @throws PlaceholderText.PlaceholderException where a value stands where none can
   */
  public String guard(String line) {
    return new ShellReader(this::instead).read(line);
  }

  /** The variables of all lines that were guarded: what each stands for, as a text to fill in. */
  public Map<String, String> words() {
    Map<String, String> all = new LinkedHashMap<>();
    words.forEach((inside, variable) -> all.put(variable, "${" + inside + "}"));
    return all;
  }

  private String instead(
      ShellReader reader, String whole, String inside, int at, ShellPlace place) {
    Optional<Parameters.Effective> given = parameters.of(inside);
    boolean ours = OURS.contains(inside) || (given.isEmpty() && inside.startsWith(OF_WINDOW));
    if (ours || !(given.isPresent() || isValue.test(inside) || mayBeValue(inside))) {
      return whole;
    }
    if (given.isPresent() && given.get().shell()) {
      readOn(reader, inside, given.get().value());
      return "";
    }
    place
        .refusal(inside)
        .ifPresent(
            refusal -> {
              throw new PlaceholderText.PlaceholderException(refusal);
            });
    String variable = words.computeIfAbsent(inside, any -> "PURSER_WORD_" + (words.size() + 1));
    return reader.quote() + "\"$" + variable + "\"" + reader.quote();
  }

  /** Shell text is a piece of the line: values in it are guarded like all others. */
  private void readOn(ShellReader reader, String name, String value) {
    if (open.contains(name)) {
      throw PlaceholderText.circle(open, name);
    }
    open.addLast(name);
    reader.read(value);
    open.removeLast();
  }
}
