package dev.purser.client;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.wire.api.CommitmentViews;
import dev.purser.wire.api.HistoryViews;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

/** What is promised, why, how true forecasts were, and history, as the commands print them. */
class CommitmentCommandsTest extends PlayedService {
  private static final LocalDate DATE = LocalDate.of(2027, 3, 4);
  private static final String WORLD =
      """
      host: quay
      ---
      stream: night
      paused: no
      schedule: { days: every day, at: "21:00", zone: UTC }
      jobs:
        load: { host: quay, run: x }
        file: { host: quay, run: x, waits-for: load succeeded }
      ---
      commitment: filed
      of: night/file
      done-by: "21:40"
      zone: UTC
      """;

  private static CommitmentViews.CommitmentView promise(String standing, Double late) {
    return new CommitmentViews.CommitmentView(
        "filed@2027-03-04",
        "filed",
        "The manifest is filed",
        "",
        "Passenger services",
        "night/file",
        "done by 22:00 (UTC)",
        DATE,
        1,
        at("22:00"),
        standing,
        "a chance of 60 % of being late: probably at 22:10; 22:00 was promised",
        at("21:00"),
        at("21:40"),
        at("22:10"),
        at("21:50"),
        at("22:30"),
        late,
        0,
        "",
        false,
        true,
        "60 ends of 2 jobs in 1 stream",
        200,
        "UTC");
  }

  private static Instant at(String time) {
    return Instant.parse("2027-03-04T" + time + ":00Z");
  }

  private static CommitmentViews.CommitmentDetail detail() {
    return new CommitmentViews.CommitmentDetail(
        promise("in danger", 0.6),
        List.of(
            new CommitmentViews.LineageRun(
                6,
                "night/load@2027-03-04#1",
                "Load",
                "Night",
                "running",
                at("21:00"),
                at("22:00"),
                false,
                true,
                0L,
                List.of()),
            new CommitmentViews.LineageRun(
                7,
                "night/apart@2027-03-04#1",
                "Apart",
                "Night",
                "planned",
                null,
                null,
                false,
                false,
                12L,
                List.of())),
        List.of(
            new CommitmentViews.CauseView("night/load@2027-03-04#1", "Load ran longer", 29.6),
            new CommitmentViews.CauseView("", "all else", 0.4)),
        List.of(
            new CommitmentViews.HelpView(
                "rerun",
                6,
                "rerun \"Load\" now",
                "/runs/6",
                "purser rerun 'night/load@2027-03-04'",
                at("21:48"),
                0.12,
                22,
                "dues: 30 % late")),
        List.of(
            new CommitmentViews.KeptView(
                DATE.minusDays(1), 1, at("22:00"), at("21:31"), true, 1291),
            new CommitmentViews.KeptView(DATE.minusDays(2), 1, at("22:00"), null, false, 0)),
        List.of("shared/tables"));
  }

  @Test
  void promisesAreAListAndOneIsToldWhole() {
    answers.put("/api/v1/commitments", List.of(promise("in danger", 0.6), promise("open", null)));
    assertThat(run(new CommitmentCommands.Commitments(), "--date", "2027-03-04"))
        .contains("filed@2027-03-04")
        .contains("in danger")
        .contains("60 %");
    assertThat(asked.get(0)).startsWith("/api/v1/commitments?date=2027-03-04");
    answers.put("/api/v1/commitments/filed", detail());
    assertThat(run(new CommitmentCommands.Commitments(), "filed", "--number", "2"))
        .contains("The manifest is filed: a chance of 60 %")
        .contains("promised: done by 22:00 (UTC); rests on 60 ends of 2 jobs in 1 stream")
        .contains("left out: shared/tables")
        .contains("kept 1 of the last 2 times")
        .containsPattern("\\*\\s+night/load@2027-03-04#1")
        .containsPattern("night/apart@2027-03-04#1.*12m");
    assertThat(asked.get(1)).contains("number=2").contains("helps=false");
  }

  @Test
  void whyTellsTheCausesAndWhatWouldHelp() {
    answers.put("/api/v1/commitments/filed", detail());
    assertThat(run(new WhyCommand(), "--commitment", "filed"))
        .contains("It is usually done at")
        .containsPattern("\\+29.6m  Load ran longer")
        .containsPattern("\\+24s  all else")
        .contains("What would help:")
        .contains("rerun \"Load\" now: ")
        .contains("late in 12 % of samples; but dues: 30 % late");
    assertThat(asked.get(0)).contains("helps=true");
  }

  @Test
  void whatTheListPrintsIsTakenBack() {
    answers.put("/api/v1/commitments/filed@2027-03-04#2", detail());
    assertThat(run(new WhyCommand(), "--commitment", "filed@2027-03-04#2"))
        .contains("What would help:");
    assertThat(run(new CommitmentCommands.Commitments(), "filed@2027-03-04#2"))
        .contains("The manifest is filed");
  }

  @Test
  void whatIsUsualIsRenewedWithAReason() {
    answers.put("/api/v1/commitments/filed/renewal", new CommitmentViews.UsualView("filed", 42.5));
    assertThat(run(new CommitmentCommands.Renew(), "filed", "--reason", "a new machine"))
        .contains("nine of ten earlier ends were within 42.5m of its beginning");
    assertThat(asked.get(0)).contains("\"reason\":\"a new machine\"");
  }

