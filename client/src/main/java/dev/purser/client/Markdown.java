package dev.purser.client;

import java.util.regex.Pattern;

/** Lines for a page of Markdown, as under a change that is to be reviewed. */
final class Markdown {
  private static final Pattern MEANS_SOMETHING = Pattern.compile("[\\\\`*_{}\\[\\]<>|~#]");

  private Markdown() {}

  /** A text in which no character means anything to Markdown. */
  static String escaped(String text) {
    return MEANS_SOMETHING.matcher(text).replaceAll("\\\\$0");
  }

  /** A line for people: one that is indented becomes an item of a list, each other a line. */
  static String line(String text) {
    String plain = text.stripLeading();
    if (plain.isEmpty()) {
      return "";
    }
    int indent = text.length() - plain.length();
    return indent > 0
        ? "  ".repeat((indent - 1) / 4) + "- " + escaped(plain.stripTrailing())
        : escaped(plain.stripTrailing()) + "  ";
  }
}
