package dev.purser.bench;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.plan.Planner;
import dev.purser.core.preview.Preview;
import dev.purser.core.reading.SourceFile;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;

/**
 * A million runs planned from schedules, and the preview of a calendar change that touches two
 * thousand streams; on one thread. The first figure of each is cold, as a command would meet it;
 * the best of five is what the machine can do.
 */
final class Plans {
  private static final LocalDate FROM = LocalDate.of(2027, 1, 1);
  private static final String[] DAYS = {
    "every day",
    "business days",
    "weekdays except 1st business day of month",
    "business days or last day of month",
    "last business day of month",
    "15th day of month moved to next business day",
    "monday, wednesday, friday",
    "every 2 weeks on friday from 2027-01-01",
    "3 business days before last day of month",
    "business days except holidays of brannoch"
  };

  private Plans() {}

  /** Prints the figures. */
  public static void main(String[] args) {
    plan();
    preview();
  }

  private static void plan() {
    Definitions definitions = definitions(10_000, 3, "24 december");
    Planner planner = new Planner(definitions);
    for (int round = 0; round < 5; round++) {
      long begin = System.nanoTime();
      long runs = 0;
      for (Stream stream : definitions.streams()) {
        runs += planner.plan(stream, FROM, FROM.plusDays(99)).size();
      }
      print("planned " + runs + " runs of 10,000 streams over 100 dates", begin, round);
    }
  }

  private static void preview() {
    Definitions before = definitions(3_000, 3, "24 december");
    for (int round = 0; round < 5; round++) {
      Definitions after = definitions(3_000, 3, "24 december to 31 december");
      long begin = System.nanoTime();
      Preview.Result result = Preview.of(before, after, FROM, Preview.DAYS_AHEAD);
      print(
          "preview over 400 days: looked at "
              + result.looked()
              + " of 3,000 streams, "
              + result.streams().size()
              + " change, "
              + result.runs(Preview.What.LOST)
              + " runs lost, "
              + result.runs(Preview.What.MOVED)
              + " moved",
          begin,
          round);
    }
  }

  private static void print(String what, long begin, int round) {
    System.out.printf(
        "%s: %d ms%s%n",
        what, (System.nanoTime() - begin) / 1_000_000, round == 0 ? " (cold)" : "");
  }

  private static Definitions definitions(int streams, int jobs, String closed) {
    List<SourceFile> files = new ArrayList<>();
    files.add(
        new SourceFile(
            "site",
            "host: h\n---\nholiday-calendar: brannoch\nholidays:\n"
                + "  - { day: "
                + closed
                + ", name: Yule }\n"
                + "  - { day: last monday of march, name: Founders' Day }\n"
                + "  - { day: 1 day after easter, name: Egg Monday }\n"
                + "---\nbusiness-calendar: office\nwithout: [brannoch]\n"));
    for (int s = 0; s < streams; s++) {
      StringBuilder yaml = new StringBuilder("stream: bench/s" + s + "\ncalendar: office\n");
      yaml.append("schedule: { days: ").append(quoted(DAYS[s % DAYS.length]));
      yaml.append(", at: \"").append("%02d:%02d".formatted(s % 24, s % 60));
      yaml.append("\", zone: Europe/Oslo }\njobs:\n");
      for (int j = 0; j < jobs; j++) {
        yaml.append("  j").append(j).append(": { host: h, run: x }\n");
      }
      files.add(new SourceFile("s" + s, yaml.toString()));
    }
    DefinitionCheck.Result result =
        DefinitionCheck.check(Definitions.none(), files, FROM.minusDays(1));
    if (!result.isSound()) {
      throw new IllegalStateException(result.problems().toString());
    }
    return result.definitions();
  }

  private static String quoted(String text) {
    return "\"" + text + "\"";
  }
}
