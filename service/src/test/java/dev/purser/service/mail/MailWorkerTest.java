package dev.purser.service.mail;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import dev.purser.core.check.DefinitionCheck;
import dev.purser.core.definition.Definitions;
import dev.purser.core.event.BoardEvent;
import dev.purser.core.reading.SourceFile;
import dev.purser.core.run.Ending;
import dev.purser.core.run.RunState;
import dev.purser.outside.Sink;
import dev.purser.service.OnRuns;
import dev.purser.service.action.Actions;
import dev.purser.service.action.Start;
import dev.purser.service.audit.AuditTrail;
import dev.purser.service.board.Engine;
import dev.purser.service.connection.Connections;
import dev.purser.service.output.OutputStore;
import dev.purser.service.publish.Publisher;
import dev.purser.service.result.Results;
import dev.purser.service.work.Attempt;
import dev.purser.service.work.BegunAttempts;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.springframework.beans.factory.annotation.Autowired;
import org.springframework.mail.javamail.JavaMailSender;
import org.springframework.mail.javamail.JavaMailSenderImpl;

/** Mails as steps, to a real SMTP server that is a stand-in. */
class MailWorkerTest extends OnRuns {
  private static final AuditTrail.Actor IDA = new AuditTrail.Actor("ida", "127.0.0.1");
  private static final LocalDate DATE = LocalDate.of(2027, 5, 4);

  @Autowired private MailWorker worker;
  @Autowired private Connections connections;
  @Autowired private BegunAttempts records;
  @Autowired private Results results;
  @Autowired private OutputStore outputs;
  @Autowired private Engine engine;
  @Autowired private Publisher publisher;
  @Autowired private Actions actions;
  @Autowired private JavaMailSender sender;

  private Sink sink;
  private int before;

  @BeforeEach
  void open() throws IOException {
    sink = new Sink(0, 0);
    before = ((JavaMailSenderImpl) sender).getPort();
    ((JavaMailSenderImpl) sender).setPort(sink.smtpPort());
    engine.tell(now -> new BoardEvent.HostSeen(now, "letterbox", Set.of())).join();
    String text =
        """
        host: letterbox
        ---
        stream: mail/report
        parameters: { to: "port@brannoch.example, office@brannoch.example", what: "x" }
        jobs:
          count: { host: letterbox, run: x }
          tell:
            mail: ${to}
            subject: Takings of ${date}, ${what}
            text: |
              ${value total of count} in all.
            attach: [output of count as count.log, result 1 of count]
            waits-for: count succeeded
        """;
    Publisher.Outcome outcome =
        publisher.publish(List.of(new SourceFile("a.yaml", text)), Optional.empty(), IDA, "test");
    assertThat(outcome.problems()).isEmpty();
  }

  @AfterEach
  void close() {
    ((JavaMailSenderImpl) sender).setPort(before);
    sink.close();
  }

  private List<Long> started(Map<String, String> parameters) {
    Start start = new Start("mail/report", Optional.empty(), false, DATE, parameters, Set.of());
    return actions.start(start, Optional.empty(), IDA, "");
  }

  private long counted(Map<String, String> parameters) {
    List<Long> runs = started(parameters);
    long count = runs.get(0);
    engine.tell(now -> new BoardEvent.AttemptBegan(now, count, 1)).join();
    byte[] said = "counted\n".getBytes(StandardCharsets.UTF_8);
    outputs.keep(
        dev.purser.core.job.Where.onHost("letterbox"), count, 1, 0, said, true, said.length);
    Results.Writer writer = results.begin(count, 1, 1, List.of("deck", "n"));
    writer.add(Arrays.asList("car, deck", 3));
    writer.end(1);
    engine
        .tell(
            now ->
                new BoardEvent.AttemptEnded(
                    now, count, 1, Ending.exited(0), now, Map.of("total", "7")))
        .join();
    return runs.get(1);
  }

