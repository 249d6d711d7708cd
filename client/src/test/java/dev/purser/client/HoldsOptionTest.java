package dev.purser.client;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.wire.api.ScheduleViews;
import dev.purser.wire.api.VersionViews;
import dev.purser.wire.api.Views;
import java.io.IOException;
import java.nio.file.Files;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import picocli.CommandLine;

/** From when a change holds: what is asked, and how what comes back is said. */
class HoldsOptionTest extends PlayedService {
  private static Views.HoldsRequest parsed(String... words) {
    HoldsOption option = new HoldsOption();
    CommandLine.populateCommand(option, words);
    return option.request();
  }

  @Test
  void whatIsSaidIsAsked() {
    assertThat(parsed()).isNull();
    assertThat(parsed("--from", "now")).isEqualTo(new Views.HoldsRequest("now", Map.of()));
    assertThat(parsed("--from", "next-date", "--from", "a/b=running"))
        .isEqualTo(new Views.HoldsRequest("next-date", Map.of("a/b", "running")));
    assertThatThrownBy(() -> parsed("--from", "now", "--from", "running"))
        .hasMessageContaining("--from says both now and running");
  }

  private static Views.PublishResult result(int taken, int stopped, LocalDate goesLive) {
    return new Views.PublishResult(
        true,
        goesLive == null ? 7 : 0,
        List.of(),
        List.of("stream a/b"),
        List.of(),
        List.of(),
        0,
        0,
        2,
        taken,
        stopped,
        goesLive == null ? 0 : 12,
        goesLive,
        List.of());
  }

  @Test
  void whatBecomesOfRunsIsSaid() throws IOException {
    String file = Files.writeString(folder.resolve("a.yaml"), "host: h\n").toString();
    answers.put("/api/v1/definitions", result(1, 0, null));
    assertThat(run(new SiteCommands.Publish(), file, "--from", "now"))
        .contains("2 changed, 0 withdrawn; 1 run that had begun takes it");
    answers.put("/api/v1/definitions", result(2, 1, null));
    assertThat(run(new SiteCommands.Publish(), file, "--from", "running"))
        .contains("; 2 runs that had begun take it; 1 attempt is being stopped");
    answers.put("/api/v1/definitions", result(0, 0, LocalDate.of(2027, 4, 1)));
    assertThat(run(new SiteCommands.Publish(), file, "--from", "2027-04-01"))
        .contains("kept as draft 12: it goes live by itself", "from business date 2027-04-01")
        .contains("purser draft 12 --stay");
  }

  @Test
  void openRunsThatChangeComeFirstAndPlannedOnesAreCounted() throws IOException {
    String file = Files.writeString(folder.resolve("a.yaml"), "host: h\n").toString();
    answers.put(
        "/api/v1/definitions/preview",
        new ScheduleViews.PreviewView(
            true,
            7,
            LocalDate.of(2027, 3, 4),
            LocalDate.of(2027, 3, 5),
            List.of(
                new ScheduleViews.DefinitionChange("stream", "a/b", "changed", List.of(), "", "")),
            0,
            0,
            0,
            List.of(),
            List.of(),
            List.of(
                new ScheduleViews.OpenRunView("a/b/c@2027-03-04#1", "running", "keeps", "it runs"),
                new ScheduleViews.OpenRunView("a/b/d@2027-03-04#1", "waiting", "takes", ""),
                new ScheduleViews.OpenRunView("a/b/e@2027-03-04#1", "running", "replaced", ""),
                new ScheduleViews.OpenRunView("a/b/f@2027-03-05#1", "planned", "takes", ""),
                new ScheduleViews.OpenRunView("a/b/g@2027-03-05#1", "planned", "takes", ""),
                new ScheduleViews.OpenRunView("a/b/h@2027-03-05#1", "planned", "gone", "no more")),
            0,
            List.of(),
            List.of()));
    String text = run(new ChangeCommands.PreviewCommand(), file);
    assertThat(text)
        .containsSubsequence(
            "a/b/d@2027-03-04#1 (waiting) takes the new version",
            "a/b/e@2027-03-04#1 (running) takes the new version by another attempt",
            "a/b/c@2027-03-04#1 (running) keeps the old version: it runs",
            "1 planned (--full lists them): each is taken off the plan: no more",
            "2 planned (--full lists them): each takes the new version")
        .doesNotContain("a/b/f@");
    assertThat(run(new ChangeCommands.PreviewCommand(), file, "--full")).contains("a/b/f@");
  }

  @Test
  void aRenameSaysWhatCameWithIt() {
    answers.put(
        "/api/v1/definitions/rename-preview",
        new VersionViews.RenameView(0, List.of("stream a/c"), 4, List.of()));
    assertThat(run(new RenameCommand(), "a/b", "a/c", "--preview"))
        .contains("changed  stream a/c", "would be renamed; 4 runs");
    answers.put(
        "/api/v1/definitions/rename",
        new VersionViews.RenameView(9, List.of("stream a/c", "stream a/d"), 1, List.of()));
    assertThat(run(new RenameCommand(), "stream", "a/b", "a/c"))
        .contains("renamed to a/c as revision 9; 1 run of today");
    answers.put(
        "/api/v1/definitions/rename",
        new VersionViews.RenameView(
            0,
            List.of(),
            0,
            List.of(new Views.ProblemView("error", "a.yaml", 1, 9, "is not a valid name"))));
    assertThat(run(new RenameCommand(), "a/b", "A C"))
        .contains("is not a valid name", "not renamed: nothing was changed");
  }
}
