package dev.purser.core.sql;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Reads a text into statements, which semicolons part. A placeholder is one value, which is bound:
 * within quotes or a comment it could not be, and is refused. One pass, in the length of the text.
 */
public final class SqlText {
  private static final Pattern PLACEHOLDER = Pattern.compile("\\$\\{([^}\\n]{0,200})}");
  private static final Pattern DOLLAR_QUOTE = Pattern.compile("\\$([A-Za-z_][A-Za-z0-9_]*)?\\$");

  private final String text;
  private final Dialect dialect;
  private final List<Statement> found = new ArrayList<>();
  private StringBuilder current = new StringBuilder();
  private List<String> values = new ArrayList<>();
  private boolean isEmpty = true;
  private int begins = 1;
  private int line = 1;
  private int at;

  private SqlText(String text, Dialect dialect) {
    this.text = text;
    this.dialect = dialect;
  }

  /** A text that cannot be read. */
  public static final class Mistake extends RuntimeException {
    private static final long serialVersionUID = 1L;
    private final int line;

    Mistake(int line, String message) {
      super(message);
      this.line = line;
    }

    /** The line of the text, from 1. */
    public int line() {
      return line;
    }
  }

  /**
   * The statements of a text, in order.
   *
   * @throws Mistake where a placeholder stands where no value can, or a quote does not end
   */
  public static List<Statement> read(String text, Dialect dialect) {
    SqlText reader = new SqlText(text, dialect);
    reader.read();
    return reader.found;
  }

  private void read() {
    while (at < text.length()) {
      char c = text.charAt(at);
      if (c == '\'' || c == '"' || (c == '`' && dialect == Dialect.MARIADB)) {
        quoted(c);
      } else if (isLineComment()) {
        lineComment();
      } else if (text.startsWith("/*", at)) {
        blockComment();
      } else if (c == '$') {
        dollar();
      } else if (c == '?') {
        throw new Mistake(
            line, "a question mark stands for a value; write ${NAME}, or the operator's name");
      } else if (c == ';') {
        end();
        at++;
      } else {
        take(1);
      }
    }
    end();
  }

  private boolean isLineComment() {
    if (text.charAt(at) == '#') {
      return dialect == Dialect.MARIADB;
    }
    if (!text.startsWith("--", at)) {
      return false;
    }
    // MariaDB takes -- for a comment only before a blank: 5--3 is 8 there.
    return dialect != Dialect.MARIADB
        || at + 2 >= text.length()
        || Character.isWhitespace(text.charAt(at + 2));
  }

  private void quoted(char quote) {
    int from = line;
    boolean escapes =
        quote != '`'
            && (dialect == Dialect.MARIADB || (dialect == Dialect.POSTGRESQL && isEscaped()));
    int start = at;
    take(1);
    while (at < text.length()) {
      char c = text.charAt(at);
      if (escapes && c == '\\') {
        take(2);
      } else if (c == quote && at + 1 < text.length() && text.charAt(at + 1) == quote) {
        take(2);
      } else if (c == quote) {
        take(1);
        refuseIn(text.substring(start, at), from, "quotes: write it without the quotes");
        return;
      } else {
        take(1);
      }
    }
    throw new Mistake(from, "the quote " + quote + " does not end");
  }

  /** E'...' */
  private boolean isEscaped() {
    boolean letter = at > 0 && (text.charAt(at - 1) == 'E' || text.charAt(at - 1) == 'e');
    return letter && (at < 2 || !Character.isLetterOrDigit(text.charAt(at - 2)));
  }

  private void lineComment() {
    int from = at;
    int end = text.indexOf('\n', at);
    int to = end < 0 ? text.length() : end;
    refuseIn(text.substring(from, to), line, "a comment");
    boolean before = isEmpty;
    take(to - at);
    isEmpty = before;
  }

  private void blockComment() {
    int from = line;
    int start = at;
    boolean before = isEmpty;
    // MariaDB carries out what stands in /*! ... */.
    boolean isCode =
        dialect == Dialect.MARIADB && (text.startsWith("/*!", at) || text.startsWith("/*M!", at));
    int depth = 0;
    do {
      if (text.startsWith("/*", at) && (depth == 0 || dialect == Dialect.POSTGRESQL)) {
        depth++;
        take(2);
      } else if (text.startsWith("*/", at)) {
        depth--;
        take(2);
      } else if (at >= text.length()) {
        throw new Mistake(from, "the comment does not end");
      } else {
        take(1);
      }
    } while (depth > 0);
    refuseIn(text.substring(start, at), from, "a comment");
    isEmpty = before && !isCode;
  }

  private void dollar() {
    if (text.startsWith("$${", at)) {
      throw new Mistake(line, "\"$${\" has no meaning in a statement");
    }
    Matcher placeholder = PLACEHOLDER.matcher(text).region(at, text.length());
    if (placeholder.lookingAt()) {
      String inside = placeholder.group(1).strip();
      Optional<String> out = Statement.out(inside);
      if (out.filter(name -> !name.matches("[a-z][a-z0-9._-]{0,99}")).isPresent()) {
        throw new Mistake(
            line, placeholder.group() + " is not a value that is given out, such as ${out total}");
      }
      values.add(inside);
      current.append('?');
      isEmpty = false;
      at = placeholder.end();
      return;
    }
    Matcher quote = DOLLAR_QUOTE.matcher(text).region(at, text.length());
    if (dialect == Dialect.POSTGRESQL && quote.lookingAt()) {
      int end = text.indexOf(quote.group(), quote.end());
      if (end < 0) {
        throw new Mistake(line, "the quote " + quote.group() + " does not end");
      }
      String inside = text.substring(at, end + quote.group().length());
      refuseIn(inside, line, "quotes: give the value as an argument instead");
      take(inside.length());
      return;
    }
    take(1);
  }

  private static void refuseIn(String part, int from, String where) {
    Matcher inside = PLACEHOLDER.matcher(part);
    if (inside.find()) {
      int lines = (int) part.substring(0, inside.start()).chars().filter(c -> c == '\n').count();
      throw new Mistake(from + lines, inside.group() + " cannot be bound within " + where);
    }
  }

  /** Takes characters over as they are. */
  private void take(int count) {
    for (int i = 0; i < count && at < text.length(); i++, at++) {
      char c = text.charAt(at);
      if (c == '\n') {
        line++;
      } else if (isEmpty && !Character.isWhitespace(c)) {
        isEmpty = false;
        begins = line;
      }
      current.append(c);
    }
  }

  private void end() {
    if (!isEmpty) {
      found.add(new Statement(current.toString().strip(), values, begins));
    }
    current = new StringBuilder();
    values = new ArrayList<>();
    isEmpty = true;
    begins = line;
  }
}
