package dev.purser.core.parameter;

import java.util.Locale;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A command line into which values go that others have made up, such as names of files. They are
 * never put into the text, where a shell would read them: the text names an environment variable,
 * in quotes that fit where it stands. So a file called {@code $(rm -r ~)} stays a file. How quotes
 * work is told in POSIX.1-2017, Shell Command Language, section 2.2.
 */
public final class ShellLine {
  private static final Pattern PLACEHOLDER = Pattern.compile("\\$\\{\\s*([^}]*?)\\s*}");

  private ShellLine() {}

  /** The environment variable that holds the value of a name. */
  public static String variable(String name) {
    return "PURSER_" + name.toUpperCase(Locale.ROOT).replaceAll("[^A-Z0-9]", "_");
  }

  /**
   * The line with each placeholder of some names replaced by its variable, quoted as the place in
   * the line asks for, so that no value of them is read by the shell as anything but one word.
   *
   * @param names of the placeholders whose values come from outside
   */
  public static String guard(String line, Set<String> names) {
    StringBuilder out = new StringBuilder();
    Matcher matcher = PLACEHOLDER.matcher(line);
    char quote = 0;
    for (int i = 0; i < line.length(); i++) {
      char c = line.charAt(i);
      boolean doubled = i > 0 && line.charAt(i - 1) == '$';
      if (c == '$' && !doubled && matcher.find(i) && matcher.start() == i) {
        if (names.contains(matcher.group(1))) {
          out.append(quoted(quote, variable(matcher.group(1))));
        } else {
          out.append(matcher.group());
        }
        i = matcher.end() - 1;
      } else if (c == '\\' && quote != '\'' && i + 1 < line.length()) {
        out.append(c).append(line.charAt(++i));
      } else {
        out.append(c);
        quote = next(quote, c);
      }
    }
    return out.toString();
  }

  private static char next(char quote, char c) {
    if (quote == 0) {
      return c == '"' || c == '\'' ? c : 0;
    }
    return c == quote ? 0 : quote;
  }

  /** Leaves the quotes that are open, stands in quotes of its own, and opens them again. */
  private static String quoted(char open, String variable) {
    String outside = open == 0 ? "" : String.valueOf(open);
    return outside + "\"$" + variable + "\"" + outside;
  }
}
