package dev.purser.core.reading;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.alert.AlertText;
import dev.purser.core.alert.Urgency;
import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Recipient;
import dev.purser.core.definition.Way;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

class RecipientReaderTest {
  private static DefinitionCheck.Result check(String text) {
    return DefinitionCheck.check(
        Definitions.none(),
        List.of(new SourceFile("a.yaml", text.replace("\\n", "\n"))),
        LocalDate.of(2027, 3, 4));
  }

  @Test
  void allWaysAreRead() {
    DefinitionCheck.Result result =
        check(
            """
            recipient: desk
            mail: [desk@b.example]
            webhook: https://hooks.example/in
            webhook-options: { mode: binary, signed-by: night-hook, asks-first: yes }
            chat: { address: "https://chat.example/x/", body: '{"text": "${title}", "n": ${count}}', address-secret: chat-room }
            traps: { address: monitor.example, version: v3, user: purser, signed-by: a, sealed-by: b }
            when-over: yes
            zone: Europe/Oslo
            quiet: [ { from: "22:00", to: "06:00", but: warning } ]
            at-most: { an-hour: 10, urgent-an-hour: 5 }
            """);
    assertThat(result.problems()).isEmpty();
    Recipient desk = result.definitions().recipient("desk").orElseThrow();
    assertThat(desk.ways())
        .extracting(Way::channel)
        .containsExactly("mail", "webhook", "chat", "traps");
    assertThat(desk.ways().get(1).options())
        .containsEntry("mode", "binary")
        .containsEntry("signed-by", "night-hook")
        .containsEntry("asks-first", "yes");
    assertThat(desk.ways().get(3).address()).isEqualTo("monitor.example:162");
    assertThat(desk.atMost()).isEqualTo(new dev.purser.core.alert.MessageLimits(10, 0, 0, 5));
    assertThat(desk.whenOver()).isTrue();
    Instant night = Instant.parse("2027-03-04T22:30:00Z");
    assertThat(desk.quietUntil(night, Urgency.NOTE))
        .contains(Instant.parse("2027-03-05T05:00:00Z"));
    assertThat(desk.quietUntil(night, Urgency.WARNING)).isEmpty();
    assertThat(desk.quietUntil(Instant.parse("2027-03-05T05:00:00Z"), Urgency.NOTE)).isEmpty();
    assertThat(desk.quietUntil(Instant.parse("2027-03-28T00:30:00Z"), Urgency.NOTE))
        .as("the clocks go forward")
        .contains(Instant.parse("2027-03-28T04:00:00Z"));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          mail: not-one                                        | is not an e-mail address
          mail: "a@b.example>"                                 | is not an e-mail address
          webhook: ftp://x                                     | expected an http:// or https:// address
          webhook: http://u:p@x/                               | without a user or password in it
          webhook-options: { mode: binary }                    | there is no "webhook"
          webhook: http://x\\nwebhook-options: { mode: both }  | unknown mode "both"
          webhook: http://x\\nwebhook-options: { signed-by: S! } | is the name of a secret's file
          chat: { address: "http://x", body: '{"a": "${titel}"}' } | nobody fills ${titel}
          chat: { address: "http://x", body: '{"a": ${title}}' } | the body is not valid JSON
          chat: { address: "http://x", body: '{"a": "b"' }     | the body is not valid JSON
          chat: { body: '{}' }                                 | has no "address"
          traps: { address: "a b" }                            | expected a host, or HOST:PORT
          traps: { address: x, version: v1 }                   | unknown version "v1"
          traps: { address: x, version: v3 }                   | version v3 needs a "user"
          traps: { address: x, version: v3, user: u, sealed-by: s } | "signed-by" is missing
          traps: { address: x, user: u }                       | does not go with version v2c
          quiet: [ { from: "22:00", to: "06:00" } ]            | "quiet" needs "zone"
          zone: UTC\\nquiet: [ { from: "22:00", to: "06:00", but: note } ] | expected warning or urgent
          at-most: { an-hour: 0 }                              | a whole number from 1
          members: [nobody]                                    | unknown recipient or duty "nobody"
          members: [desk]                                      | is a member of itself
          receives: [fail]                                     | unknown kind of alert "fail"
          """)
  void whatIsWrongIsSaid(String text, String message) {
    assertThat(check("recipient: desk\n" + text).problems())
        .anySatisfy(problem -> assertThat(problem.message()).contains(message));
  }

  /** Whatever a value is, the JSON stays JSON and says it. */
  @ParameterizedTest
  @ValueSource(
      strings = {
        "a\"b",
        "a\\b",
        "\"}, {\"x\": \"",
        "\u0000\u001f\u007f",
        "\ud800",
        "\u2028",
        "{}",
        "${title}"
      })
  void noValueBreaksTheJsonOfAChat(String value) {
    String body =
        AlertText.fillJson(
            "{\"text\": \"${title}\", \"n\": ${count}}",
            name -> name.equals("count") ? "3" : value);
    assertThat(AlertText.brokenJson(body.replace("$", ""))).isEmpty();
  }
}
