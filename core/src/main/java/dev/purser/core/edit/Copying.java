package dev.purser.core.edit;

import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Copies of definitions under another name. */
public final class Copying {
  /** What may stand in a name: a path is only renamed where it stands alone. */
  private static final String IN_A_NAME = "[a-z0-9._/-]";

  private Copying() {}

  /**
   * The text of a definition under another name. What names itself inside, such as {@code
   * old/path/job}, names the copy; comments and all else stay. A stream that a template made is
   * copied as it was filled when a row made it, else with its template.
   *
   * @param name a name that is fit for its kind
   */
  public static String of(Document document, String name) {
    boolean row = document.made().filter(made -> made.isRow()).isPresent();
    YamlText text = new YamlText(row ? document.whole() : document.text());
    YamlText named = text.with(List.of(document.kind().word()), name);
    return document.kind() == Kind.STREAM
        ? ownReferences(named, document.name(), name).text()
        : named.text();
  }

  /** The text of a stream under another name, also where it names itself. */
  public static String ofStream(YamlText text, String from, String to) {
    return ownReferences(text.with(List.of(Kind.STREAM.word()), to), from, to).text();
  }

  /** Full paths of its own jobs, in prerequisites and placeholders. */
  private static YamlText ownReferences(YamlText text, String from, String to) {
    Matcher own =
        Pattern.compile("(?<!" + IN_A_NAME + ")" + Pattern.quote(from) + "(?=/[a-z0-9])")
            .matcher(text.text());
    List<YamlText.Splice> splices = new ArrayList<>();
    while (own.find()) {
      int at = text.text().codePointCount(0, own.start());
      splices.add(new YamlText.Splice(at, at + from.codePointCount(0, from.length()), to));
    }
    return text.spliced(splices);
  }

  /**
   * The text of a stream with a copy of one of its jobs, right after it.
   *
   * @return the same text where it has no such job
   */
  public static String ofJob(Document stream, String job, String name) {
    return new YamlText(stream.text()).copied(List.of("jobs", job), name).text();
  }
}
