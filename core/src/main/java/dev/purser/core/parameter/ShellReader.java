package dev.purser.core.parameter;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.regex.Matcher;

/**
 * Reads a command line as a shell does, as far as quotes and what nests go, so that it is known for
 * each placeholder where it stands. It may be wrong about a line that no shell would run; what it
 * gives is then still no command, for a value is never put into the line.
 */
final class ShellReader {
  /** Puts something in the place of a placeholder; may have more text read on the way. */
  interface Placeholders {
    /**
     * A placeholder was met.
     *
     * @param whole with dollar sign and braces
     */
    String instead(ShellReader reader, String whole, String inside, int at, ShellPlace place);
  }

  private enum Frame {
    COMMAND,
    SINGLE,
    DOUBLE,
    BACKTICKS,
    BRACES,
    CALCULATION,
    BRACKETS,
    DOLLAR_SINGLE,
    COMMENT
  }

  private record HereDocument(String end, boolean tabs) {}

  /** Of the words after which a command begins. */
  private static final int LONGEST_WORD = 4;

  private static final int DEEPEST = 1_000;

  private final Placeholders placeholders;
  private final StringBuilder out = new StringBuilder();
  private final Deque<Frame> open = new ArrayDeque<>(List.of(Frame.COMMAND));
  private final Deque<Integer> cases = new ArrayDeque<>(List.of(0));
  private final List<HereDocument> coming = new ArrayList<>();
  private String text = "";
  private int at;

  ShellReader(Placeholders placeholders) {
    this.placeholders = placeholders;
  }

  /** Reads a text on from where the one before ended; gives all that was made so far. */
  String read(String more) {
    String outer = text;
    int outerAt = at;
    text = more;
    Matcher placeholder = PlaceholderText.PLACEHOLDER.matcher(more);
    int plainUntil = 0;
    for (at = 0; at < text.length(); ) {
      boolean starts =
          at >= plainUntil
              && text.charAt(at) == '$'
              && placeholder.region(at, text.length()).lookingAt();
      if (starts && placeholder.group().startsWith("$$")) {
        plainUntil = placeholder.end();
        open.push(Frame.BRACES);
        take(3);
      } else if (starts) {
        int end = placeholder.end();
        String inside = placeholder.group(1).trim();
        out.append(placeholders.instead(this, placeholder.group(), inside, at, place()));
        at = end;
      } else {
        next();
      }
    }
    text = outer;
    at = outerAt;
    return out.toString();
  }

  /** The quote that is open at this place; empty for none. */
  String quote() {
    return switch (open.peek()) {
      case SINGLE -> "'";
      case DOUBLE -> "\"";
      default -> "";
    };
  }

  private ShellPlace place() {
    if (open.contains(Frame.BACKTICKS)) {
      return ShellPlace.BACKTICKS;
    }
    ShellPlace quoted = ShellPlace.BARE;
    for (Frame frame : open) {
      switch (frame) {
        case COMMAND, COMMENT -> {
          return quoted;
        }
        case CALCULATION -> {
          return ShellPlace.ARITHMETIC;
        }
        case BRACKETS -> {
          return ShellPlace.DOUBLE_BRACKETS;
        }
        case DOLLAR_SINGLE -> {
          return ShellPlace.DOLLAR_QUOTES;
        }
        case SINGLE -> quoted = ShellPlace.SINGLE;
        case DOUBLE -> quoted = quoted == ShellPlace.BARE ? ShellPlace.DOUBLE : quoted;
        default -> {}
      }
    }
    return quoted;
  }

  private boolean ahead(String what) {
    return text.startsWith(what, at);
  }

  private void take(int count) {
    int end = Math.min(text.length(), at + count);
    out.append(text, at, end);
    at = end;
  }

  private void open(Frame frame, int count) {
    if (open.size() > DEEPEST) {
      take(count); // no shell goes so deep
      return;
    }
    open.push(frame);
    if (frame == Frame.COMMAND) {
      cases.push(0);
    }
    take(count);
  }

  private void close(int count) {
    if (open.peek() == Frame.COMMAND) {
      cases.pop();
    }
    open.pop();
    take(count);
  }

  private void next() {
    char c = text.charAt(at);
    switch (open.peek()) {
      case SINGLE -> closeAt(c, '\'');
      case DOLLAR_SINGLE -> escapedUntil(c, '\'');
      case COMMENT -> {
        if (c == '\n') {
          open.pop();
        } else {
          take(1);
        }
      }
      case DOUBLE -> inDoubleQuotes(c);
      default -> inCommand(c);
    }
  }

  private void closeAt(char c, char end) {
    if (c == end) {
      close(1);
    } else {
      take(1);
    }
  }

  private void escapedUntil(char c, char end) {
    if (c == '\\') {
      take(2);
    } else {
      closeAt(c, end);
    }
  }

  private void inDoubleQuotes(char c) {
    if (!expansion(c)) {
      escapedUntil(c, '"');
    }
  }

