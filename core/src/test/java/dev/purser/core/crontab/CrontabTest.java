package dev.purser.core.crontab;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.board.Pier;
import dev.purser.core.definition.Definitions;
import dev.purser.core.definition.Stream;
import dev.purser.core.job.Command;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class CrontabTest {
  private static final String FILE =
      """
      # nightly work of the depot
      MAILTO=depot@brannoch.example
      PATH=/usr/bin:/bin
      15 3 * * 1-5   /opt/depot/count-tanks.sh --all
      DECK="upper deck"
      0 6,18 1 * *   cd /srv && ./load-labels.sh "${DECK}" \\%d
      @daily         /opt/depot/count-tanks.sh
      CRON_TZ=UTC
      */15 * * * *   ./watch.sh

      61 3 * * *     /bin/never
      0 4 * * *      mail -s done ops%All done%
      @reboot        /bin/once
      0 4 * *
      """;

  @Test
  void eachLineBecomesAStreamOfOneJobWithItsEnvironment() {
    Crontab.Imported imported = Crontab.read(FILE, "depot", "quay-north", "Europe/Oslo");
    assertThat(imported.jobs()).isEqualTo(4);
    Definitions definitions = Pier.read("host: quay-north\n", imported.yaml());
    assertThat(definitions.streams())
        .extracting(Stream::path)
        .containsExactly(
            "depot/count-tanks", "depot/count-tanks-2", "depot/load-labels", "depot/watch");
    Stream count = definitions.stream("depot/count-tanks").orElseThrow();
    assertThat(count.schedule())
        .extracting(Object::toString)
        .containsExactly("weekdays, 03:15 Europe/Oslo");
    assertThat(count.jobs().get(0).environment())
        .containsExactlyInAnyOrderEntriesOf(java.util.Map.of("PATH", "/usr/bin:/bin"));
    Stream load = definitions.stream("depot/load-labels").orElseThrow();
    assertThat(((Command) load.jobs().get(0).work()).line())
        .isEqualTo("cd /srv && ./load-labels.sh \"$${DECK}\" %d");
    assertThat(load.jobs().get(0).environment()).containsEntry("DECK", "upper deck");
    assertThat(definitions.stream("depot/watch").orElseThrow().schedule().get(0).zone().getId())
        .isEqualTo("UTC");
  }

  @Test
  void whatCouldNotBeTakenIsSaidWithItsLineAndReason() {
    Crontab.Imported imported = Crontab.read(FILE, "depot", "quay-north", "Europe/Oslo");
    assertThat(imported.problems())
        .extracting(problem -> problem.line() + " " + problem.taken() + " " + problem.reason())
        .satisfiesExactly(
            p -> assertThat(p).startsWith("2 true alerts go to recipients"),
            p ->
                assertThat(p)
                    .startsWith("11 false these are not the five fields of a POSIX crontab"),
            p -> assertThat(p).startsWith("12 false it gives the command standard input"),
            p -> assertThat(p).startsWith("13 false @reboot is not a time of day"),
            p -> assertThat(p).startsWith("14 false expected five fields and a command"));
  }

  /** A zone that is not one would make a schedule of it that nobody asked for. */
  @Test
  void anUnknownZoneIsNotTaken() {
    Crontab.Imported imported =
        Crontab.read("CRON_TZ=Europe/Olso\n0 6 * * * x\n", "depot", "quay-north", "UTC");
    assertThat(imported.problems())
        .extracting(Crontab.Problem::reason)
        .containsExactly(
            "unknown time zone \"Europe/Olso\"; did you mean \"Europe/Oslo\"?; the times of the"
                + " lines below are meant in UTC");
    assertThat(imported.yaml()).contains("zone: UTC");
  }

  @ParameterizedTest
  @CsvSource({
    "De pot, quay-north, UTC, beginning of streams' names",
    "depot, 'q, run: evil', UTC, a host's name",
    "depot, quay-north, Mars/Base, unknown time zone",
    "depot, quay-north, 'UTC, at: x', unknown time zone"
  })
  void whatIsGivenBesideItIsLookedAt(String prefix, String host, String zone, String said) {
    assertThatThrownBy(() -> Crontab.read("0 6 * * * x\n", prefix, host, zone))
        .isInstanceOf(IllegalArgumentException.class)
        .hasMessageContaining(said);
  }
}
