package dev.purser.core.arrival;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Files that stand beside others, and how one file would be judged. */
class LookForTest {
  private static final LookOut.Now NOW = new LookOut.Now(1_000_000_000, 500_000);

  private static LookFor what(String companion, String checksumFile, String lastLine, long least) {
    return new LookFor(
        "feed",
        "/in",
        "*.csv*",
        true,
        least,
        10_000,
        companion,
        checksumFile,
        lastLine,
        0,
        true,
        0,
        0);
  }

  @ParameterizedTest
  @CsvSource({
    "'${file.name}.done', a.csv, a.csv.done",
    "'${file.stem}.done', a.csv, a.done",
    "'${file.stem}.done', a.b.csv, a.b.done",
    "'${file.stem}.done', plain, plain.done",
    "'${file.stem}.done', .hidden, .hidden.done",
    "'ok-${file.name}', a.csv, ok-a.csv"
  })
  void aCompanionHasTheNameOfItsFileInItsOwn(String template, String name, String companion) {
    assertThat(what(template, "", "", 1).companionOf(name)).isEqualTo(companion);
    assertThat(what("", template, "", 1).checksumFileOf(name)).isEqualTo(companion);
  }

  @ParameterizedTest
  @CsvSource({
    "'${file.name}.done', a.csv.done, true",
    "'${file.name}.done', .done, false",
    "'${file.name}.done', a.csv, false",
    "'ok-${file.name}', ok-a.csv, true",
    "'ok-${file.name}', a-ok.csv, false",
    "'', a.csv.done, false"
  })
  void whatStandsBesideAFileIsNoFileOfTheWatch(String template, String name, boolean besides) {
    assertThat(what(template, "", "", 1).isBesides(name)).isEqualTo(besides);
    assertThat(new LookOut(what("", template, "", 1)).concerned(name).isPresent())
        .isEqualTo(!besides && name.contains(".csv"));
  }

  /** A trial judges a file as it is now, as if nothing of it changed. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      nullValues = "-",
      textBlock =
          """
          500 | 60000 | true  | NONE     | END 1 | READY    | ''
          500 | 3000  | true  | NONE     | END 1 | SETTLING | ''
          500 | 60000 | true  | NONE     | berth | SEEN     | its last line is not "END*"
          0   | 60000 | true  | NONE     | END 1 | SEEN     | is empty
          50  | 60000 | true  | NONE     | END 1 | SEEN     | has 50 bytes, and should have 100
          500 | 60000 | false | NONE     | END 1 | SEEN     | waits for a.csv.done
          500 | 60000 | true  | LINK_OUT | END 1 | IGNORED  | a link that leads out of the directory; links are followed only within it
          500 | 60000 | true  | NAME     | END 1 | REJECTED | its name is not valid UTF-8 and cannot be handed on; rename it
          """)
  void aFileIsJudgedOnTrial(
      long size,
      long ageMillis,
      boolean companion,
      FileFacts.Oddity oddity,
      String lastLine,
      Finding.State state,
      String note) {
    long changed = NOW.wall() - ageMillis;
    FileFacts facts = new FileFacts("a.csv", size, changed, changed, "k", oddity, companion, true);
    LookOut trial = new LookOut(what("${file.name}.done", "", "END*", 100));
    Finding finding = trial.judged(facts, Optional.of(new Content("sum", lastLine, "", "")), NOW);
    assertThat(finding.state()).isEqualTo(state);
    assertThat(finding.note()).isEqualTo(note);
    assertThat(trial.size()).isZero(); // nothing is remembered
    assertThat(trial.news()).isEmpty();
  }

  @Test
  void onTrialAWrongChecksumIsToldWithTheRightOne() {
    LookOut trial = new LookOut(what("", "${file.name}.md5", "", 1));
    FileFacts facts = new FileFacts("a.csv", 5, 0, 0, "k", FileFacts.Oddity.NONE, true, true);
    Finding wrong = trial.judged(facts, Optional.of(new Content("s", "", "aa", "bb")), NOW);
    assertThat(wrong.state()).isEqualTo(Finding.State.REJECTED);
    assertThat(wrong.note()).isEqualTo("its checksum is bb, and should be aa");
    Finding none = trial.judged(facts, Optional.of(new Content("s", "", "", "")), NOW);
    assertThat(none.note()).isEqualTo("a.csv.md5 holds no checksum that can be read");
    Finding right = trial.judged(facts, Optional.of(new Content("s", "", "AA", "aa")), NOW);
    assertThat(right.state()).isEqualTo(Finding.State.READY);
  }
}
