package dev.purser.bench.chaos;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The chaos test can fail: of each thing that could go wrong, the comparison says so. */
class ComparisonTest {
  private static final String DAY = "@2027-03-04#1";

  @TempDir private Path folder;
  private final List<String> marks = new ArrayList<>();
  private final List<String> runs = new ArrayList<>();
  private final List<String> attempts = new ArrayList<>();
  private final Map<Long, String> outputs = new HashMap<>();
  private final List<String> arrivals = new ArrayList<>();
  private Set<Long> promised = Set.of(1L, 2L, 3L, 4L);

  private final Comparison.Records records =
      new Comparison.Records() {
        @Override
        public List<String> query(String text) {
          if (text.startsWith("select count(*) from arrival")) {
            return List.of(String.valueOf(arrivals.size()));
          }
          return text.contains("from arrival")
              ? arrivals
              : text.contains("from attempt") || text.contains("join attempt") ? attempts : runs;
        }

        @Override
        public String output(long run) {
          return outputs.getOrDefault(run, "");
        }
      };

  /** A start of which all went well: one run was tried twice, as it must be. */
  @BeforeEach
  void aGoodDay() {
    run(1, "first", 1);
    run(2, "flaky", 2);
    run(3, "slots", 1);
    run(4, "again", 1);
    mark("first", 1);
    mark("flaky", 1);
    mark("flaky", 2);
    mark("slots", 1);
    mark("again", 1);
  }

  private void run(long id, String job, int tries) {
    runs.add(
        String.join(
            "\t",
            String.valueOf(id),
            "chaos/day",
            job,
            "2027-03-04",
            "1",
            "succeeded",
            "" + tries));
    attempts.add(String.join("\t", String.valueOf(id), "" + tries, "" + tries, "0", "0"));
    outputs.put(
        id,
        "chaos/day/"
            + job
            + DAY
            + " "
            + tries
            + "\n"
            + IntStream.rangeClosed(1, 50).mapToObj(i -> i + "\n").collect(Collectors.joining()));
  }

  private void mark(String job, int attempt) {
    marks.add("chaos/day/" + job + DAY + " " + attempt + " begin");
    marks.add("chaos/day/" + job + DAY + " " + attempt + " end");
  }

  private List<String> wrong() throws IOException, InterruptedException {
    Path file = Files.write(folder.resolve("marks"), marks);
    return new Comparison(records).compare(file, promised, 10);
  }

  private void replace(List<String> list, String what, String by) {
    list.replaceAll(line -> line.replace(what, by));
  }

  @Test
  void aGoodDayIsGood() throws Exception {
    assertThat(wrong()).isEmpty();
  }

  @Test
  void aRunThatWasPromisedAndIsGoneIsFound() throws Exception {
    promised = Set.of(1L, 2L, 3L, 4L, 77L);
    assertThat(wrong()).containsExactly("run 77 was promised and is not on record");
  }

  @Test
  void aRunThatIsNotOverIsFound() throws Exception {
    replace(runs, "first\t2027-03-04\t1\tsucceeded", "first\t2027-03-04\t1\trunning");
    assertThat(wrong()).containsExactly("chaos/day/first" + DAY + " is running");
  }

  @Test
  void anAttemptThatWasStartedTwiceIsFound() throws Exception {
    mark("first", 1);
    assertThat(wrong()).contains("chaos/day/first" + DAY + ": attempt 1 was started 2 times");
  }

  @Test
  void aSecondAttemptThatNoJobAllowsIsFoundAndOneThatIsAllowedIsNot() throws Exception {
    mark("again", 2);
    replace(runs, "again\t2027-03-04\t1\tsucceeded\t1", "again\t2027-03-04\t1\tsucceeded\t2");
    replace(attempts, "4\t1\t1", "4\t2\t2");
    outputs.put(4L, outputs.get(4L).replace(DAY + " 1\n", DAY + " 2\n"));
    assertThat(wrong()).isEmpty();
    mark("first", 2);
    assertThat(wrong()).anySatisfy(text -> assertThat(text).contains("first", "and 1 are right"));
  }

  @Test
  void aRunWithoutAMarkAndAMarkWithoutARunAreFound() throws Exception {
    marks.removeIf(line -> line.contains("/again@"));
    marks.add("chaos/day/ghost" + DAY + " 1 begin");
    assertThat(wrong())
        .containsExactlyInAnyOrder(
            "chaos/day/again" + DAY + " has left no mark",
            "chaos/day/ghost" + DAY + " has run and is not on record");
  }

