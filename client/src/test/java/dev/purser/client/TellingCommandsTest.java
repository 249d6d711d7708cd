package dev.purser.client;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.wire.api.AlertViews;
import dev.purser.wire.api.EventViews;
import dev.purser.wire.api.Views;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Who is told, maintenance, handing over and rehearsals, as the commands print them. */
class TellingCommandsTest extends PlayedService {
  private static final Instant AT = Instant.parse("2027-03-04T18:00:00Z");

  @Test
  void dutiesSayWhoHasThemByTheirOwnClock() {
    answers.put(
        "/api/v1/duties",
        List.of(
            new AlertViews.DutyView(
                "night", "At night", "Europe/Oslo", List.of("desk", "person ola"), AT, List.of()),
            new AlertViews.DutyView(
                "always", "Always", "Europe/Oslo", List.of(), null, List.of())));
    assertThat(run(new DutyCommand()))
        .containsPattern("duty +now +until \\(Oslo\\)")
        .containsPattern("night +desk, person ola +2027-03-04 19:00:00")
        .containsPattern("always +");
  }

  @Test
  void oneDutyIsShownStretchByStretch() {
    answers.put(
        "/api/v1/duties/night",
        List.of(
            new AlertViews.StretchView(AT, AT.plusSeconds(3_600), List.of("desk"), "Europe/Oslo")));
    assertThat(run(new DutyCommand(), "night", "--days", "2", "--from", "2027-03-04"))
        .containsPattern("2027-03-04 19:00:00 +2027-03-04 20:00:00 +desk");
    assertThat(asked.get(0)).contains("days=2").contains("from=2027-03-04");
    assertThat(run(new DutyCommand(), "no-such")).contains("404");
  }

  private static AlertViews.MaintenanceView mute(String state) {
    return new AlertViews.MaintenanceView(
        3, "mute", "site", "", AT, AT.plusSeconds(3_600), "new pump", "ola", state, "", "UTC");
  }

  @Test
  void maintenanceIsListedPlannedAndEnded() {
    answers.put("/api/v1/maintenance", List.of(mute("on")));
    assertThat(run(new MaintenanceCommand()))
        .containsPattern("3 +mute +site +.*18:00:00 +.*19:00:00 +on +ola +new pump");
    answers.put("/api/v1/maintenance/3", mute("over"));
    assertThat(run(new MaintenanceCommand(), "end", "3")).contains("maintenance 3 is over");
  }

  @Test
  void aTimeThatEndsAfterItBeginsMayBeTheNextDay() {
    answers.put("/api/v1/maintenance", List.of(mute("planned")));
    run(
        new MaintenanceCommand(),
        "drain",
        "group",
        "quays",
        "--from",
        "2099-03-04T22:00:00Z",
        "--until",
        "02:00",
        "--reason",
        "new disks");
    String body = asked.get(0);
    assertThat(body).contains("\"drain\"").contains("\"group\"").contains("\"quays\"");
    assertThat(body).contains("2099-03-04T22:00:00Z");
    run(
        new MaintenanceCommand(),
        "mute",
        "site",
        "--until",
        "2099-03-04T22:00:00Z",
        "--reason",
        "x");
    assertThat(asked.get(1)).contains("\"mute\"").contains("\"site\"").contains("\"name\":\"\"");
  }

  @ParameterizedTest
  @ValueSource(strings = {"mute site --reason x", "mute site --until 06:00", "drain host"})
  void whatIsMissingIsSaid(String line) {
    assertThat(run(new MaintenanceCommand(), line.split(" "))).contains("Missing required");
    assertThat(asked).isEmpty();
  }

  private static AlertViews.HandoverView note(String takenBy) {
    Instant taken = takenBy.isEmpty() ? null : AT.plusSeconds(600);
    return new AlertViews.HandoverView(
        7, AT, "ola", "the pump is out\ncall at noon", "2 alerts open", taken, takenBy, "UTC");
  }

