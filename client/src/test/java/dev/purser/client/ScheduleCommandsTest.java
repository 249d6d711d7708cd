package dev.purser.client;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.wire.api.ScheduleViews;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.Test;

/** What the commands about schedules ask, and how they print what they are told. */
class ScheduleCommandsTest extends PlayedService {
  private static final Instant AT = Instant.parse("2027-03-04T20:30:00Z");
  private static final LocalDate DATE = LocalDate.of(2027, 3, 4);

  private static ScheduleViews.StreamView stream(ScheduleViews.PauseView pause) {
    return new ScheduleViews.StreamView(
        "accounts/month-end",
        "Month-end",
        "",
        "Accounts",
        "office",
        List.of("last business day of month, 20:30 UTC"),
        "",
        pause,
        false,
        2,
        AT,
        "UTC");
  }

  @Test
  void aPausedStreamSaysSinceWhenByWhomAndWhy() {
    ScheduleViews.PauseView pause =
        new ScheduleViews.PauseView(AT, LocalDate.of(2027, 4, 1), "ida", "audit");
    answers.put("/api/v1/streams", List.of(stream(pause), stream(null)));
    assertThat(run(new ScheduleCommands.Streams(), "month end"))
        .contains("last business day of month, 20:30 UTC")
        .contains("paused until 2027-04-01 by ida: audit");
    assertThat(asked.get(0)).startsWith("/api/v1/streams?text=month%20end");
  }

  @Test
  void nextStartsTellClockChangesGuessesAndWindows() {
    answers.put(
        "/api/v1/streams/next",
        List.of(
            new ScheduleViews.StartView(
                "s", DATE, 1, AT, "UTC", "skipped", 2, true, "it is a Thursday", null, null, false),
            new ScheduleViews.StartView(
                "s", DATE, 2, AT, "UTC", "", 2, false, "", AT.minusSeconds(3_600), AT, true)));
    assertThat(run(new ScheduleCommands.Next(), "s").lines())
        .anySatisfy(
            line ->
                assertThat(line).contains("2027-03-04#1", "skipped", "a guess", "it is a Thursday"))
        .anySatisfy(
            line -> assertThat(line).contains("2027-03-04#2", "no, it is paused", "window from"));
  }

  private ScheduleViews.MonthCell paused(ScheduleViews.MonthCell cell) {
    return new ScheduleViews.MonthCell(
        cell.date(),
        cell.starts(),
        cell.closed(),
        cell.holiday(),
        cell.reason(),
        cell.guess(),
        true);
  }

  @Test
  void aMonthIsAGridThatFitsATerminal() {
    List<ScheduleViews.MonthCell> cells =
        List.of(
            new ScheduleViews.MonthCell(DATE, 1, false, "", "", false, false),
            new ScheduleViews.MonthCell(DATE.plusDays(1), 58, false, "", "", false, false),
            new ScheduleViews.MonthCell(
                DATE.plusDays(2), 0, true, "Yule (brannoch)", "", false, false),
            new ScheduleViews.MonthCell(DATE.plusDays(3), 0, true, "", "", false, false),
            new ScheduleViews.MonthCell(DATE.plusDays(4), 3, false, "", "", true, false));
    answers.put(
        "/api/v1/streams/month",
        new ScheduleViews.MonthView(
            DATE,
            5,
            List.of(
                new ScheduleViews.MonthRow("a/b", "A", "D", "office", false, cells),
                new ScheduleViews.MonthRow(
                    "c", "C", "D", "office", true, cells.stream().map(this::paused).toList()))));
    String grid = run(new ScheduleCommands.Month(), "--from", "2027-03-04", "--days", "5");
    assertThat(grid.lines())
        .contains(
            "      4  5  6  7  8 ",
            "a/b   1 58  h  . 3?",
            "c     -  -  h  . -?",
            "  2027-03-06  Yule (brannoch)");
  }

