package dev.purser.service.agent;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.purser.core.board.Board;
import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.fill.Filling;
import dev.purser.core.fill.Unfillable;
import dev.purser.core.forecast.Outlook;
import dev.purser.core.plan.Planner;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.RunSpec;
import dev.purser.core.run.RunStatus;
import dev.purser.service.Settings;
import dev.purser.wire.agent.ToAgent;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.List;
import org.junit.jupiter.api.Test;

class StartMessagesTest {
  private static final LocalDate FRIDAY = LocalDate.of(2027, 3, 5);
  private final StartMessages messages =
      new StartMessages(
          new Settings(
              ZoneId.of("UTC"),
              5_000,
              Duration.ofDays(1),
              Duration.ofDays(1),
              0,
              Duration.ofDays(1),
              Duration.ofDays(1),
              Duration.ofDays(60),
              Duration.ofMinutes(2),
              "a@b.example",
              "",
              false,
              false,
              "http://x",
              Duration.ZERO,
              "",
              "",
              "",
              "",
              32473),
          null,
          null);

  private static Definitions definitions(String job) {
    String text =
        """
        host: quay-north
        ---
        holiday-calendar: brannoch
        holidays: [ { day: 2027-03-08, name: Founders' Day } ]
        ---
        business-calendar: office
        without: [brannoch]
        ---
        file-watch: feed
        host: quay-north
        path: /srv/in/feed-${date - 1 day | yyyyMMdd}.csv
        still-for: 4s
        minimum-size: 12
        ---
        stream: passenger/manifest
        calendar: office
        parameters: { deck: upper, car-deck: two }
        schedule: { days: every day, at: "21:30", zone: Europe/Oslo }
        jobs:
          build: %s
        """
            .formatted(job);
    return DefinitionCheck.check(
            Definitions.none(), List.of(new SourceFile("t.yaml", text)), FRIDAY)
        .definitions();
  }

  private ToAgent.Start start(String job) {
    Definitions definitions = definitions(job);
    Board board = board(definitions);
    return start(definitions, board);
  }

  private ToAgent.Start start(Definitions definitions, Board board) {
    RunSpec run = board.runs().get(0);
    RunStatus status = board.status(1).orElseThrow();
    return messages.start(new Filling(definitions, board, run, status), run, status, 1);
  }

  private static Board board(Definitions definitions) {
    RunSpec run = new RunSpec(1, new Planner(definitions).plan(FRIDAY).get(0), 0);
    Instant due = run.run().due();
    return Outlook.boardOf(definitions, List.of(run), due);
  }

  @Test
  void theCommandIsFilledInByTheStreamsOwnCalendar() {
    ToAgent.Start start =
        start(
            "{ host: quay-north, run: \"./build ${date} ${date + 1 business day} ${deck} ${job} ${attempt} ${host} ${run}\" }");
    assertThat(start.command())
        .isEqualTo(
            "./build 2027-03-05 2027-03-09 \"$PURSER_WORD_1\" build 1 \"$PURSER_WORD_2\""
                + " passenger/manifest/build@2027-03-05#1");
    assertThat(start.environment())
        .containsEntry("PURSER_WORD_1", "upper")
        .containsEntry("PURSER_WORD_2", "quay-north");
    assertThat(start.keepOutput()).isEqualTo(5_000);
    assertThat(start.attempt()).isEqualTo(1);
  }

  @Test
  void theEnvironmentHoldsWhatACommandMayWantToKnow() {
    ToAgent.Start start =
        start(
            "{ host: quay-north, run: x, directory: /srv, environment: { PIER: \"${deck} pier\" } }");
    assertThat(start.directory()).isEqualTo("/srv");
    assertThat(start.environment())
        .containsEntry("PIER", "upper pier")
        .containsEntry("PURSER_DATE", "2027-03-05")
        .containsEntry("PURSER_RUN", "passenger/manifest/build@2027-03-05#1")
        .containsEntry("PURSER_STREAM", "passenger/manifest")
        .containsEntry("PURSER_JOB", "build")
        .containsEntry("PURSER_ATTEMPT", "1")
        .containsEntry("PURSER_HOST", "quay-north")
        .containsEntry("PURSER_DECK", "upper")
        .containsEntry("PURSER_CAR_DECK", "two");
  }

  @Test
  void aValueThatIsMissingIsNamedAndACheckIsFilledIn() {
    assertThat(start("{ host: quay-north, run: x, only-if: \"./any ${deck}\" }").check())
        .isEqualTo("./any \"$PURSER_WORD_1\"");
    assertThatThrownBy(() -> start("{ host: quay-north, run: \"x ${value rows of build}\" }"))
        .isInstanceOf(Unfillable.class)
        .hasMessageContaining("build handed back no \"rows\"");
  }

  @Test
  void theFileThatARunHasWaitedForIsHandedOnAsAVariable() {
    Definitions definitions =
        definitions(
            "{ host: quay-north, run: \"load ${file.path} ${date}\", waits-for: file feed arrived"
                + " }");
    Board board = board(definitions);
    String path = "/srv/in/$(rm x) ${date}.csv";
    board.turn(new BoardEvent.FileArrived(board.now() + 1, 1, "feed", path));
    ToAgent.Start start = start(definitions, board);
    assertThat(start.command()).isEqualTo("load \"$PURSER_WORD_1\" 2027-03-05");
    assertThat(start.environment())
        .containsEntry("PURSER_WORD_1", path)
        .containsEntry("PURSER_FILE_PATH", path)
        .containsEntry("PURSER_FILE_FEED_NAME", "$(rm x) ${date}.csv");
  }
}
