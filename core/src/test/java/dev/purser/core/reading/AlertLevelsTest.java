package dev.purser.core.reading;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.alert.AlertLevel;
import dev.purser.core.alert.MessageLimits;
import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.AlertRules;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Kind;
import dev.purser.core.definition.Level;
import dev.purser.core.definition.Way;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Rules of watches and host groups, limits of the site, and the newer ways. */
class AlertLevelsTest {
  private static DefinitionCheck.Result check(String text) {
    return DefinitionCheck.check(
        Definitions.none(), List.of(new SourceFile("a.yaml", text)), LocalDate.of(2027, 3, 4));
  }

  private static Definitions sound(String text) {
    DefinitionCheck.Result result = check(text);
    assertThat(result.isSound()).as("" + result.problems()).isTrue();
    return result.definitions();
  }

  @Test
  void aWatchAndAGroupHaveRulesThatAreNearerThanTheSites() {
    Definitions all =
        sound(
            """
            alerts-of: site
            alerts: [ { kind: file, urgency: note }, { kind: host, urgency: note } ]
            ---
            host: pier
            labels: [quay]
            ---
            host: depot
            ---
            recipient: desk
            mail: [desk@b.example]
            ---
            host-group: quays
            labels: [quay]
            alerts: [ { kind: host, urgency: urgent, tell: [desk] } ]
            ---
            host-group: all
            hosts: [pier, depot]
            ---
            file-watch: feed
            host: pier
            path: /in/*.csv
            alerts: [ { kind: file, none: yes } ]
            ---
            file-watch: other
            host: pier
            path: /in/*.txt
            """);
    AlertRules rules = all.alertRules();
    assertThat(origin(rules.ofHost("pier").get(AlertKind.HOST))).isEqualTo("host group quays");
    assertThat(rules.ofHost("pier").get(AlertKind.HOST).rule().tell()).containsExactly("desk");
    assertThat(origin(rules.ofHost("depot").get(AlertKind.HOST))).isEqualTo("site");
    assertThat(origin(rules.ofHost("gone").get(AlertKind.HOST))).isEqualTo("site");
    AlertRules.Effective feed = rules.of(all.fileWatch("feed").orElseThrow()).get(AlertKind.FILE);
    assertThat(feed.isOff()).isTrue();
    assertThat(feed.origin()).isEqualTo("file watch feed");
    assertThat(origin(rules.of(all.fileWatch("other").orElseThrow()).get(AlertKind.FILE)))
        .isEqualTo("site");
  }

  private static String origin(AlertRules.Effective effective) {
    return effective.origin();
  }

  @Test
  void theSiteHasLimitsOfItsOwnAndByWay() {
    AlertLevel site =
        (AlertLevel)
            sound(
                    """
                    alerts-of: site
                    at-most: { an-hour: 200, urgent-an-hour: 50 }
                    by-way: { mail: { a-day: 1000 }, command: { an-hour: 5 } }
                    """)
                .document(Kind.ALERTS, Level.SITE)
                .orElseThrow()
                .value();
    assertThat(site.atMost()).isEqualTo(new MessageLimits(200, 0, 0, 50));
    assertThat(site.byWay())
        .isEqualTo(
            Map.of(
                "mail", new MessageLimits(0, 1000, 0, 0),
                "command", new MessageLimits(5, 0, 0, 0)));
  }

  @Test
  void aCommandAndAMailInOwnWordsAreWays() {
    List<Way> ways =
        sound(
                """
                host: pier
                ---
                recipient: desk
                mail: [desk@b.example]
                mail-words: { subject: "${title} (${urgency})", text: "${text}\\n${output}" }
                command: { host: pier, run: "logger -t purser", user: app }
                """)
            .recipient("desk")
            .orElseThrow()
            .ways();
    assertThat(ways.get(0).options())
        .isEqualTo(Map.of("subject", "${title} (${urgency})", "text", "${text}\n${output}"));
    assertThat(ways.get(1))
        .isEqualTo(
            new Way(
                "command",
                "pier: logger -t purser",
                Map.of("host", "pier", "run", "logger -t purser", "user", "app")));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          alerts-of: site                                                          | it says nothing; expected "alerts"
          alerts-of: department A, at-most: { an-hour: 1 }                         | not of department A
          alerts-of: site, by-way: { pigeon: { an-hour: 1 } }                      | pigeon
          alerts-of: site, at-most: { an-hour: 0 }                                 | 1 to 100000
          host-group: g, hosts: [h], alerts: [ { kind: failed } ]                  | a host group has alerts of kind host only, not failed
          file-watch: w, host: h, path: /a/b, alerts: [ { kind: late } ]           | a file watch has alerts of kind file only, not late
          recipient: r, command: { host: h }                                       | run
          recipient: r, command: { host: nowhere, run: x }                         | nowhere
          recipient: r, command: { host: h, run: "echo ${title}" }                 | nothing is filled into the command
          recipient: r, mail: [a@b.c], mail-words: { text: "${nothing}" }          | nobody fills ${nothing}
          recipient: r, mail-words: { text: x }, chat: { address: "https://c.d/e" } | there is no "mail" that this could be for
          alerts-of: site, alerts: [ { kind: value, unusual: rows, when: value rows < 1 } ] | a rule has "when" or "unusual"
          alerts-of: site, alerts: [ { kind: value, unusual: rows, beyond: much } ] | expected 0 % to 1000 %
          alerts-of: site, alerts: [ { kind: value, when: value rows < 1, beyond: 1 % } ] | "beyond" goes with "unusual" only
          alerts-of: site, alerts: [ { kind: failed, unusual: rows } ]             | "unusual" goes with kind: value only
          alerts-of: site, alerts: [ { kind: long-running, longer-than-runs: 100 % } ] | expected a share of the last runs, 1 to 99 %
          alerts-of: site, alerts: [ { kind: late, longer-than-runs: 95 % } ]      | "longer-than-runs" goes with kind: long-running
          alerts-of: site, alerts: [ { kind: long-running, longer-than: 5m, longer-than-runs: 95 % } ] | where there is no "longer-than"
          alerts-of: site, alerts: [ { kind: acted-on, do: { rerun: 1 } } ]        | a rule of kind acted-on only tells
          """)
  void whatIsWrongIsSaid(String text, String expected) {
    DefinitionCheck.Result result = check("host: h\n---\n{ " + text + " }");
    assertThat(result.problems())
        .anySatisfy(one -> assertThat(one.message()).contains(expected.strip()));
    assertThat(result.isSound()).isFalse();
  }
}