  @Test
  void aHandoverIsReadWrittenAndSigned() {
    answers.put("/api/v1/handovers", List.of(note(""), note("kari")));
    assertThat(run(new HandoverCommand()))
        .containsPattern("handover 7 of 2027-03-04 18:00:00.* by ola, nobody has signed for it yet")
        .contains("taken over by kari at 2027-03-04 18:10:00")
        .contains("  then: 2 alerts open")
        .contains("  call at noon");
    answers.put("/api/v1/handovers", note(""));
    assertThat(run(new HandoverCommand(), "write", "the pump is out")).contains("handover 7");
    assertThat(asked.get(1)).contains("the pump is out");
    answers.put("/api/v1/handovers/7/taken", note("kari"));
    assertThat(run(new HandoverCommand(), "take", "7")).contains("taken over by kari");
  }

  @Test
  void whereNobodyHasWrittenThatIsSaid() {
    answers.put("/api/v1/handovers", List.of());
    assertThat(run(new HandoverCommand())).contains("no shift has written anything yet");
  }

  @Test
  void aTrialSaysOfEachWayWhatCameBack() {
    answers.put(
        "/api/v1/alert-trials",
        List.of(
            new AlertViews.TriedView("desk", "mail", "desk@b.example", true, "250 taken"),
            new AlertViews.TriedView(
                "desk", "webhook", "http://b.example", false, "answered 500")));
    assertThat(run(new AlertCommands(), "try", "--to", "desk"))
        .containsPattern("desk +mail +desk@b.example +yes +250 taken")
        .containsPattern("desk +webhook +http://b.example +no +answered 500");
    assertThat(asked.get(0)).contains("\"to\":\"desk\"");
    answers.put("/api/v1/alert-trials", List.of());
    assertThat(run(new AlertCommands(), "try", "--to", "nobody"))
        .contains("nobody is reached by \"nobody\"");
  }

  @Test
  void addressesSayHowTheyFare() {
    answers.put(
        "/api/v1/alert-addresses",
        List.of(
            new AlertViews.AddressView(
                "mail",
                "a@b.example",
                List.of("desk"),
                "failing",
                4,
                0,
                AT,
                AT,
                null,
                "",
                "no route"),
            new AlertViews.AddressView(
                "chat",
                "http://c.example",
                List.of("desk"),
                "well",
                0,
                0,
                null,
                null,
                AT,
                "ok",
                "")));
    assertThat(run(new AlertCommands(), "addresses"))
        .containsPattern("mail +a@b.example +failing +4 +.*no route")
        .containsPattern("chat +http://c.example +well +0 +.*ok");
  }

  @Test
  void sumsSayWhatToMend() {
    answers.put(
        "/api/v1/alert-sums",
        new AlertViews.SumsView(
            LocalDate.of(2027, 2, 3),
            LocalDate.of(2027, 3, 4),
            List.of(),
            List.of(
                new AlertViews.RuleSum(
                    "late", "Late", "built in", "fleet/rosters", 40, 2, 3, 30, 5, 20))));
    assertThat(run(new AlertCommands(), "sums", "--days", "30"))
        .containsPattern("40 +late +built in +fleet/rosters +2 +30 +3 +5 +20");
    answers.put(
        "/api/v1/alert-sums",
        new AlertViews.SumsView(
            LocalDate.of(2027, 2, 3), LocalDate.of(2027, 3, 4), List.of(), List.of()));
    assertThat(run(new AlertCommands(), "sums"))
        .contains("there was no alert from 2027-02-03 to 2027-03-04");
  }

  @Test
  void theListIsNarrowed() {
    answers.put("/api/v1/alerts", List.of());
    assertThat(
            run(
                new AlertCommands(),
                "--department",
                "Depot",
                "--urgency",
                "urgent",
                "--kind",
                "failed,late",
                "--text",
                "pump",
                "--mine",
                "--from",
                "2027-03-04T18:00:00Z"))
        .contains("no alert is open");
    assertThat(asked.get(0))
        .contains("department=Depot")
        .contains("urgency=urgent")
        .contains("kind=failed%2Clate")
        .contains("text=pump")
        .contains("mine=true")
        .contains("heads=true")
        .contains("from=2027-03-04T18%3A00%3A00Z");
    run(new AlertCommands(), "--of", "12");
    assertThat(asked.get(1)).contains("partOf=12").contains("heads=false").contains("closed=true");
    run(new AlertCommands(), "--all");
    assertThat(asked.get(2)).contains("heads=false").contains("closed=false");
  }

