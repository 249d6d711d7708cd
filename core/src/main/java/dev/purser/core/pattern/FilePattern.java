package dev.purser.core.pattern;

import dev.purser.core.phrase.PhraseException;
import java.util.regex.Pattern;

/**
 * A pattern for the name of a file: {@code *} stands for any characters, {@code ?} for one, {@code
 * [a-c]} for one of these, {@code [!a-c]} for one that is none of these, {@code {csv,txt}} for one
 * of the texts; a backslash takes the next character as it is. A name that begins with a dot, as
 * many programs give to files that they are still writing, is meant only where the pattern begins
 * with a dot too. Immutable.
 */
public final class FilePattern {
  private final String text;
  private final Pattern regex;

  private FilePattern(String text, Pattern regex) {
    this.text = text;
    this.regex = regex;
  }

  /**
   * Reads a pattern.
   *
   * @param text without slashes, not empty
   * @throws PhraseException where it cannot be read, with the column from 1
   */
  public static FilePattern of(String text, boolean caseSensitive) {
    if (text.isEmpty()) {
      throw new PhraseException(1, "expected a name or a pattern such as *.csv");
    }
    int flags = Pattern.DOTALL; // a name may hold a line's end
    if (!caseSensitive) {
      flags |= Pattern.CASE_INSENSITIVE | Pattern.UNICODE_CASE;
    }
    return new FilePattern(text, Pattern.compile(new Reader(text).read(), flags));
  }

  /** Whether a name is meant. */
  public boolean matches(String name) {
    return (!name.startsWith(".") || text.startsWith(".")) && regex.matcher(name).matches();
  }

  @Override
  public String toString() {
    return text;
  }

  /** One pass from left to right; braces do not nest. */
  private static final class Reader {
    private final String text;
    private final StringBuilder out = new StringBuilder();
    private int at;
    private int brace = -1;

    Reader(String text) {
      this.text = text;
    }

    String read() {
      while (at < text.length()) {
        take(text.charAt(at));
        at++;
      }
      if (brace >= 0) {
        throw new PhraseException(brace + 1, "\"{\" is never closed; expected {a,b}");
      }
      return out.toString();
    }

    private void take(char c) {
      switch (c) {
        case '*' -> out.append(".*");
        case '?' -> out.append('.');
        case '[' -> range();
        case '{' -> {
          if (brace >= 0) {
            throw new PhraseException(at + 1, "\"{\" stands within another one");
          }
          brace = at;
          out.append("(?:");
        }
        case '}' -> close();
        case ',' -> out.append(brace >= 0 ? "|" : ",");
        case '\\' -> {
          if (at + 1 == text.length()) {
            throw new PhraseException(at + 1, "a backslash needs a character after it");
          }
          literal(text.charAt(++at));
        }
        case '/' -> throw new PhraseException(at + 1, "a pattern for a name holds no slash");
        default -> literal(c);
      }
    }

    private void close() {
      if (brace < 0) {
        literal('}');
      } else {
        brace = -1;
        out.append(')');
      }
    }

    private void range() {
      int end = text.indexOf(']', at + 2);
      if (end < 0) {
        throw new PhraseException(at + 1, "\"[\" is never closed; expected [a-z] or [!0-9]");
      }
      String inner = text.substring(at + 1, end);
      boolean not = inner.startsWith("!");
      String some = not ? inner.substring(1) : inner;
      out.append(not ? "[^" : "[");
      for (int i = 0; i < some.length(); i++) {
        boolean between = i + 2 < some.length() && some.charAt(i + 1) == '-';
        if (between && some.charAt(i) > some.charAt(i + 2)) {
          throw new PhraseException(
              at + 1, "\"" + some.substring(i, i + 3) + "\" ends before it begins");
        }
        quoted(some.charAt(i));
        if (between) {
          out.append('-');
          quoted(some.charAt(i + 2));
          i += 2;
        }
      }
      out.append(']');
      at = end;
    }

    private void literal(char c) {
      quoted(c);
    }

    private void quoted(char c) {
      if ("\\[]{}()^$.|?*+-&#~ ".indexOf(c) >= 0) {
        out.append('\\');
      }
      out.append(c);
    }
  }
}
