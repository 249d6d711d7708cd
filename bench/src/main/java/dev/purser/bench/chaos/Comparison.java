package dev.purser.bench.chaos;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;

/** The records beside the marks: what ran, how often, in which order, with what output. */
final class Comparison {
  private static final int SLOTS = 2;

  private final Records records;
  private final List<String> wrong = new ArrayList<>();
  private final List<Mark> marks = new ArrayList<>();
  private final Map<String, Map<Integer, Integer>> begins = new HashMap<>();
  private final Map<String, Integer> firstBegin = new HashMap<>();
  private final Map<String, Integer> lastEnd = new HashMap<>();
  private int runs;
  private int attempts;
  private int repeats;

  /** What is on record. */
  interface Records {
    /** What a query finds, a row a line, columns with tabs between. */
    List<String> query(String text) throws IOException, InterruptedException;

    /** All the output of a run that is kept. */
    String output(long run);
  }

  Comparison(Records records) {
    this.records = records;
  }

  private record Mark(String run, int attempt, boolean isBegin) {}

  private record Row(
      long id, String stream, String job, String date, int number, String state, int attempts) {
    String reference() {
      return stream + "/" + job + "@" + date + "#" + number;
    }

    /** The job of the stream to which it belongs, itself or as a part of it. */
    String role() {
      return stream.startsWith("chaos/day/") ? stream.substring("chaos/day/".length()) : job;
    }

    boolean isWhole() {
      return stream.equals("chaos/day") && (job.equals("each") || job.equals("two"));
    }

    /** Runs elsewhere and leaves no marks: {@link Calls} and {@link Bookings} look after it. */
    boolean isRemote() {
      return job.equals("remote") || job.equals("model") || job.equals("booked");
    }
  }

  /**
   * Compares.
   *
   * @param promised ids of runs that a service has said it has planned
   * @param outputs how many runs' output is read in full
   * @return what is wrong; empty where all is well
   */
  List<String> compare(Path file, Set<Long> promised, int outputs)
      throws IOException, InterruptedException {
    read(file);
    List<Row> rows = rows();
    Set<Long> ids = rows.stream().map(Row::id).collect(Collectors.toSet());
    promised.stream()
        .filter(id -> !ids.contains(id))
        .forEach(id -> wrong.add("run " + id + " was promised and is not on record"));
    Set<String> known = new HashSet<>();
    for (Row row : rows) {
      known.add(row.reference());
      compare(row);
    }
    begins.keySet().stream()
        .filter(run -> !known.contains(run))
        .forEach(run -> wrong.add(run + " has run and is not on record"));
    order(rows);
    slots();
    attemptRows();
    outputs(rows, outputs);
    return wrong;
  }

  /** What was compared, for people. */
  String inWords() {
    return runs
        + " runs, "
        + attempts
        + " attempts on record, "
        + marks.size()
        + " marks, "
        + repeats
        + " repeats where the job allows them";
  }

  private void read(Path file) throws IOException {
    for (String line : Files.readAllLines(file)) {
      String[] words = line.split(" ", -1);
      Mark mark = new Mark(words[0], Integer.parseInt(words[1]), words[2].equals("begin"));
      marks.add(mark);
      if (mark.isBegin()) {
        begins
            .computeIfAbsent(mark.run(), any -> new HashMap<>())
            .merge(mark.attempt(), 1, Integer::sum);
        firstBegin.putIfAbsent(mark.run(), marks.size());
      } else {
        lastEnd.put(mark.run(), marks.size());
      }
    }
  }

  private List<Row> rows() throws IOException, InterruptedException {
    List<Row> rows = new ArrayList<>();
    for (String line :
        records.query(
            "select id, stream, job, business_date, number, state, attempts from run order by id")) {
      String[] c = line.split("\t", -1);
      rows.add(
          new Row(
              Long.parseLong(c[0]),
              c[1],
              c[2],
              c[3],
              Integer.parseInt(c[4]),
              c[5],
              Integer.parseInt(c[6])));
    }
    runs = rows.size();
    return rows;
  }

