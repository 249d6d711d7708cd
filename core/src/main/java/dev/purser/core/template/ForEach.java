package dev.purser.core.template;

import java.util.Map;
import org.snakeyaml.engine.v2.nodes.Node;

/**
 * One stream for each row of a table.
 *
 * @param name its name
 * @param title for people
 * @param template that is filled with each row
 * @param with values for all rows; a column of the same name wins
 * @param table the rows
 * @param deviations by the path of a stream that is made: what is other than in the template
 */
public record ForEach(
    String name,
    String title,
    String template,
    Map<String, String> with,
    Table table,
    Map<String, Node> deviations) {}
