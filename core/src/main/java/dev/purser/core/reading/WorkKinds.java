package dev.purser.core.reading;

import dev.purser.core.job.Work;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.ServiceLoader;

/** All kinds of work that there are. */
public final class WorkKinds {
  private static final List<WorkKind> ALL =
      ServiceLoader.load(WorkKind.class, WorkKind.class.getClassLoader()).stream()
          .map(ServiceLoader.Provider::get)
          .sorted(Comparator.comparing(WorkKind::happens).thenComparing(WorkKind::key))
          .toList();

  /** Each kind by the keys that it brings to a job. */
  private static final Map<String, WorkKind> OWNERS = owners();

  private WorkKinds() {}

  private static Map<String, WorkKind> owners() {
    Map<String, WorkKind> owners = new HashMap<>();
    for (WorkKind kind : ALL) {
      kind.keys().names().forEach(name -> owners.put(name, kind));
    }
    return owners;
  }

  /** The kind that brings a key to a job; empty where the key is of all jobs, or unknown. */
  static Optional<WorkKind> owner(String key) {
    return Optional.ofNullable(OWNERS.get(key));
  }

  /** Those on hosts first, then those in the service, then the others; by key within each. */
  public static List<WorkKind> all() {
    return ALL;
  }

  /**
   * The kind that reads some work.
   *
   * @throws IllegalStateException where no kind does, which is a fault of the kind's author
   */
  public static WorkKind of(Work work) {
    return ALL.stream()
        .filter(kind -> kind.reads().contains(work.kind()))
        .findFirst()
        .orElseThrow(
            () -> new IllegalStateException("no kind of work reads \"" + work.kind() + "\""));
  }

  /** The keys that they bring to a job. */
  static Keys keys() {
    Keys keys = new Keys();
    ALL.forEach(kind -> keys.with(kind.keys()));
    return keys;
  }

  /** "run (a command), approve (a question) and ...", for messages. */
  static String inWords() {
    List<String> each = new ArrayList<>();
    ALL.forEach(kind -> each.add(kind.key() + " (" + kind.inWords() + ")"));
    return String.join(", ", each.subList(0, each.size() - 1))
        + " and "
        + each.get(each.size() - 1);
  }
}
