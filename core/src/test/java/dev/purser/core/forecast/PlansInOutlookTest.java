package dev.purser.core.forecast;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.board.Pier;
import dev.purser.core.event.BoardEvent;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** What people have planned is known to forecasts: a host that will be drained for a while. */
class PlansInOutlookTest {
  private static final String JOBS =
      """
      load: { host: quay-north, run: x, usually: 10m to 10m }
      send: { host: quay-north, run: x, usually: 5m to 5m, waits-for: load succeeded, finish-by: "22:00" }
      free: { host: quay-south, run: x, usually: 5m to 5m }
      """;

  private static List<BoardEvent> drain(int from, int to) {
    return List.of(
        new BoardEvent.HostDrained(Pier.minute(from), "quay-north", "new disks"),
        new BoardEvent.HostReturned(Pier.minute(to), "quay-north"));
  }

  private static RunOutlook of(Pier pier, List<BoardEvent> planned, String job) {
    return new Outlook(pier.board, new UsualOutcomes(History.NONE.planning(planned)), 3)
        .play(List.of(), 20, Pier.minute(24 * 60)).stream()
            .filter(one -> one.run().run().reference().job().equals(job))
            .findFirst()
            .orElseThrow();
  }

  /** What runs already goes on; what is to start waits until the host is back. */
  @ParameterizedTest
  @CsvSource({"5, 60, 65", "10, 20, 25", "20, 60, 15", "0, 40, 55", "1, 12, 17"})
  void whatIsToStartWaitsUntilTheHostIsBack(int from, int to, int end) {
    Pier pier = new Pier(JOBS);
    if (from > 0) {
      pier.at(0).begin("load");
    } else {
      from = -1;
    }
    List<BoardEvent> planned = from < 0 ? List.of(drain(0, to).get(1)) : drain(from, to);
    if (from < 0) {
      pier.board.apply(new BoardEvent.HostDrained(pier.board.now(), "quay-north", "new disks"));
      pier.at(0);
    }
    assertThat(of(pier, planned, "send").end()).isEqualTo(Pier.minute(end));
    assertThat(of(pier, planned, "free").end()).isEqualTo(Pier.minute(5));
  }

  @Test
  void hoursAheadItIsKnownToBeLate() {
    Pier pier = new Pier(JOBS);
    pier.at(0).begin("load");
    assertThat(of(pier, List.of(), "send").chanceLate()).isZero();
    assertThat(of(pier, drain(5, 120), "send").chanceLate()).isEqualTo(1);
  }

  /** What was planned for a time that is past has happened, or has not. */
  @Test
  void whatIsPastIsNotPlayed() {
    Pier pier = new Pier(JOBS);
    pier.at(0).begin("load").at(8);
    assertThat(of(pier, drain(5, 120).subList(0, 1), "send").end()).isEqualTo(Pier.minute(15));
  }
}
