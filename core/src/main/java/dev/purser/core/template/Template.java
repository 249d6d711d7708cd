package dev.purser.core.template;

import java.util.List;
import java.util.Map;
import java.util.Set;
import org.snakeyaml.engine.v2.nodes.MappingNode;

/**
 * A job or a stream with parameters.
 *
 * @param name its name
 * @param title for people
 * @param about what it is for
 * @param of what it makes
 * @param parameters by name, in the order in which they are written
 * @param body what is filled; nobody may change it
 * @param uses names of the templates that its jobs come from
 */
public record Template(
    String name,
    String title,
    String about,
    Of of,
    Map<String, TemplateParameter> parameters,
    MappingNode body,
    Set<String> uses) {

  /** What a template makes. */
  public enum Of {
    /** Whole streams. */
    STREAM("stream"),
    /** Jobs of streams. */
    JOB("job");

    private final String word;

    Of(String word) {
      this.word = word;
    }

    /** The word in messages. */
    public String word() {
      return word;
    }
  }

  /** The parameters that must be given a value. */
  public List<String> required() {
    return parameters.values().stream()
        .filter(parameter -> parameter.standard().isEmpty())
        .map(TemplateParameter::name)
        .toList();
  }
}
