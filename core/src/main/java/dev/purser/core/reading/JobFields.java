package dev.purser.core.reading;

import dev.purser.core.definition.Document;
import dev.purser.core.job.Placement;
import dev.purser.core.parameter.ShellLine;
import java.util.ArrayList;
import java.util.List;
import java.util.function.UnaryOperator;

/** The values of one job, as its kind of work reads them; what is wrong goes to the file's page. */
public final class JobFields {
  private final Page page;
  private final Mentions mentions;
  private final Fields fields;
  private final String stream;
  private final String path;
  private Placement placement = new Placement.Nowhere();

  JobFields(Page page, Mentions mentions, Fields fields, String stream, String name) {
    this.page = page;
    this.mentions = mentions;
    this.fields = fields;
    this.stream = stream;
    this.path = stream + "/" + name;
  }

  void place(Placement where) {
    placement = where;
  }

  /** All its values. */
  public Fields fields() {
    return fields;
  }

  /** Where it is placed; known before its work is read. */
  public Placement placement() {
    return placement;
  }

  /** The values of a mapping that is one of its values. */
  public Fields below(String key, Keys keys, String what) {
    return new Fields(page, fields.at(key), keys, what);
  }

  /** Says what is wrong with the value of a key, at its place. */
  public void error(String key, String message) {
    page.error(fields.at(key), message);
  }

  /** The same for a value of a mapping below. */
  public void error(Fields below, String key, String message) {
    page.error(below.at(key), message);
  }

  /** A text with placeholders: what they ask for is noted and looked up; empty where missing. */
  public String template(String key) {
    String text = fields.text(key, "");
    Placeholders.note(page, mentions, fields.at(key), text, stream, path);
    return text;
  }

  /**
   * The same for a text that holds more in braces than placeholders.
   *
   * @param without what is put in the place of that before placeholders are looked for
   */
  public String template(String key, UnaryOperator<String> without) {
    String text = fields.text(key, "");
    Placeholders.note(page, mentions, fields.at(key), without.apply(text), stream, path);
    return text;
  }

  /** A list of such texts; empty where missing. */
  public List<String> templates(String key) {
    List<String> texts = new ArrayList<>();
    for (Fields.Item item : fields.items(key)) {
      Placeholders.note(page, mentions, item.node(), item.text(), stream, path);
      texts.add(item.text());
    }
    return texts;
  }

  /**
   * A command line with placeholders. Values cannot stand everywhere in it: where they cannot, that
   * is said with what can be written instead.
   */
  public String shellLine(String key) {
    String line = template(key);
    for (ShellLine.Found found : ShellLine.values(line)) {
      found
          .place()
          .refusal(found.inside())
          .ifPresent(refusal -> page.errorInPhrase(fields.at(key), found.at() + 1, refusal));
    }
    return line;
  }

  /**
   * Notes that the value of a key names something; that it is defined is checked later.
   *
   * @param name as it is written in the value
   */
  public void mention(String key, Document.What what, String name) {
    mentions.add(fields, key, what, name, "", path);
  }

  /**
   * Notes that an item of a list names a job whose run is asked for something.
   *
   * @param name of a job of the same stream, or a full path
   */
  public void mentionJob(Fields.Item item, String name) {
    int column = Math.max(item.text().indexOf(name), 0) + 1;
    mentions.add(item.node(), column, Document.What.VALUE_OF, name, stream, path);
  }

  /** Notes that a parameter must have a value, whoever gives it. */
  void needsParameter(String key, String name) {
    mentions.add(fields, key, Document.What.PARAMETER, name, path, path);
  }
}
