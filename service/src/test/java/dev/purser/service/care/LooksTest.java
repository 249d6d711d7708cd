package dev.purser.service.care;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.alert.AlertKind;
import dev.purser.core.reading.SourceFile;
import dev.purser.service.OnDatabase;
import dev.purser.service.alert.SiteTrouble;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.publish.Publisher;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.springframework.beans.factory.annotation.Autowired;

/** What Purser says of itself, and when that is told as an alert. */
class LooksTest extends OnDatabase {
  private static final Instant NOW = Instant.parse("2027-03-04T05:00:00Z");

  @Autowired private List<Look> looks;
  @Autowired private FellowLook fellows;
  @Autowired private Engine engine;
  @Autowired private Publisher publisher;

  private final Hand hand = new Hand();

  /** A clock that is set by hand. */
  private static final class Hand extends Clock {
    private Instant now = NOW;

    @Override
    public ZoneId getZone() {
      return ZoneOffset.UTC;
    }

    @Override
    public Clock withZone(ZoneId zone) {
      return this;
    }

    @Override
    public Instant instant() {
      return now;
    }
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      textBlock =
          """
          500000000000 | 1000000000000 | good | 500.0 of 1000.0 GB are free
          99000000000  | 1000000000000 | look | 99.0 of 1000.0 GB are free
          19000000000  | 1000000000000 | bad  | 19.0 of 1000.0 GB are free
          400000000    | 2000000000    | bad  | 0.4 of 2.0 GB are free
          """)
  void aDiskIsJudgedByWhatIsFree(long free, long size, String level, String text) {
    Finding found = DiskLook.judge("disk", free, size);
    assertThat(found.level().word()).isEqualTo(level);
    assertThat(found.text()).isEqualTo(text);
  }

  @ParameterizedTest
  @CsvSource({
    "2027-06-01T00:00:00Z, good, it holds until",
    "2027-03-30T00:00:00Z, look, 25 days more",
    "2027-03-08T00:00:00Z, bad, 3 days more",
    "2027-03-04T05:00:00Z, bad, it has run out",
    "9999-12-31T23:59:59Z, good, it holds until"
  })
  void aCertificateIsToldOfBeforeItRunsOut(Instant until, String level, String text) {
    Finding found = CertificateLook.judge(until, NOW);
    assertThat(found.level().word()).isEqualTo(level);
    assertThat(found.text()).contains(text);
  }

  @Test
  void everythingCanBeLookedAt() {
    for (Look look : looks) {
      assertThat(Care.find(look))
          .as(look.about())
          .noneMatch(one -> one.text().startsWith("cannot be looked at"));
    }
    assertThat(looks.stream().filter(Look::isTold).map(Look::about))
        .contains("service", "database", "disk", "certificate", "services", "alerts");
  }

  @Test
  void whoHasTakenOverFromWhomAndWhoIsSilentIsSaid() {
    fellows.sign("quay-b:8087", true);
    fellows.sign();
    assertThat(fellows.find())
        .anySatisfy(one -> assertThat(one.text()).contains("has taken over from quay-b:8087 at"))
        .anySatisfy(one -> assertThat(one.about()).isEqualTo("standing by"));
  }

  @ParameterizedTest
  @CsvSource({
    "alerts, alerts by mail to a@b.example, LOOK, false",
    "alerts, alerts by mail to a@b.example, BAD, true",
    "service, service, LOOK, true",
    "service, service's memory, LOOK, false",
    "disk, service's disk, LOOK, true",
    "disk, service's disk, GOOD, false",
    "mail, mail, BAD, false"
  })
  void whatPassesByItselfIsNotTold(String look, String about, Finding.Level level, boolean told) {
    Look one = looks.stream().filter(any -> any.about().equals(look)).findFirst().orElseThrow();
    assertThat(one.isTold(new Finding(about, level, "text", "remedy"))).isEqualTo(told);
  }

  private static final class Fixed implements Look {
    private final List<Finding> found = new ArrayList<>();

    @Override
    public String about() {
      return "thing";
    }

    @Override
    public boolean isTold() {
      return true;
    }

    @Override
    public List<Finding> find() {
      if (found.isEmpty()) {
        throw new IllegalStateException("no idea");
      }
      return found;
    }
  }

  @Test
  void whatLastsForAMinuteIsToldToWhoeverAsksForItByName() {
    Publisher.Outcome outcome =
        publisher.publish(
            List.of(
                new SourceFile(
                    "a.yaml",
                    """
                    recipient: looks-admin
                    mail: [admin@looks.example]
                    receives: [service]
                    ---
                    recipient: looks-desk
                    mail: [desk@looks.example]
                    """)),
            Optional.empty(),
            new AuditTrail.Actor("ida", "127.0.0.1"),
            "test");
    assertThat(outcome.sound()).as("" + outcome.problems()).isTrue();
    Fixed thing = new Fixed();
    FindingTroubles troubles = new FindingTroubles(List.of(thing), engine, hand);
    assertThat(troubles.wrong()).isEmpty();
    hand.now = hand.now.plus(Duration.ofSeconds(61));
    assertThat(troubles.wrong())
        .singleElement()
        .satisfies(
            one -> {
              assertThat(one.kind()).isEqualTo(AlertKind.SERVICE);
              assertThat(one.text())
                  .isEqualTo("cannot be looked at: no idea. What to do: see the service's own log");
              assertThat(one.recipients()).contains("looks-admin").doesNotContain("looks-desk");
            });
    thing.found.add(Finding.look("thing", "is nearly full", "make room"));
    hand.now = hand.now.plus(Duration.ofSeconds(21));
    assertThat(troubles.wrong()).extracting(SiteTrouble::text).hasSize(1);
    thing.found.set(0, Finding.good("thing", "is well"));
    hand.now = hand.now.plus(Duration.ofSeconds(21));
    assertThat(troubles.wrong()).isEmpty();
  }
}
