package dev.purser.service.mail;

import dev.purser.core.mail.Mail;
import dev.purser.service.board.Engine;
import dev.purser.service.output.OutputStore;
import dev.purser.service.result.ResultFiles;
import dev.purser.service.result.Results;
import dev.purser.service.run.RunRecords;
import dev.purser.service.work.Attempt;
import jakarta.mail.MessagingException;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.util.Optional;
import org.springframework.core.io.ByteArrayResource;
import org.springframework.mail.javamail.MimeMessageHelper;
import org.springframework.stereotype.Component;

/** What other runs have made, as files that go with a mail. */
@Component
class Attachments {
  private static final int MOST_BYTES = 10_000_000;

  private final Engine engine;
  private final Results results;
  private final OutputStore outputs;
  private final RunRecords runs;

  Attachments(Engine engine, Results results, OutputStore outputs, RunRecords runs) {
    this.engine = engine;
    this.results = results;
    this.outputs = outputs;
    this.runs = runs;
  }

  /**
   * Adds them to a mail.
   *
   * @throws IOException where one is not there, or too large
   */
  void add(Attempt attempt, Mail mail, MimeMessageHelper helper)
      throws IOException, MessagingException {
    for (Mail.Attachment one : mail.attached()) {
      long run =
          engine
              .look(board -> board.meant(attempt.id(), one.job()))
              .orElseThrow(() -> new IOException("there is no run of " + one.job() + " to attach"));
      byte[] bytes = one.result() == 0 ? output(run, one) : rows(run, one);
      helper.addAttachment(one.name(), new ByteArrayResource(bytes));
    }
  }

  private byte[] output(long run, Mail.Attachment one) throws IOException {
    int attempt = runs.byId(run).map(row -> row.attempts).orElse(0);
    OutputStore.Piece piece = outputs.read(run, attempt, 0, MOST_BYTES);
    if (piece.kept() > MOST_BYTES) {
      throw tooLarge("the output of " + one.job());
    }
    return piece.data();
  }

  private byte[] rows(long run, Mail.Attachment one) throws IOException {
    Optional<Results.Result> result = results.of(run, 0, one.result());
    if (result.isEmpty()) {
      throw new IOException(one.job() + " has no result " + one.result() + " to attach");
    }
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    OutputStream bounded =
        new OutputStream() {
          @Override
          public void write(int one) throws IOException {
            bytes.write(one);
          }

          @Override
          public void write(byte[] some, int from, int count) throws IOException {
            if (bytes.size() + count > MOST_BYTES) {
              throw tooLarge("result " + one.result() + " of " + one.job());
            }
            bytes.write(some, from, count);
          }
        };
    try (Writer out = new OutputStreamWriter(bounded, StandardCharsets.UTF_8)) {
      ResultFiles.csv(results, run, result.get(), out);
    }
    return bytes.toByteArray();
  }

  private static IOException tooLarge(String what) {
    return new IOException(what + " is larger than a mail may be (10 MB)");
  }
}
