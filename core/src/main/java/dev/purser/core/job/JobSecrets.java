package dev.purser.core.job;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;

/**
 * Secrets that a command is given; here are only their names.
 *
 * @param variables by the environment variable that holds it
 * @param files by the environment variable that holds the path of a file with it
 */
public record JobSecrets(Map<String, String> variables, Map<String, String> files) {
  /** No secrets. */
  public static final JobSecrets NONE = new JobSecrets(Map.of(), Map.of());

  /** Copies the maps. */
  public JobSecrets {
    variables = Map.copyOf(variables);
    files = Map.copyOf(files);
  }

  /** The names of all of them, in order, each once. */
  public List<String> names() {
    List<String> all = new ArrayList<>(variables.values());
    all.addAll(files.values());
    return all.stream().distinct().sorted().toList();
  }
}
