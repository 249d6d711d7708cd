package dev.purser.client;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.wire.api.AlertViews;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Alerts on the command line, against a service that says what the test wants. */
class AlertCommandsTest extends PlayedService {
  private static final Instant AT = Instant.parse("2027-03-04T22:10:00Z");

  private static AlertViews.AlertView alert(String state) {
    return new AlertViews.AlertView(
        12,
        "late",
        "Late",
        "urgent",
        "department Passenger services",
        state,
        "filed@2027-03-04",
        0,
        "",
        "The manifest is filed",
        "not done, although 22:00 was promised",
        "/commitments/filed/2027-03-04",
        AT,
        null,
        "",
        null,
        "",
        AT.plusSeconds(3_600),
        "run 7",
        0,
        3,
        "call the sender",
        List.of(
            new AlertViews.NoticeView(
                "chief", "all", "rule", "urgent", AT, AT.plusSeconds(60), "waits", "quiet time"),
            new AlertViews.NoticeView("desk", "", "rule", "urgent", AT, AT, "told", "")),
        List.of(
            new AlertViews.DeliveryView(
                "desk", "mail", "desk@b.example", "alert", "delivered", 1, AT, "250", ""),
            new AlertViews.DeliveryView(
                "desk", "webhook", "http://b.example", "alert", "pending", 3, null, "", "no")),
        List.of(
            new AlertViews.AlertStepView(
                AT, "opened", "will-be-late", "Will be late", "", "a chance"),
            new AlertViews.AlertStepView(AT, "changed", "late", "Late", "", "not done"),
            new AlertViews.AlertStepView(
                AT, "commented", "late", "Late", "ola", "the sender knows")),
        "UTC");
  }

  @Test
  void oneIsShownWithItsRecordAndWhomItReached() {
    answers.put("/api/v1/alerts/12", alert("open"));
    assertThat(run(new AlertCommands(), "show", "12"))
        .contains("The manifest is filed (filed@2027-03-04)")
        .contains("urgency: urgent; rule: department Passenger services")
        .containsPattern("opened as will-be-late: a chance")
        .containsPattern("changed as late: not done")
        .containsPattern("commented by ola: the sender knows")
        .contains("with 3 more: purser alerts --of 12")
        .contains("what to do: call the sender")
        .containsPattern("chief \\(by way of all\\) is told at .*: quiet time")
        .containsPattern("desk by mail desk@b.example, told at .*: 250")
        .contains("desk by webhook http://b.example, not told yet after 3 tries: no");
  }

  @Test
  void oneIsPutOffWithATimeAndAReason() {
    answers.put(
        "/api/v1/alerts/actions", List.of(new AlertViews.AlertDone(12, "Filed", "put off", "")));
    assertThat(
            run(
                new AlertCommands(),
                "put-off",
                "12",
                "--until",
                "2027-03-04T23:10:00Z",
                "--reason",
                "next shift"))
        .containsPattern("12 +put off +Filed");
    assertThat(asked.get(0))
        .contains("\"put-off\"")
        .contains("next shift")
        .contains("2027-03-04T23:10:00Z");
    assertThat(run(new AlertCommands(), "put-off", "12", "--until", "soon", "--reason", "x"))
        .contains("\"soon\" is not a time");
  }

  @Test
  void rulesSayWhatHoldsAndWhereItStands() {
    answers.put(
        "/api/v1/alert-rules",
        List.of(
            new AlertViews.AlertRuleView(
                "value",
                "Value",
                "job a/b",
                "value rows < 3",
                false,
                "urgent",
                List.of("desk"),
                "",
                List.of("after 15m: chief"),
                "10m",
                "reruns it, 2 times at the most"),
            new AlertViews.AlertRuleView(
                "started",
                "Started",
                "built in",
                "",
                true,
                "note",
                List.of(),
                "",
                List.of(),
                "",
                "")));
    assertThat(run(new AlertCommands(), "rules", "a/b"))
        .containsPattern(
            "value +urgent +value rows < 3 +desk +after 15m: chief; reminds every 10m; reruns it, 2"
                + " times at the most +job a/b")
        .containsPattern("started +none +.*built in");
    assertThat(asked.get(0)).startsWith("/api/v1/alert-rules?");
  }
}