  @Test
  void whatBeganBeforeWhatItWaitsForIsFound() throws Exception {
    marks.removeIf(line -> line.contains("/first@"));
    mark("first", 1); // after those that wait for it
    assertThat(wrong())
        .containsExactlyInAnyOrder(
            "chaos/day/flaky" + DAY + " began before the end of chaos/day/first" + DAY,
            "chaos/day/slots" + DAY + " began before the end of chaos/day/first" + DAY);
  }

  @Test
  void moreUnitsThanThereAreAreFound() throws Exception {
    for (int i = 2; i <= 3; i++) {
      marks.add(0, "chaos/day/first@2027-03-04#" + i + " 1 end");
      marks.add(0, "chaos/day/first@2027-03-04#" + i + " 1 begin");
    }
    marks.removeIf(line -> line.contains("/slots@"));
    for (int i = 1; i <= 3; i++) {
      marks.add("chaos/day/slots@2027-03-04#" + i + " 1 begin");
    }
    assertThat(wrong())
        .contains("chaos/day/slots@2027-03-04#3: more than 2 slots were taken at once");
  }

  @Test
  void attemptsWithoutAnEndAndCutOutputAreFound() throws Exception {
    replace(attempts, "1\t1\t1\t0\t0", "1\t1\t1\t1\t0");
    replace(attempts, "3\t1\t1\t0\t0", "3\t1\t1\t0\t1");
    outputs.put(2L, outputs.get(2L).substring(0, 60));
    assertThat(wrong())
        .hasSize(3)
        .anySatisfy(text -> assertThat(text).contains("run 1: attempts on record do not agree"))
        .anySatisfy(text -> assertThat(text).contains("run 3: its output is not whole"))
        .anySatisfy(text -> assertThat(text).contains("flaky", "60 of"));
  }

  // ---- files

  private Sender sent(String... names) throws IOException {
    Sender sender = new Sender(folder.resolve("in"), folder.resolve("marks"), new Random(1));
    for (String name : names) {
      sender.send(name, false);
    }
    return sender;
  }

  private void used(String... names) throws IOException {
    List<String> lines = new ArrayList<>();
    for (String name : names) {
      lines.add("content of " + name);
    }
    Files.write(folder.resolve("marks.files"), lines);
  }

  private void onRecord(String state, String... names) {
    for (String name : names) {
      arrivals.add("/in/" + name + "\t" + state + "\t1");
    }
  }

  @Test
  void filesThatWereUsedOnceAreGood() throws Exception {
    Sender sender = sent("1.note", "2.note");
    used("2.note", "1.note");
    onRecord("used", "1.note", "2.note");
    assertThat(sender.count()).isEqualTo(2);
    assertThat(sender.compare(records)).isEmpty();
  }

  @Test
  void filesThatWereUsedNeverTwiceOrInPartAreFound() throws Exception {
    Sender sender = sent("1.note", "2.note", "3.note");
    used("1.note", "1.note", "2");
    onRecord("used", "1.note", "2.note");
    onRecord("ready", "3.note");
    assertThat(sender.compare(records))
        .containsExactlyInAnyOrder(
            "content of 1.note was used 2 times",
            "content of 2.note was used 0 times",
            "content of 3.note was used 0 times",
            "\"content of 2\" was used and was never sent",
            "on record is /in/3.note ready 1");
  }

  @Test
  void aFileThatIsOnRecordTwiceOrNotAtAllIsFound() throws Exception {
    Sender sender = sent("1.note", "2.note");
    used("1.note", "2.note");
    arrivals.add("/in/1.note\tused\t2");
    assertThat(sender.compare(records))
        .containsExactlyInAnyOrder(
            "on record is /in/1.note used 2", "1 arrivals are on record of 2 files");
  }

  @Test
  void whatWasBegunElsewhereTwiceOrNotAtAllIsSaid() throws Exception {
    Comparison.Records two =
        new Comparison.Records() {
          @Override
          public List<String> query(String text) {
            return List.of("chaos/day/remote" + DAY, "chaos/day/model" + DAY);
          }

          @Override
          public String output(long run) {
            return "";
          }
        };
    String remote = "chaos/day/remote" + DAY;
    String model = "chaos/day/model" + DAY;
    assertThat(Calls.compare(Map.of(remote, 1, model, 1), two)).isEmpty();
    assertThat(Calls.compare(Map.of(remote, 2), two))
        .containsExactly(
            remote + " was begun 2 times at the remote service",
            model + " was begun 0 times at the remote service");
    assertThat(Calls.compare(Map.of(remote, 1, model, 1, "nobody", 1), two)).hasSize(1);
  }
}