  @Test
  void aPauseIsAskedForWithItsDateAndReason() {
    answers.put(
        "/api/v1/streams/pause",
        new ScheduleViews.PauseResult(
            stream(new ScheduleViews.PauseView(AT, null, "ida", "audit")), 0));
    assertThat(
            run(
                new ScheduleCommands.Pause(),
                "accounts/month-end",
                "--until",
                "2027-04-01",
                "--reason",
                "audit"))
        .startsWith("accounts/month-end is paused by ida: audit");
    assertThat(asked.get(0))
        .contains(
            "\"stream\":\"accounts/month-end\"",
            "\"until\":\"2027-04-01\"",
            "\"reason\":\"audit\"");
    answers.put("/api/v1/streams/resume", new ScheduleViews.PauseResult(stream(null), 4));
    assertThat(run(new ScheduleCommands.Resume(), "accounts/month-end"))
        .contains("accounts/month-end goes on: 4 runs planned, next start");
  }

  @Test
  void windowsAreListedWithHowTheyStand() {
    answers.put(
        "/api/v1/streams/windows",
        List.of(
            new ScheduleViews.WindowView(
                DATE,
                3,
                AT,
                AT.plusSeconds(3_600),
                "failed",
                List.of(
                    new ScheduleViews.WindowRun(1, "r", "succeeded"),
                    new ScheduleViews.WindowRun(2, "r", "failed"),
                    new ScheduleViews.WindowRun(3, "r", "succeeded")))));
    assertThat(run(new ScheduleCommands.Windows(), "tide/levels"))
        .contains("2027-03-04#3", "failed", "2 succeeded, 1 failed");
    answers.put("/api/v1/streams/windows/fill", new ScheduleViews.Filled("tide/levels", 12));
    assertThat(run(new ScheduleCommands.Windows(), "tide/levels", "--fill-from", "2027-03-01"))
        .contains("12 windows of tide/levels were filled in");
  }

  @Test
  void aPreviewMarksWhatIsGainedLostAndMovedAndSaysWhatWillBePaused() throws IOException {
    ScheduleViews.StartChange gained = change("gained", DATE, AT, false, "");
    ScheduleViews.StartChange lost = change("lost", DATE, AT, true, "");
    ScheduleViews.StartChange moved = change("moved", DATE.plusDays(1), AT, false, "twice");
    answers.put(
        "/api/v1/definitions/preview",
        new ScheduleViews.PreviewView(
            true,
            7,
            DATE,
            DATE.plusDays(399),
            List.of(
                new ScheduleViews.DefinitionChange(
                    "stream",
                    "a/b",
                    "changed",
                    List.of(new ScheduleViews.FieldChange("schedule.at", "", "06:00")),
                    "",
                    "")),
            1,
            2,
            3,
            List.of(
                new ScheduleViews.StreamChange(
                    "a/b", "A", 1, 2, 3, true, 30, List.of(gained, lost, moved))),
            List.of(new ScheduleViews.TouchedRun("a/b/c@2027-03-04#1", "would change; it is held")),
            List.of(
                new ScheduleViews.OpenRunView("a/b/e@2027-03-04#1", "running", "keeps", "it runs"),
                new ScheduleViews.OpenRunView("a/b/f@2027-03-05#1", "planned", "takes", ""),
                new ScheduleViews.OpenRunView("a/b/d@2027-03-04#1", "waiting", "takes", "")),
            3,
            List.of("filed rests on 3 jobs in 1 stream"),
            List.of()));
    Path file = Files.writeString(folder.resolve("a.yaml"), "host: h\n");
    String text = run(new ChangeCommands.PreviewCommand(), file.toString());
    assertThat(text)
        .contains("schedule.at: (nothing) → 06:00")
        .contains("promise: filed rests on 3 jobs in 1 stream")
        .contains("runs from 2027-03-04 to 2028-04-06: 1 gained, 2 lost, 3 moved")
        .contains(
            "a/b  A: 1 gained, 2 lost, 3 moved; it is paused then, and none of this starts yet")
        .contains("  +  2027-03-04 TH", "  -? 2027-03-04 TH", "  >  2027-03-04 TH  → 2027-03-05 FR")
        .contains("(clock change: twice)")
        .contains("… and 21 more (--full)");
    assertThat(
            run(new ChangeCommands.PreviewCommand(), file.toString(), "-o", "csv").lines().count())
        .isEqualTo(4);
  }

  private static ScheduleViews.StartChange change(
      String what, LocalDate to, Instant at, boolean guess, String shift) {
    return new ScheduleViews.StartChange(what, DATE, at, to, at, 1, "because", guess, shift);
  }
}