  @Test
  void followingPrintsStepsAndGoesOnFromTheCursor() {
    AlertViews.StepEventView step =
        new AlertViews.StepEventView(
            41,
            AT,
            "acknowledged",
            "late",
            "ola",
            "",
            12,
            "urgent",
            "The \u001b[2Jboard",
            "a/b@x",
            "a",
            3,
            "http://x/runs/3",
            "UTC");
    answers.put("/api/v1/alert-steps", new AlertViews.StepsView(41, List.of(step)));
    assertThat(run(new AlertFollow(), "--once", "--after", "40", "--stream", "a"))
        .as("nothing that acts on a terminal")
        .contains("41  2027-03-04 18:00:00  late  alert 12 acknowledged by ola")
        .doesNotContain("\u001b");
    assertThat(asked).hasSize(2);
    assertThat(asked.get(0)).contains("after=40").contains("stream=a");
    assertThat(asked.get(1)).contains("after=41");
  }

  private Path rules() throws IOException {
    return Files.writeString(folder.resolve("r.yaml"), "alerts-of: site\nalerts: []\n");
  }

  private static AlertViews.RehearsalView rehearsal(boolean sound) {
    AlertViews.RehearsedRule late =
        new AlertViews.RehearsedRule(
            "late",
            "Late",
            "site",
            "",
            false,
            "warning",
            57,
            12,
            3,
            9,
            List.of("desk"),
            List.of(new AlertViews.ExampleView("a/b@2027-03-04#1", AT, "not done")));
    AlertViews.RehearsedRule none =
        new AlertViews.RehearsedRule(
            "failed", "Failed", "site", "", true, "warning", 0, 8, 0, 0, List.of(), List.of());
    return new AlertViews.RehearsalView(
        sound,
        AT,
        AT,
        900,
        sound ? List.of(late, none) : List.of(),
        List.of("late: counted from the alerts on record"),
        sound
            ? List.of()
            : List.of(new Views.ProblemView("error", "r.yaml", 2, 1, "unknown kind \"lat\"")),
        "UTC");
  }

  @Test
  void aRehearsalSaysHowOftenAndWhom() throws IOException {
    answers.put("/api/v1/alert-rehearsals", rehearsal(true));
    assertThat(run(new AlertRehearse(), "" + rules(), "--days", "7"))
        .containsPattern("late +site +57 +12 +3 +9 +desk")
        .containsPattern("failed +site +none +8")
        .contains("over 7 days up to now, from 900 runs")
        .contains("late: counted from the alerts on record")
        .doesNotContain("not done");
    assertThat(run(new AlertRehearse(), "" + rules(), "--list"))
        .containsPattern("2027-03-04 18:00:00  late  a/b@2027-03-04#1  not done");
    assertThat(run(new AlertRehearse(), "" + rules(), "--output", "json"))
        .contains("\"count\"")
        .doesNotContain("over 30 days");
    assertThat(asked.get(0)).contains("alerts-of: site").contains("\"days\":7");
  }

  @Test
  void rulesThatAreNotSoundAreNotRehearsed() throws IOException {
    answers.put("/api/v1/alert-rehearsals", rehearsal(false));
    assertThat(run(new AlertRehearse(), "" + rules()))
        .contains("r.yaml:2:1: error: unknown kind \"lat\"")
        .doesNotContain("from 900 runs");
  }

