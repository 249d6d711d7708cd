package dev.purser.core.board;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.SplittableRandom;
import java.util.TreeSet;

/** Random definitions in which everything that the board decides may meet. */
public final class RandomWorld {
  private static final List<String> OUTCOMES = List.of("succeeded", "failed", "ended", "skipped");

  private RandomWorld() {}

  /** Hosts and capacities. */
  public static String site(SplittableRandom random) {
    String northLimit = random.nextInt(2) == 0 ? "at-most: " + random.nextInt(1, 4) + "\n" : "";
    String southLimit = random.nextInt(2) == 0 ? "at-most: " + random.nextInt(1, 4) + "\n" : "";
    String spans =
        random.nextInt(3) == 0
            ? "zone: Europe/Oslo\nspans: [{ from: \"21:36\", to: \"21:44\", units: "
                + random.nextInt(0, 5)
                + " }]\n"
            : "";
    return "host: quay-north\nlabels: [quay]\n"
        + northLimit
        + "---\nhost: quay-south\nlabels: [quay]\n"
        + southLimit
        + "---\nhost-group: quays\nlabels: [quay]\n---\ncapacity: slots\nunits: "
        + random.nextInt(2, 4)
        + "\n"
        + spans
        + "---\ncapacity: doors\nunits: 4\n";
  }

  /** Three streams, one of which may be a step of another. */
  public static String streams(SplittableRandom random) {
    int shape = random.nextInt(4);
    String starts = random.nextInt(3) == 0 ? "\"21:30\", \"21:33\"" : "\"21:30\"";
    StringBuilder yaml = new StringBuilder("stream: inner\njobs:\n");
    jobs(yaml, random, "i", 1 + random.nextInt(4), shape, List.of());
    yaml.append("---\nstream: tide\nschedule: { days: every day, at: [\"21:29\", \"21:32\"]");
    yaml.append(", zone: Europe/Oslo }\n");
    if (random.nextInt(3) == 0) {
      yaml.append("succeeds-if: any\n");
    }
    yaml.append("jobs:\n");
    jobs(yaml, random, "t", 1 + random.nextInt(3), shape, List.of());
    yaml.append("---\nstream: night\nschedule: { days: every day, at: [").append(starts);
    yaml.append("], zone: Europe/Oslo }\njobs:\n");
    jobs(yaml, random, "n", 3 + random.nextInt(8), shape, List.of("tide", "tide/t0"));
    return yaml.toString();
  }

  /** Shape 0 has no limits on hosts and units, 1 has few, 2 and 3 have everything. */
  private static void jobs(
      StringBuilder yaml,
      SplittableRandom random,
      String prefix,
      int count,
      int shape,
      List<String> others) {
    for (int i = 0; i < count; i++) {
      yaml.append("  ").append(prefix).append(i).append(":\n");
      boolean outer = prefix.equals("n");
      int kind = random.nextInt(10);
      if (outer && kind == 0) {
        yaml.append("    stream: inner\n");
      } else if (kind == 1) {
        yaml.append("    approve: Agreed?\n");
      } else {
        work(yaml, random, shape);
      }
      if ((i > 0 || !others.isEmpty()) && random.nextInt(5) > 1) {
        List<String> names = new ArrayList<>(others);
        for (int j = 0; j < i; j++) {
          names.add(prefix + j);
        }
        // A question does not hang on the moment: an answer is taken as things stand when it comes.
        int depth = kind == 1 ? 0 : 2;
        yaml.append("    waits-for: '").append(prerequisite(random, names, depth)).append("'\n");
      }
      if (random.nextInt(3) == 0) {
        yaml.append("    priority: ").append(random.nextInt(4) * 2 + 46).append('\n');
      }
      if (outer && random.nextInt(5) == 0) {
        yaml.append("    not-before: \"21:3").append(random.nextInt(10)).append("\"\n");
      }
    }
  }

  private static void work(StringBuilder yaml, SplittableRandom random, int shape) {
    List<String> hosts = List.of("quay-north", "quay-south", "any of quays", "2 of quays");
    int host = random.nextInt(8);
    yaml.append("    run: x\n    host: ").append(hosts.get(host < 4 ? host : 2)).append('\n');
    if (random.nextInt(4) == 0) {
      yaml.append("    retry: { times: ").append(random.nextInt(1, 3)).append(", wait: ");
      yaml.append(random.nextInt(3)).append("m").append(random.nextBoolean() ? ", on: 1" : "");
      yaml.append(" }\n");
    }
    if (random.nextInt(6) == 0) {
      yaml.append("    succeeds-with: \"0, 2\"\n");
    }
    if (shape > 0 && random.nextInt(shape == 1 ? 4 : 2) == 0) {
      Set<String> takes = new TreeSet<>();
      takes.add("slots: " + random.nextInt(1, 3));
      if (random.nextInt(2) == 0) {
        takes.add("doors: " + random.nextInt(1, 4));
      }
      yaml.append("    takes: { ").append(String.join(", ", takes)).append(" }\n");
    }
    if (random.nextInt(4) == 0) {
      List<String> manners = List.of("wait", "skip", "replace", "allow 2");
      yaml.append("    overlap: ").append(manners.get(random.nextInt(4))).append('\n');
    }
  }

  private static String prerequisite(SplittableRandom random, List<String> names, int depth) {
    int form = depth == 0 ? 9 : random.nextInt(10);
    String name = names.get(random.nextInt(names.size()));
    return switch (form) {
      case 0, 1 -> pair(random, names, depth, " and ");
      case 2 -> pair(random, names, depth, " or ");
      case 3 -> "not " + pair(random, names, depth, random.nextBoolean() ? " and " : " or ");
      case 4 -> name.equals("tide") ? "tide ended" : name + " running";
      case 5 -> name.equals("tide") ? "tide failed" : "not " + name + " running";
      default -> name + " " + OUTCOMES.get(random.nextInt(10) < 6 ? 0 : random.nextInt(4));
    };
  }

  private static String pair(SplittableRandom random, List<String> names, int depth, String word) {
    return "("
        + prerequisite(random, names, depth - 1)
        + word
        + prerequisite(random, names, depth - 1)
        + ")";
  }
}