  @Test
  void howTrueForecastsWereIsATable() {
    answers.put(
        "/api/v1/foretold",
        List.of(
            new CommitmentViews.ForetoldView("begin", 40, 0.9, 0.475, 12.34, 4, 3, 2, null),
            new CommitmentViews.ForetoldView("alerts", 40, null, null, null, 4, 3, 1, 71.6),
            new CommitmentViews.ForetoldView("1h", 0, null, null, null, 0, 0, 0, null)));
    assertThat(run(new OutlookCommand(), "--kept", "--days", "90"))
        .containsPattern("at the beginning\\s+40\\s+90 %\\s+48 %\\s+12.3\\s+4\\s+3\\s+2")
        .containsPattern("told by alerts\\s+40\\s+4\\s+3\\s+1\\s+72")
        .contains("1 h before");
    assertThat(asked.get(0)).startsWith("/api/v1/foretold?days=90");
  }

  private Path history() throws IOException {
    StringBuilder csv = new StringBuilder("job,date,start,end,outcome,attempts\n");
    for (int day = 1; day <= 40; day++) {
      LocalDate date = LocalDate.of(2026, 3, 4).minusDays(day);
      csv.append(
          "night/load,%s,%sT21:00:00Z,%sT21:20:0%dZ,succeeded,1%n"
              .formatted(date, date, date, day % 10));
      csv.append(
          "night/file,%s,%sT21:20:10Z,%sT21:30:0%dZ,succeeded,1%n"
              .formatted(date, date, date, day % 10));
    }
    csv.append("night/load,2026-03-04,2026-03-04T21:00:00Z,,,\n");
    return Files.writeString(folder.resolve("history.csv"), csv);
  }

  private JsonNode outlook(String at, String seed) throws IOException {
    Path world = Files.writeString(folder.resolve("world.yaml"), WORLD);
    return Service.JSON.readTree(
        run(
            new OutlookCommand(),
            "--files",
            world.toString(),
            "--history",
            history().toString(),
            "--date",
            "2026-03-04",
            "--at",
            at,
            "--seed",
            seed,
            "--output",
            "json"));
  }

  @Test
  void aDayIsForetoldFromFilesAndHistoryAlone() throws IOException {
    JsonNode all = outlook("2026-03-04T21:05:00Z", "1");
    JsonNode promise = all.at("/commitments/0");
    assertThat(promise.at("/commitment").asString()).isEqualTo("filed");
    assertThat(promise.at("/by").asString()).isEqualTo("2026-03-04T21:40:00Z");
    for (String p : List.of("p10", "p50", "p90")) {
      assertThat(Instant.parse(promise.at("/end/" + p).asString()))
          .isBetween(Instant.parse("2026-03-04T21:25:00Z"), Instant.parse("2026-03-04T21:40:00Z"));
    }
    assertThat(promise.at("/lateChance").asDouble()).isBetween(0.0, 0.1);
    assertThat(promise.at("/failChance").asDouble()).isBetween(0.0, 0.1);
    assertThat(promise.at("/restsOn").asString()).isEqualTo("80 ends of 2 jobs in 1 stream");
    JsonNode load = all.at("/runs/0");
    assertThat(load.at("/run").asString()).isEqualTo("night/load@2026-03-04#1");
    assertThat(load.at("/start/p50").asString()).isEqualTo("2026-03-04T21:00:00Z");
    assertThat(all.at("/runs").size()).isEqualTo(2);
    assertThat(outlook("2026-03-04T21:05:00Z", "1")).isEqualTo(all);
    assertThat(outlook("2026-03-04T21:05:00Z", "2")).isNotEqualTo(all);
    assertThat(asked).isEmpty();
  }

  @Test
  void historyIsSentOnceARowAndWhatIsWrongIsTold() throws IOException {
    answers.put("/api/v1/history/runs", new HistoryViews.ImportView(79, 1, List.of()));
    Path file = history();
    Files.writeString(file, Files.readString(file) + "night/load,soon,,,skipped,\n");
    Path names = Files.writeString(folder.resolve("names.csv"), "night/load,night/import\n");
    assertThat(
            run(new HistoryCommands.Import(), file.toString(), "--map", names.toString(), "--try"))
        .contains("history.csv:83:1: error: \"soon\" in column date")
        .contains("would take 79 runs; 1 were known already; 1 refused");
    assertThat(asked).hasSize(1);
    assertThat(asked.get(0))
        .contains("\"job\":\"night/import\"")
        .contains("\"tryOnly\":true")
        .doesNotContain("night/load");
  }

  @Test
  void whatIsExportedIsReadAgain() throws IOException {
    HistoryViews.PastRunView run =
        new HistoryViews.PastRunView(
            "night/load", DATE, at("21:00"), at("21:20"), "failed", 2, null, 3, "quay", 4);
    answers.put("/api/v1/history/runs", List.of(run));
    String csv = run(new HistoryCommands.Export(), "--from", "2027-03-04", "--to", "2027-03-04");
    assertThat(csv.lines())
        .containsExactly(
            "job,date,start,end,outcome,number,due,exit-code,host,attempts",
            "night/load,2027-03-04,2027-03-04T21:00:00Z,2027-03-04T21:20:00Z,failed,2,,3,quay,4");
    assertThat(HistoryFile.view(HistoryFile.run(run))).isEqualTo(run);
    assertThat(run(new HistoryCommands(), "-o", "csv").lines()).hasSize(15);
  }
}
