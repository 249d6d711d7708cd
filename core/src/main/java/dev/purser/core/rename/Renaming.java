package dev.purser.core.rename;

import dev.purser.core.check.Uses;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Named;
import dev.purser.core.edit.Copying;
import dev.purser.core.edit.YamlText;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import dev.purser.core.reading.SourceFile;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * What a definition is called, changed where it is defined and wherever it is named. Names are put
 * in place at the parser's marks; every other character stays.
 */
public final class Renaming {
  /** Kinds of which nothing but definitions goes by the name, and streams. */
  private static final Set<Kind> KINDS =
      EnumSet.of(
          Kind.STREAM,
          Kind.HOLIDAY_CALENDAR,
          Kind.BUSINESS_CALENDAR,
          Kind.PERIOD,
          Kind.HOST_GROUP,
          Kind.TEMPLATE);

  private static final String IN_A_NAME = "[a-z0-9._/-]";

  private Renaming() {}

  /**
   * The texts that change, the renamed definition first.
   *
   * @param all what is in force
   * @param to a name that is fit for its kind; whether it is, reading the texts says
   * @throws NotUnderstood where there is no such definition, it cannot be renamed, or the name is
   *     taken
   */
  public static List<SourceFile> texts(Definitions all, Named what, String to) {
    Document document = refuse(all, what, to);
    List<SourceFile> texts = new ArrayList<>();
    texts.add(new SourceFile(document.file(), Copying.of(document, to)));
    Set<Named> users = new TreeSet<>();
    Uses.in(all).of(what).forEach(use -> users.add(use.by()));
    for (Named user : users) {
      Document using = all.document(user.kind(), user.name()).orElseThrow();
      if (using
          .made()
          .filter(made -> made.isRow())
          .isEmpty()) { // else its table or template says it
        texts.add(new SourceFile(using.file(), in(using, what, to)));
      }
    }
    return texts;
  }

  private static Document refuse(Definitions all, Named what, String to) {
    String title = what.kind().title();
    Document document =
        all.document(what.kind(), what.name())
            .orElseThrow(
                () ->
                    new NotUnderstood(
                        "there is no "
                            + title
                            + " "
                            + what.name()
                            + Nearest.hint(what.name(), all.names(what.kind()))));
    if (!KINDS.contains(what.kind())) {
      List<String> titles = KINDS.stream().map(Kind::title).sorted().toList();
      throw new NotUnderstood(
          "a "
              + title
              + " cannot be renamed: more than definitions go by its name; what can be is a "
              + String.join(", ", titles));
    }
    if (document.made().filter(made -> made.isRow()).isPresent()) {
      throw new NotUnderstood(
          what.name() + " is " + document.made().get().inWords() + "; rename it in its table");
    }
    if (what.kind() == Kind.HOLIDAY_CALENDAR
        && all.calendars().holidays(what.name()).filter(c -> c.source().isPresent()).isPresent()) {
      throw new NotUnderstood(
          what.name()
              + " is fetched, and would have no days under another name until it is fetched again");
    }
    for (Kind kind : Kind.values()) {
      boolean alike = kind == what.kind() || (isCalendar(kind) && isCalendar(what.kind()));
      if (alike && all.document(kind, to).isPresent()) {
        throw new NotUnderstood("there is a " + kind.title() + " " + to + " already");
      }
    }
    return document;
  }

  private static boolean isCalendar(Kind kind) {
    return kind == Kind.HOLIDAY_CALENDAR || kind == Kind.BUSINESS_CALENDAR;
  }

  /** The text of a definition that uses another one, with that one's new name. */
  public static String in(Document using, Named what, String to) {
    String text = using.text();
    TreeMap<Integer, YamlText.Splice> splices = new TreeMap<>();
    for (Document.Mention mention : using.mentions()) {
      if (means(mention.name(), what)) {
        lines(using, mention, what.name(), to, splices);
      }
    }
    if (what.kind() == Kind.TEMPLATE) { // what it has made has no mark of it
      Matcher key = Pattern.compile("from-template:[^\n]*").matcher(text);
      while (key.find()) {
        all(text, key.start(), key.end(), what.name(), to, splices);
      }
    }
    if (what.name().contains("/")) { // a path stands for nothing else, also where no mark is kept
      all(text, 0, text.length(), what.name(), to, splices);
    }
    return new YamlText(text).spliced(List.copyOf(splices.values())).text();
  }

  private static boolean means(String mentioned, Named what) {
    return mentioned.equals(what.name())
        || (what.kind() == Kind.STREAM && mentioned.startsWith(what.name() + "/"));
  }

  /** At the mark of a mention, or after it on its line: a mark is that of the whole phrase. */
  private static void lines(
      Document using,
      Document.Mention mention,
      String from,
      String to,
      Map<Integer, YamlText.Splice> splices) {
    String text = using.text();
    int start = 0;
    for (int line = using.line(); line < mention.line() && start >= 0; line++) {
      start = text.indexOf('\n', start) + 1;
    }
    int end = text.indexOf('\n', start);
    all(text, start, end < 0 ? text.length() : end, from, to, splices);
  }

  private static void all(
      String text,
      int start,
      int end,
      String from,
      String to,
      Map<Integer, YamlText.Splice> splices) {
    Matcher word =
        Pattern.compile(
                "(?<!"
                    + IN_A_NAME
                    + ")"
                    + Pattern.quote(from)
                    + "(?=/[a-z0-9]|(?!"
                    + IN_A_NAME
                    + "))")
            .matcher(text)
            .region(start, end)
            .useTransparentBounds(true);
    while (word.find()) {
      int at = text.codePointCount(0, word.start());
      splices.put(at, new YamlText.Splice(at, at + from.codePointCount(0, from.length()), to));
    }
  }
}
