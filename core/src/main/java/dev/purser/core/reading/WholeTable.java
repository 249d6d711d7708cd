package dev.purser.core.reading;

import dev.purser.core.template.ForEach;
import dev.purser.core.template.Table;
import dev.purser.core.template.Trees;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;
import org.snakeyaml.engine.v2.common.FlowStyle;
import org.snakeyaml.engine.v2.common.ScalarStyle;
import org.snakeyaml.engine.v2.nodes.MappingNode;
import org.snakeyaml.engine.v2.nodes.Node;
import org.snakeyaml.engine.v2.nodes.NodeTuple;
import org.snakeyaml.engine.v2.nodes.ScalarNode;
import org.snakeyaml.engine.v2.nodes.Tag;

/** Puts the rows of a file into the definition that names it, so that what is kept is whole. */
final class WholeTable {
  private WholeTable() {}

  /** The text of a {@code for-each}: as it is written, unless its table is in a file. */
  static String in(String text, Node node, ForEach forEach) {
    if (Trees.value(node, "table-file").isEmpty()) {
      return text;
    }
    List<NodeTuple> tuples = new ArrayList<>();
    for (NodeTuple tuple : ((MappingNode) node).getValue()) {
      tuples.add(
          Trees.key(tuple).equals("table-file")
              ? new NodeTuple(
                  plain("table", ScalarStyle.PLAIN),
                  plain(csv(forEach.table()), ScalarStyle.LITERAL))
              : tuple);
    }
    return Trees.print(new MappingNode(Tag.MAP, tuples, FlowStyle.BLOCK));
  }

  private static ScalarNode plain(String text, ScalarStyle style) {
    return new ScalarNode(Tag.STR, text, style);
  }

  private static String csv(Table table) {
    StringBuilder out = new StringBuilder();
    try (CSVPrinter printer =
        new CSVPrinter(out, CSVFormat.RFC4180.builder().setRecordSeparator("\n").get())) {
      printer.printRecord(table.columns());
      for (Table.Row row : table.rows()) {
        printer.printRecord(table.columns().stream().map(row.values()::get).toList());
      }
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    return out.toString();
  }
}
