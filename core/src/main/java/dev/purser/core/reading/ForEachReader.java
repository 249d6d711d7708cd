package dev.purser.core.reading;

import dev.purser.core.definition.Document;
import dev.purser.core.template.CsvTable;
import dev.purser.core.template.ForEach;
import dev.purser.core.template.Table;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.snakeyaml.engine.v2.common.ScalarStyle;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.ScalarNode;
import org.snakeyaml.engine.v2.nodes.SequenceNode;

/** Reads what makes a stream of each row of a table. */
final class ForEachReader {
  static final Keys KEYS =
      new Keys()
          .must("for-each", Keys.Form.NAME, "Its name.")
          .may("title", Keys.Form.TEXT, "For people.")
          .must(TemplateReader.FROM, Keys.Form.NAME, "The template that is filled with each row.")
          .may(TemplateReader.WITH, Keys.Form.TEXTS, "Values for all rows; a column wins.")
          .may(
              "table",
              Keys.Form.TREE,
              "The rows: CSV whose first line names parameters, or a list of mappings.")
          .may("table-file", Keys.Form.TEXT, "Instead of table: a CSV file beside this one.")
          .may(
              "deviations",
              Keys.Form.TREE,
              "By the path of a stream that is made: keys that are other than in the template.");

  private final Page page;
  private final Mentions mentions;
  private final TableFiles files;

  ForEachReader(Page page, Mentions mentions, TableFiles files) {
    this.page = page;
    this.mentions = mentions;
    this.files = files;
  }

  ForEach read(String name, Fields fields) {
    String template = fields.name(TemplateReader.FROM);
    mentions.add(
        fields, TemplateReader.FROM, Document.What.TEMPLATE, template, "", "for-each " + name);
    if (fields.has("table") == fields.has("table-file")) {
      page.error(fields.at("for-each"), "it needs either \"table\" or \"table-file\"");
    }
    Map<String, Node> deviations = new LinkedHashMap<>();
    for (Fields.Entry entry : fields.entries("deviations")) {
      if (entry.value() instanceof MappingNode) {
        deviations.put(entry.name(), entry.value());
      } else {
        page.error(entry.value(), "expected the keys that are other than in the template");
      }
    }
    return new ForEach(
        name,
        fields.text("title", name),
        template,
        fields.texts(TemplateReader.WITH),
        table(fields),
        deviations);
  }

  private Table table(Fields fields) {
    Table none = new Table(List.of(), List.of(), page.file(), 1);
    if (fields.has("table-file")) {
      Node at = fields.at("table-file");
      Optional<SourceFile> file = files.find(page.file(), fields.text("table-file", ""));
      if (file.isEmpty()) {
        page.error(
            at,
            "the file \""
                + fields.text("table-file", "")
                + "\" is not here; it stands beside this one or below, and the command line sends"
                + " it along (purser check, purser publish); or write its lines under \"table\"");
        return none;
      }
      return CsvTable.read(file.get().text(), file.get().name(), 0, page.problems());
    }
    if (!fields.has("table")) {
      return none;
    }
    if (fields.at("table") instanceof ScalarNode csv) {
      boolean block =
          csv.getScalarStyle() == ScalarStyle.LITERAL || csv.getScalarStyle() == ScalarStyle.FOLDED;
      int before = Page.line(csv) - (block ? 0 : 1);
      return CsvTable.read(csv.getValue(), page.file(), before, page.problems());
    }
    if (fields.at("table") instanceof SequenceNode list) {
      return table(list);
    }
    page.error(
        fields.at("table"),
        "expected CSV (table: | and the lines below it) or a list of mappings, as in"
            + " - { ship: skua, at: \"05:10\" }");
    return none;
  }

  private Table table(SequenceNode list) {
    List<Table.Row> rows = new ArrayList<>();
    Set<String> columns = new LinkedHashSet<>();
    for (Node item : list.getValue()) {
      Map<String, String> values = new LinkedHashMap<>();
      if (!(item instanceof MappingNode mapping)) {
        page.error(item, "expected a mapping of parameters to values for a row");
        continue;
      }
      for (NodeTuple tuple : mapping.getValue()) {
        String key = Fields.scalar(tuple.getKeyNode()).orElse("");
        Optional<String> value = Fields.scalar(tuple.getValueNode());
        if (value.isEmpty()) {
          page.error(tuple.getValueNode(), "expected plain text for \"" + key + "\"");
        }
        if (values.put(key, value.orElse("")) != null) {
          page.error(tuple.getKeyNode(), "\"" + key + "\" is given twice in a row");
        }
        columns.add(key);
      }
      rows.add(
          new Table.Row(rows.size() + 1, values, page.file(), Page.line(item), Page.column(item)));
    }
    if (rows.size() > CsvTable.MOST_ROWS) {
      page.error(list, "a table has at most " + CsvTable.MOST_ROWS + " rows; split it");
      rows.clear();
    }
    return new Table(List.copyOf(columns), rows, page.file(), Page.line(list));
  }
}
