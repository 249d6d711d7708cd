package dev.purser.core.container;

import dev.purser.core.job.Work;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;

/**
 * Work in a container of a cluster. Texts may hold placeholders; each item of the command is one
 * word, whatever a value holds, and no shell reads it.
 *
 * @param image such as {@code registry.brannoch.example/sea-model:4.2}
 * @param cluster the connection of the cluster
 * @param namespace in which it runs
 * @param command what is run instead of what the image says; empty for that
 * @param cpu how much is asked for and at most used, such as {@code 500m}; empty for no limit
 * @param memory likewise, such as {@code 512Mi}
 */
public record Container(
    String image, String cluster, String namespace, List<String> command, String cpu, String memory)
    implements Work {
  /** The word for it. */
  public static final String KIND = "container";

  /** The namespace where none is given. */
  public static final String USUAL_NAMESPACE = "default";

  /** Copies the list. */
  public Container {
    command = List.copyOf(command);
  }

  @Override
  public String kind() {
    return KIND;
  }

  @Override
  public String inWords() {
    return "container " + image + " in " + cluster;
  }

  @Override
  public Optional<String> connection(Function<String, Optional<String>> ofService) {
    return Optional.of(cluster);
  }
}
