package dev.purser.core.reading;

import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Document;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Made;
import dev.purser.core.edit.YamlText;
import dev.purser.core.problem.Nearest;
import dev.purser.core.problem.NotUnderstood;
import java.util.List;

/** Takes back what a stream has other than its template. */
public final class Deviations {
  private Deviations() {}

  /**
   * The definition, as a file, that must be published so that a stream is as its template says: its
   * own, or that of the table whose row made it.
   *
   * @param keys paths as in {@link Made#deviations()}; all where none is given
   * @throws NotUnderstood where the stream comes from no template, or has no such deviation
   */
  public static SourceFile takenBack(Definitions all, String stream, List<String> keys) {
    Document document =
        all.document(Kind.STREAM, stream)
            .orElseThrow(
                () ->
                    new NotUnderstood(
                        "there is no stream "
                            + stream
                            + Nearest.hint(stream, all.names(Kind.STREAM))));
    Made made =
        document
            .made()
            .orElseThrow(() -> new NotUnderstood(stream + " does not come from a template"));
    if (made.deviations().isEmpty()) {
      throw new NotUnderstood(stream + " is as its template says; there is nothing to take back");
    }
    for (String key : keys) {
      if (!made.deviations().contains(key)) {
        throw new NotUnderstood(
            "\""
                + key
                + "\" is not a deviation of "
                + stream
                + Nearest.hint(key, made.deviations()));
      }
    }
    Document source =
        made.isRow() ? all.document(Kind.FOR_EACH, made.by()).orElseThrow() : document;
    YamlText text = new YamlText(source.text());
    for (String key : keys.isEmpty() ? made.deviations() : keys) {
      String path = made.isRow() ? "deviations." + stream + "." + key : key;
      text = text.pathOf(path).map(text::without).orElse(text);
    }
    return new SourceFile(source.file(), text.text());
  }
}
