package dev.purser.bench;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import dev.purser.core.plan.PlannedRun;
import dev.purser.core.plan.Planner;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.RunSpec;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;

/**
 * Made-up definitions of any size: streams of ten jobs, each job waiting for up to three others.
 */
final class World {
  static final LocalDate DATE = LocalDate.of(2027, 3, 4);
  private static final int JOBS = 10;
  private static final String SITE =
      """
      host: quay-north
      labels: [quay]
      ---
      host: quay-south
      labels: [quay]
      ---
      host-group: quays
      labels: [quay]
      ---
      capacity: slots
      units: 400
      ---
      holiday-calendar: brannoch
      holidays: [ { day: 24 december, name: Yule Eve } ]
      ---
      business-calendar: brannoch-office
      without: [brannoch]
      """;

  private World() {}

  static Definitions definitions(int streams) {
    List<SourceFile> files = new ArrayList<>(List.of(new SourceFile("site", SITE)));
    for (int s = 0; s < streams; s++) {
      files.add(new SourceFile("s" + s, stream(s)));
    }
    DefinitionCheck.Result result =
        DefinitionCheck.check(Definitions.none(), files, DATE.minusDays(1));
    if (!result.isSound()) {
      throw new IllegalStateException(result.problems().toString());
    }
    return result.definitions();
  }

  private static String stream(int s) {
    String[] rules = {
      "every day", "weekdays", "business days", "business days except 1st business day of month"
    };
    StringBuilder yaml =
        new StringBuilder("stream: bench/s" + s + "\ncalendar: brannoch-office\nschedule:\n");
    yaml.append("  days: ").append(rules[s % rules.length]).append('\n');
    yaml.append("  at: \"").append("%02d:%02d".formatted(s % 24, s % 60)).append("\"\n");
    yaml.append("  zone: Europe/Oslo\njobs:\n");
    for (int j = 0; j < JOBS; j++) {
      yaml.append("  j").append(j).append(": { host: any of quays, run: x, usually: 1m to 5m");
      if (j > 2) {
        yaml.append(
            ", waits-for: j%d succeeded and j%d ended and %s"
                .formatted(
                    j - 1, j - 2, j == 5 && s > 0 ? across(s) : "j" + (j - 3) + " succeeded"));
      } else if (j > 0) {
        yaml.append(", waits-for: j").append(j - 1).append(" succeeded");
      }
      yaml.append(j == 6 ? ", takes: { slots: 1 }, priority: " + s % 100 + " }\n" : " }\n");
    }
    return yaml.toString();
  }

  /** One in ten prerequisites looks at another stream. */
  private static String across(int s) {
    return "bench/s%d/j2 succeeded if planned".formatted(s - 1);
  }

  static List<RunSpec> specs(Definitions definitions) {
    List<RunSpec> specs = new ArrayList<>();
    for (PlannedRun run : new Planner(definitions).plan(DATE)) {
      specs.add(new RunSpec(specs.size() + 1L, run, 0));
    }
    return specs;
  }
}
