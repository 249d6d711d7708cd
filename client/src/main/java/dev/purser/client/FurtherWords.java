package dev.purser.client;

import java.lang.reflect.Method;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import picocli.CommandLine;

/**
 * What a command does by a further word: a method each. Only those are made that a line of words
 * may mean, or all of them for help: to read what is said of each takes longer than most commands.
 */
final class FurtherWords {
  private static final Map<String, String> KEPT =
      Map.of("make", "new", "attempt", "try", "giveBack", "return");

  private FurtherWords() {}

  /** A command with what these words may mean. */
  static CommandLine of(Object command, List<String> words) {
    CommandLine line = new CommandLine(command);
    add(line, command.getClass(), words);
    return line;
  }

  private static void add(CommandLine line, Class<?> type, List<String> words) {
    boolean any = false;
    if (!words.contains("-h") && !words.contains("--help")) {
      for (Method method : type.getDeclaredMethods()) {
        String name = word(method);
        if (words.contains(name) && method.isAnnotationPresent(CommandLine.Command.class)) {
          method.setAccessible(true); // the library calls it
          line.addSubcommand(name, new CommandLine(method));
          any = true;
        }
      }
    }
    if (!any && isOther(words)) {
      for (Method method : CommandLine.getCommandMethods(type, null)) {
        line.addSubcommand(word(method), new CommandLine(method));
      }
    }
  }

  /** Whether a word may be meant for one that is not there, or help is asked for. */
  private static boolean isOther(List<String> words) {
    return words.contains("-h")
        || words.contains("--help")
        || (!words.isEmpty() && !words.get(0).startsWith("-"));
  }

  /** The word for a method, whose name is the same but for words that Java keeps for itself. */
  private static String word(Method method) {
    return KEPT.getOrDefault(
        method.getName(), method.getName().replaceAll("([A-Z])", "-$1").toLowerCase(Locale.ROOT));
  }
}