  @Test
  void itGoesOverTheServerOfAConnectionAndNamesWhoSignsIn() throws IOException {
    try (Sink other = new Sink(0, 0)) {
      String text =
          """
          connection: port-mail
          address: smtp://127.0.0.1:%d
          user: tickets@brannoch.example
          bears-outage: 2s
          ---
          stream: mail/over
          jobs:
            tell: { mail: port@brannoch.example, over: port-mail, subject: Hello, text: x }
          """
              .formatted(other.smtpPort());
      Publisher.Outcome outcome =
          publisher.publish(List.of(new SourceFile("b.yaml", text)), Optional.empty(), IDA, "test");
      assertThat(outcome.problems()).isEmpty();
      Start start = new Start("mail/over", Optional.empty(), false, DATE, Map.of(), Set.of());
      ends(actions.start(start, Optional.empty(), IDA, "").get(0), RunState.SUCCEEDED);
      assertThat(other.letters().get(0).text()).contains("From: tickets@brannoch.example");
      assertThat(sink.letters()).isEmpty();
      assertThat(connections.tryOut("port-mail", "").orElseThrow().good()).isTrue();
    }
    Start start = new Start("mail/over", Optional.empty(), false, DATE, Map.of(), Set.of());
    long away = actions.start(start, Optional.empty(), IDA, "").get(0);
    ends(away, RunState.FAILED);
    assertThat(status(away).note()).contains("cannot be reached");
    assertThat(connections.tryOut("port-mail", "").orElseThrow().good()).isFalse();
  }

  @Test
  void itSaysWhatOtherRunsFoundAndTakesTheirFilesAlong() {
    long run = counted(Map.of());
    ends(run, RunState.SUCCEEDED);
    assertThat(sink.letters()).hasSize(2);
    String text = sink.letters().get(0).text();
    assertThat(text)
        .contains("Subject: Takings of 2027-05-04, x")
        .contains("7 in all.")
        .contains("count.log")
        .contains("count.csv");
    assertThat(status(run).values())
        .containsEntry("sent-to", "port@brannoch.example, office@brannoch.example");
  }

  @ParameterizedTest
  @CsvSource({"'nobody'", "'a@b.example>, c@d.example'", "'a@b.example\nBcc: evil@x.example'"})
  void whatIsNotAnAddressIsNotWrittenTo(String to) {
    long run = counted(Map.of("to", to));
    ends(run, RunState.FAILED);
    assertThat(status(run).note()).contains("is not an address of mail");
    assertThat(sink.letters()).isEmpty();
  }

  @Test
  void aSubjectStaysOneLine() {
    long run = counted(Map.of("what", "x\r\nBcc: evil@x.example"));
    ends(run, RunState.SUCCEEDED);
    assertThat(sink.letters()).hasSize(2);
    assertThat(sink.letters().get(0).text()).doesNotContain("\nBcc:");
  }

  @Test
  void aMailServerThatIsAwayIsWaitedFor() throws IOException {
    ((JavaMailSenderImpl) sender).setPort(1);
    long run = counted(Map.of());
    await().atMost(SOON).until(() -> status(run).note().contains("cannot be reached"));
    assertThat(state(run)).isEqualTo(RunState.STARTING);
    ((JavaMailSenderImpl) sender).setPort(sink.smtpPort());
    ends(run, RunState.SUCCEEDED);
    assertThat(sink.letters()).hasSize(2);
  }

  @Test
  void cutOffInTheMiddleItIsLostAndNotSentAgain() {
    ((JavaMailSenderImpl) sender).setPort(1);
    long run = counted(Map.of());
    await().atMost(SOON).until(() -> status(run).note().contains("cannot be reached"));
    worker.letGo();
    records.begin(run, 1); // as it was when Purser was killed
    ((JavaMailSenderImpl) sender).setPort(sink.smtpPort());
    worker.takeUp(
        engine.look(
            board -> new Attempt(board.run(run).orElseThrow(), board.status(run).orElseThrow())));
    ends(run, RunState.FAILED);
    assertThat(status(run).note())
        .contains("was lost")
        .contains("nobody knows whether it has gone");
    assertThat(sink.letters()).isEmpty();
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "mail: nobody, subject: x                      | is not an address of mail",
        "mail: a@b.example                             | a mail needs a \"subject\"",
        "mail: a@b.example, subject: x, attach: log of y | cannot read \"log of y\"",
        "mail: a@b.example, subject: x, attach: output of nobody | unknown job or stream \"nobody\"",
        "mail: a@b.example, subject: x, host: y        | leave \"host\" out"
      })
  void whatIsWrongIsSaid(String keys, String said) {
    String text = "stream: mail/x\njobs:\n  a: { " + keys + " }\n";
    assertThat(
            DefinitionCheck.check(Definitions.none(), List.of(new SourceFile("a", text)), DATE)
                .problems()
                .toString())
        .contains(said);
  }
}
