package dev.purser.core.definition;

import dev.purser.core.template.FilledText;
import java.util.List;
import java.util.Map;
import java.util.Set;

/**
 * Where a definition comes from that a template has made, in whole or in part.
 *
 * @param templates names of all templates in it, those of its jobs too
 * @param template of the whole of it; empty where only jobs of it come from templates
 * @param by name of the {@code for-each} whose row made it; empty where it is written by itself
 * @param row of that table, from 1; 0 for none
 * @param values what the template of the whole was filled with, by parameter
 * @param deviations paths of the keys that are other than in their template, such as {@code
 *     jobs.load.host}, in order
 * @param filled its YAML as it was filled
 */
public record Made(
    Set<String> templates,
    String template,
    String by,
    int row,
    Map<String, String> values,
    List<String> deviations,
    FilledText filled) {

  /** Whether it is a row of a table. */
  public boolean isRow() {
    return !by.isEmpty();
  }

  /** Where it comes from, in words: {@code row 3 of for-each ships, from template deck-plan}. */
  public String inWords() {
    String from =
        template.isEmpty()
            ? "with jobs from " + (templates.size() == 1 ? "template " : "templates ")
            : "from template ";
    String what = template.isEmpty() ? String.join(", ", templates) : template;
    return (isRow() ? "row " + row + " of for-each " + by + ", " : "") + from + what;
  }
}
