package dev.purser.core.board;

import static org.assertj.core.api.Assertions.assertThat;

import dev.purser.core.event.BoardEvent;
import dev.purser.core.run.Action;
import java.util.Set;
import org.junit.jupiter.api.Test;

/** Of what it comes that a run waits, or has failed: down to the first that has no other reason. */
class AlertCauseTest {
  private final Pier pier =
      new Pier(
          """
          load: { host: quay-south, run: x, takes: { ledger-slots: 1 } }
          other: { host: quay-north, run: x, takes: { ledger-slots: 1 } }
          second: { host: quay-north, run: x, waits-for: load succeeded }
          third: { host: quay-north, run: x, waits-for: second succeeded }
          feed: { host: quay-north, run: x, waits-for: file harbour-feed arrived }
          either: { host: quay-north, run: x, waits-for: second succeeded or feed succeeded }
          """);

  private String cause(String job) {
    long run = pier.id(job);
    return AlertCause.of(run, pier.board.why(run), pier.board);
  }

  private String run(String job) {
    return AlertCause.RUN + pier.id(job);
  }

  @Test
  void whatWaitsForARunComesOfTheFirstOfThem() {
    pier.at(0);
    pier.begin("load");
    assertThat(cause("third")).isEqualTo(run("load"));
    pier.end("load", 3);
    assertThat(cause("second")).isEqualTo(run("load"));
    assertThat(cause("third")).isEqualTo(run("load"));
    assertThat(cause("load")).as("a failure of its own").isEmpty();
  }

  @Test
  void whatWaitsForAFileComesOfTheFile() {
    pier.at(0);
    assertThat(cause("feed")).isEqualTo("file harbour-feed");
  }

  @Test
  void whatRunsOnAHostThatIsAwayComesOfTheHostAndSoDoesWhatWaitsForIt() {
    pier.at(0);
    pier.begin("load");
    pier.apply(new BoardEvent.HostLost(pier.board.now(), "quay-south"));
    assertThat(cause("load")).isEqualTo("host quay-south");
    assertThat(cause("third")).isEqualTo("host quay-south");
    pier.apply(new BoardEvent.HostSeen(pier.board.now(), "quay-south", Set.of()));
    assertThat(cause("load")).isEmpty();
  }

  @Test
  void whatIsHeldComesOfNothingElse() {
    pier.act("other", Action.HOLD);
    pier.at(0);
    assertThat(cause("other")).isEmpty();
  }
}