  /** What a dollar sign or a backtick opens, in double quotes as outside them. */
  private boolean expansion(char c) {
    if (c == '`') {
      if (open.peek() == Frame.BACKTICKS) {
        close(1);
      } else {
        open(Frame.BACKTICKS, 1);
      }
    } else if (ahead("$((")) {
      open.push(Frame.CALCULATION);
      open(Frame.CALCULATION, 3);
    } else if (ahead("$(")) {
      open(Frame.COMMAND, 2);
    } else if (ahead("${")) {
      open(Frame.BRACES, 2);
    } else {
      return false;
    }
    return true;
  }

  private void inCommand(char c) {
    boolean command = open.peek() == Frame.COMMAND;
    if (c == '\\') {
      take(2);
    } else if (ahead("$'")) {
      open(Frame.DOLLAR_SINGLE, 2);
    } else if (expansion(c)) {
      return;
    } else if (c == '"') {
      open(Frame.DOUBLE, 1);
    } else if (c == '\'' && !isInDoubleQuotes()) {
      open(Frame.SINGLE, 1);
    } else if (c == '}' && open.peek() == Frame.BRACES) {
      close(1);
    } else if (ahead("]]") && open.peek() == Frame.BRACKETS) {
      close(2);
    } else if (open.peek() == Frame.CALCULATION && (c == '(' || c == ')')) {
      parenthesis(c, Frame.CALCULATION);
    } else if (command) {
      ofCommand(c);
    } else {
      take(1);
    }
  }

  /** A quote in braces in double quotes is a character like others. */
  private boolean isInDoubleQuotes() {
    for (Frame frame : open) {
      if (frame != Frame.BRACES) {
        return frame == Frame.DOUBLE;
      }
    }
    return false;
  }

  private void parenthesis(char c, Frame frame) {
    if (c == '(') {
      open(frame, 1);
    } else {
      close(1);
    }
  }

  private void ofCommand(char c) {
    if (c == '\n' && !coming.isEmpty()) {
      take(1);
      hereDocuments();
    } else if (c == '#' && isWordStart()) {
      open(Frame.COMMENT, 1);
    } else if (ahead("<<<")) {
      take(3);
    } else if (ahead("<<")) {
      hereDocument();
    } else if (ahead("((")) {
      open.push(Frame.CALCULATION);
      open(Frame.CALCULATION, 2);
    } else if (ahead("[[") && isWordStart()) {
      open(Frame.BRACKETS, 2);
    } else if (c == '(') {
      open(Frame.COMMAND, 1);
    } else if (c == ')' && open.size() > 1 && cases.peek() == 0) {
      close(1);
    } else {
      caseWords();
      take(1);
    }
  }

  /** Between {@code case} and {@code esac} a parenthesis ends a pattern, not the command. */
  private void caseWords() {
    if (ahead("case") && isCommandStart()) {
      cases.push(cases.pop() + 1);
    } else if (ahead("esac") && isWordStart() && cases.peek() > 0) {
      cases.push(cases.pop() - 1);
    }
  }

  private boolean isWordStart() {
    return out.length() == 0 || " \t\n;&|()`".indexOf(out.charAt(out.length() - 1)) >= 0;
  }

  private boolean isCommandStart() {
    int end = out.length();
    while (end > 0 && Character.isWhitespace(out.charAt(end - 1))) {
      if (out.charAt(--end) == '\n') {
        return true;
      }
    }
    String before = out.substring(Math.max(0, end - LONGEST_WORD), end);
    return isWordStart()
        && (before.isEmpty()
            || ";&|(`".indexOf(before.charAt(before.length() - 1)) >= 0
            || before.endsWith("do")
            || before.endsWith("then")
            || before.endsWith("else"));
  }

  private void hereDocument() {
    take(2);
    boolean tabs = ahead("-");
    take(tabs ? 1 : 0);
    while (ahead(" ") || ahead("\t")) {
      take(1);
    }
    StringBuilder end = new StringBuilder();
    while (at < text.length() && " \t\n;&|()<>".indexOf(text.charAt(at)) < 0) {
      char c = text.charAt(at);
      if (c != '\'' && c != '"' && c != '\\') {
        end.append(c);
      }
      take(1);
    }
    coming.add(new HereDocument(end.toString(), tabs));
  }

  private void hereDocuments() {
    for (HereDocument one : coming) {
      boolean ended = false;
      while (!ended && at < text.length()) {
        int newline = text.indexOf('\n', at);
        int lineEnd = newline < 0 ? text.length() : newline;
        String line = text.substring(at, lineEnd);
        ended = (one.tabs() ? line.replaceFirst("^\t+", "") : line).equals(one.end());
        ofHereDocument(line);
        at = lineEnd;
        take(1);
      }
    }
    coming.clear();
  }

  private void ofHereDocument(String line) {
    Matcher placeholder = PlaceholderText.PLACEHOLDER.matcher(line);
    int done = 0;
    while (placeholder.find()) {
      out.append(line, done, placeholder.start());
      done = placeholder.end();
      String whole = placeholder.group();
      out.append(
          whole.startsWith("$$")
              ? whole
              : placeholders.instead(
                  this,
                  whole,
                  placeholder.group(1).trim(),
                  at + placeholder.start(),
                  ShellPlace.HERE_DOCUMENT));
    }
    out.append(line, done, line.length());
  }
}