  private void compare(Row row) {
    if (!row.state().equals("succeeded")) {
      wrong.add(row.reference() + " is " + row.state());
    }
    if (row.isRemote() && row.attempts() != 1) {
      wrong.add(row.reference() + " has needed " + row.attempts() + " attempts");
    }
    if (row.isWhole() || row.isRemote()) {
      return;
    }
    Map<Integer, Integer> found = begins.getOrDefault(row.reference(), Map.of());
    found.forEach(
        (attempt, times) -> {
          if (times > 1) {
            wrong.add(
                row.reference() + ": attempt " + attempt + " was started " + times + " times");
          }
        });
    int expected = row.role().equals("flaky") ? 2 : 1;
    if (row.role().equals("again")) {
      repeats += Math.max(0, found.size() - 1);
      if (found.isEmpty()) {
        wrong.add(row.reference() + " has left no mark");
      }
    } else if (found.size() != expected || row.attempts() != expected) {
      wrong.add(
          row.reference()
              + " has left marks of "
              + found.keySet()
              + ", on record are "
              + row.attempts()
              + " attempts, and "
              + expected
              + " are right");
    }
  }

  /** What waits for something has begun after that ended. */
  private void order(List<Row> rows) {
    Map<String, List<Row>> byStart =
        rows.stream().collect(Collectors.groupingBy(row -> row.date() + "#" + row.number()));
    Map<String, List<String>> after =
        Map.of(
            "flaky", List.of("first"),
            "slots", List.of("first"),
            "each", List.of("flaky", "slots"),
            "two", List.of("each"),
            "last", List.of("two", "again", "big"));
    for (List<Row> start : byStart.values()) {
      for (Row row : start) {
        for (String before : after.getOrDefault(row.role(), List.of())) {
          for (Row other : start) {
            boolean tooSoon =
                other.role().equals(before)
                    && firstBegin.containsKey(row.reference())
                    && !other.isWhole()
                    && lastEnd.getOrDefault(other.reference(), Integer.MAX_VALUE)
                        > firstBegin.get(row.reference());
            if (tooSoon && !before.equals("again")) {
              wrong.add(row.reference() + " began before the end of " + other.reference());
            }
          }
        }
      }
    }
  }

  private void slots() {
    int taken = 0;
    for (Mark mark : marks) {
      if (mark.run().contains("/slots@")) {
        taken += mark.isBegin() ? 1 : -1;
        if (taken > SLOTS) {
          wrong.add(mark.run() + ": more than " + SLOTS + " slots were taken at once");
        }
      }
    }
  }

  private void attemptRows() throws IOException, InterruptedException {
    for (String line :
        records.query(
            "select r.id, count(a.number), r.attempts, sum(a.ended is null),"
                + " sum(not a.output_complete and a.exit_code is not null)"
                + " from run r join attempt a on a.run=r.id group by r.id")) {
      String[] c = line.split("\t", -1);
      attempts += Integer.parseInt(c[1]);
      if (!c[1].equals(c[2]) || !c[3].equals("0")) {
        wrong.add("run " + c[0] + ": attempts on record do not agree: " + line);
      }
      if (!c[4].equals("0")) {
        wrong.add("run " + c[0] + ": its output is not whole");
      }
    }
  }

  private void outputs(List<Row> rows, int most) {
    List<Row> some =
        rows.stream().filter(row -> !row.isWhole() && !row.isRemote()).collect(Collectors.toList());
    java.util.Collections.shuffle(some, new java.util.Random(1));
    for (Row row : some.subList(0, Math.min(most, some.size()))) {
      int lines = row.role().equals("big") ? 40_000 : 50;
      StringBuilder expected = new StringBuilder(row.reference() + " " + row.attempts() + "\n");
      expected.append(
          IntStream.rangeClosed(1, lines).mapToObj(i -> i + "\n").collect(Collectors.joining()));
      String text = records.output(row.id());
      if (!text.contentEquals(expected)) {
        wrong.add(
            row.reference()
                + ": its output is not whole: "
                + text.length()
                + " of "
                + expected.length()
                + " characters");
      }
    }
  }

  static String some(List<String> all) {
    return all.stream().limit(20).collect(Collectors.joining("\n  "))
        + (all.size() > 20 ? "\n  and " + (all.size() - 20) + " more" : "");
  }
}