  @ParameterizedTest
  @CsvSource({"21:30", "2027-03-04T21:30", "2027-03-04T21:30:00Z"})
  void aTimeOfDayOfThePastIsTheLastOne(String text) {
    assertThat(ActionCommand.pastTime(text))
        .isBeforeOrEqualTo(Instant.now().plusSeconds(200_000_000));
    if (text.length() == 5) {
      assertThat(ActionCommand.pastTime(text)).isBeforeOrEqualTo(Instant.now());
      assertThat(ActionCommand.time(text)).isAfterOrEqualTo(Instant.now().minusSeconds(60));
    }
  }

  private static EventViews.SubscriptionView subscription(String state, String note, int tries) {
    return new EventViews.SubscriptionView(
        3,
        "ola",
        List.of("runs", "files"),
        "",
        "fuel/bunkering",
        "failed",
        "https://tickets.example/in",
        AT,
        state,
        note,
        List.of(
            new EventViews.PlaceView(
                "runs", 7, 2, tries, AT, tries == 0 ? "" : "answered 503", AT)),
        "UTC");
  }

  @Test
  void subscriptionsAreListedMadeAndEnded() {
    answers.put("/api/v1/subscriptions", List.of(subscription("on", "", 4)));
    assertThat(run(new SubscriptionsCommand()))
        .containsPattern("3 +ola +runs, files +stream fuel/bunkering, failed +https://tickets")
        .contains("runs at 7, tried 4 times: answered 503");
    answers.put("/api/v1/subscriptions", List.of(subscription("over", "ended by ola", 0)));
    assertThat(run(new SubscriptionsCommand())).containsPattern("over +ended by ola");
    answers.put("/api/v1/subscriptions", subscription("on", "", 0));
    asked.clear();
    assertThat(
            run(
                new SubscriptionsCommand(),
                "add",
                "--topic",
                "runs,files",
                "--to",
                "https://tickets.example/in",
                "--asks-first"))
        .contains("runs at 7");
    assertThat(asked.get(0))
        .contains("\"topics\":[\"runs\",\"files\"]")
        .contains("\"asksFirst\":true");
    answers.put("/api/v1/subscriptions/3", subscription("over", "ended by ola", 0));
    assertThat(run(new SubscriptionsCommand(), "end", "3")).contains("subscription 3 is over");
    assertThat(run(new SubscriptionsCommand(), "add", "--topic", "runs")).contains("Missing");
  }

  @Test
  void eventsArePrintedInOrder() {
    answers.put(
        "/api/v1/events",
        new EventViews.EventsView(
            9,
            List.of(
                new EventViews.EventView(
                    9,
                    AT,
                    "runs",
                    "run.failed",
                    "s/j@2027-03-04#1",
                    "s",
                    "failed",
                    Map.of("note", "exit code 3"),
                    "UTC"))));
    assertThat(run(new EventsCommand(), "runs", "--after", "9", "--kind", "failed"))
        .containsPattern("9 +2027-03-04 18:00:00 +run.failed +s/j@2027-03-04#1 +exit code 3");
    assertThat(asked.get(0)).contains("topic=runs").contains("kind=failed");
    assertThat(run(new EventsCommand())).contains("TOPIC");
  }

  @Test
  void limitsAndWhatWasDoneToManyAreTables() {
    answers.put(
        "/api/v1/alert-limits",
        List.of(new AlertViews.LimitView("way mail", "an hour", true, 60, 7, 2)));
    assertThat(run(new AlertCommands(), "limits"))
        .containsPattern("way mail +an hour +yes +60 +7 +2");
    answers.put(
        "/api/v1/alerts/actions",
        List.of(
            new AlertViews.AlertDone(1, "A", "acknowledged", ""),
            new AlertViews.AlertDone(2, "B", "closed", "the alert is closed already")));
    assertThat(run(new AlertCommands(), "acknowledge", "1", "2", "--with-parts"))
        .containsPattern("1 +acknowledged +A")
        .containsPattern("2 +closed +B +the alert is closed already");
    assertThat(asked.get(asked.size() - 1))
        .contains("\"ids\":[1,2]")
        .contains("\"withParts\":true");
  }
}
