package dev.purser.client;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.wire.api.Views;
import java.time.Instant;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Hosts, as the command prints them: all by one clock, which it names. */
class HostsCommandTest extends PlayedService {
  private static Views.HostView host(String name, String planned, Long ahead) {
    return new Views.HostView(
        name,
        name,
        List.of(),
        List.of("quays"),
        true,
        planned.isEmpty(),
        null,
        Instant.parse("2027-03-04T20:59:58Z"),
        "0.1.0",
        ahead,
        2,
        8,
        "",
        planned,
        new Views.MachineView(2, 0.25, 1_500_000_000, 3_000_000_000L, -1, 0),
        "Pacific/Kiritimati");
  }

  @Test
  void whatIsSaidOfThemGoesByTheSitesClock() {
    String planned = "to be drained from 2027-03-05 12:00 to 2027-03-05 14:00 by ada: new disks";
    answers.put("/api/v1/hosts", List.of(host("depot", planned, 61_000L), host("quay", "", null)));
    String text = run(new SiteCommands.Hosts());
    assertThat(text)
        .contains("last seen (Kiritimati)", "10:59:58")
        .doesNotContain("20:59:58")
        .contains("not connected, " + planned)
        .contains("2 of 8", "0.3 on 2", "1.5 GB (50 %)", "61 s ahead");
  }
}
